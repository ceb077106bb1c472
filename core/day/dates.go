package day

import "math"

// The ends of Dates that have none.
const (
	NoStart = Date(math.MinInt32)
	NoEnd   = Date(math.MaxInt32)
)

// Dates is a stretch of dates, both ends included, over which something holds. It is empty
// where To lies before From.
type Dates struct{ From, To Date }

// Always is every date.
var Always = Dates{NoStart, NoEnd}

// Since returns the dates from d on.
func Since(d Date) Dates { return Dates{d, NoEnd} }

// Has reports whether d is one of the dates.
func (s Dates) Has(d Date) bool { return d >= s.From && d <= s.To }

// Empty reports whether there is no date in it.
func (s Dates) Empty() bool { return s.To < s.From }

// Common returns the dates that both have.
func (s Dates) Common(o Dates) Dates { return Dates{max(s.From, o.From), min(s.To, o.To)} }

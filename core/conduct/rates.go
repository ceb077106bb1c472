package conduct

import (
	"fmt"
	"math"
	"math/big"

	"gonum.org/v1/gonum/mathext"

	"meldung/core/day"
)

// Rate is how many incidents there were on some student-days: enrolled students times school days.
type Rate struct {
	Incidents   int
	StudentDays int
	SchoolDays  int
}

// PerHundred writes the incidents for 100 student-days with two decimals, half away from zero; empty
// where there is no student-day.
func (r Rate) PerHundred() string {
	if r.StudentDays == 0 {
		return ""
	}
	return big.NewRat(int64(r.Incidents)*100, int64(r.StudentDays)).FloatString(2)
}

// Ratio is how many times as often something happened as something else.
type Ratio struct {
	Known bool
	Value float64
	Low   float64 // of the exact 95 % interval
	High  float64 // +Inf where nothing bounds it
}

// Compare returns the ratio of two rates with its exact 95 % interval, conditional on the sum of both
// counts (Clopper and Pearson 1934, The use of confidence or fiducial limits illustrated in the case of the
// binomial, Biometrika 26). It is not known where nothing happened in either, or one has no student-days.
func Compare(now, before Rate) Ratio {
	x, y := float64(now.Incidents), float64(before.Incidents)
	if now.StudentDays == 0 || before.StudentDays == 0 || x+y == 0 {
		return Ratio{}
	}
	times := float64(before.StudentDays) / float64(now.StudentDays)
	out := Ratio{Known: true, Value: math.Inf(1), High: math.Inf(1)}
	if y > 0 {
		out.Value = x / y * times
	}
	const tail = 0.025
	if x > 0 {
		p := mathext.InvRegIncBeta(x, y+1, tail)
		out.Low = p / (1 - p) * times
	}
	if y > 0 {
		p := mathext.InvRegIncBeta(x+1, y, 1-tail)
		out.High = p / (1 - p) * times
	}
	return out
}

// Verdict says in a word what a ratio shows.
func (r Ratio) Verdict() string {
	switch {
	case !r.Known:
		return "nothing to compare"
	case r.High < 1:
		return "fewer"
	case r.Low > 1:
		return "more"
	}
	return "could be chance"
}

// Words says the ratio with its interval: "0.45 times as often, 0.22 to 0.87".
func (r Ratio) Words() string {
	switch {
	case !r.Known:
		return ""
	case math.IsInf(r.Value, 1):
		return fmt.Sprintf("none before; %.2f times as often at least", r.Low)
	case math.IsInf(r.High, 1):
		return fmt.Sprintf("%.2f times as often, %.2f or more", r.Value, r.Low)
	}
	return fmt.Sprintf("%.2f times as often, %.2f to %.2f", r.Value, r.Low, r.High)
}

// Around returns as many school days before a date as from it on, as many as both sides have, of days in
// their order up to the last that counts. The first after side is the date itself or the first school day
// after it.
func Around(days []day.Date, change, last day.Date) (before, after []day.Date) {
	from, to := len(days), 0
	for i, d := range days {
		if d >= change {
			from = min(from, i)
		}
		if d <= last {
			to = i + 1
		}
	}
	n := min(from, to-from)
	if n <= 0 {
		return nil, nil
	}
	return days[from-n : from], days[from : from+n]
}

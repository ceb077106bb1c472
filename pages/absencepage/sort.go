package absencepage

import (
	"cmp"
	"math/big"

	"meldung/core/absence"
)

// ordered is what rows can be sorted by.
type ordered struct {
	row     AbsenceRow
	figures absence.Figures
}

// orders are by what rows can be sorted, the most first; those who are as much of it stay in the
// order of their nearness to the line.
var orders = map[string]func(a, b ordered) int{
	"rate":        func(a, b ordered) int { return share(b.figures).Cmp(share(a.figures)) },
	"missed":      func(a, b ordered) int { return cmp.Compare(b.figures.Absent, a.figures.Absent) },
	"excused":     func(a, b ordered) int { return cmp.Compare(b.figures.Excused, a.figures.Excused) },
	"unexcused":   func(a, b ordered) int { return cmp.Compare(b.figures.Unexcused, a.figures.Unexcused) },
	"unexplained": func(a, b ordered) int { return cmp.Compare(b.figures.Unexplained, a.figures.Unexplained) },
	"lates":       func(a, b ordered) int { return cmp.Compare(b.figures.Lates, a.figures.Lates) },
	"on-site":     func(a, b ordered) int { return cmp.Compare(b.row.OnSite, a.row.OnSite) },
	"time":        func(a, b ordered) int { return cmp.Compare(b.figures.MissedMinutes, a.figures.MissedMinutes) },
	"name":        func(a, b ordered) int { return cmp.Compare(a.row.Student.Sorted, b.row.Student.Sorted) },
}

// share is a rate, exactly; of nothing possible it is below every other.
func share(f absence.Figures) *big.Rat {
	if f.Possible == 0 {
		return big.NewRat(-1, 1)
	}
	return big.NewRat(int64(f.Absent), int64(f.Possible))
}

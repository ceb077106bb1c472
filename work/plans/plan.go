// Package plans is how what holds from a date on is changed: looked at first, with what it would
// change and which figures of the past would be others; then all of it or nothing. What held before
// stays, unless the past is corrected expressly.
package plans

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"slices"
	"strconv"

	"meldung/core/day"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
)

// Options say how files are taken.
type Options struct {
	Apply       bool      // else they are only looked at
	From        *day.Date // from when they hold; nil for as early as changes nothing that is over
	CorrectPast bool      // From may lie among the days whose registers are in

	Seen string // the stamp of the plan that was looked at; another one now stops the write. Empty: whatever it is

	TakeFiles bool // the files' contacts and warnings take the place of what the school itself has changed
}

// Plan is what an import would do, or has done.
type Plan struct {
	Applied  bool       `json:"applied"`
	Stamp    string     `json:"stamp" doc:"What was looked at: sent along when it is to be made, it is made only while it is still the same"`
	From     string     `json:"from" doc:"The date from which it holds; empty for at all times"`
	When     string     `json:"when" doc:"From when it holds, in words"`
	Past     bool       `json:"past" doc:"It changes days whose registers are in"`
	Parts    []PlanPart `json:"parts"`
	Figures  []string   `json:"figures" doc:"Which figures of the past would change, a line each"`
	Details  []string   `json:"details" doc:"The first changes, a line each, from what to what"`
	Problems []string   `json:"problems" doc:"Every line that is wrong, by file and line"`
	Notes    []string   `json:"notes" doc:"Not wrong, and worth knowing"`
	Kept     []string   `json:"kept" doc:"Contacts that the school itself has changed and the files have otherwise: they stay, unless the files' are asked for"`
}

// PlanPart counts what would change of one kind.
type PlanPart struct {
	What    string `json:"what"`
	Added   int    `json:"added"`
	Changed int    `json:"changed"`
	Ended   int    `json:"ended"`
	Same    int    `json:"same"`
}

// mostDetails bounds the list of changes that is shown.
const mostDetails = 5000

// Changes returns how many things would change.
func (p Plan) Changes() int {
	n := 0
	for _, part := range p.Parts {
		n += part.Added + part.Changed + part.Ended
	}
	return n
}

// stamp tells plans apart by what they would change, from what to what. The figures are no part of it:
// they move with every mark.
func (p Plan) stamp() string {
	h := fnv.New64a()
	_, _ = fmt.Fprintf(h, "%q %q %v %q %q", p.From, p.When, p.Parts, p.Details, p.Notes)
	return strconv.FormatUint(h.Sum64(), 36)
}

func New(problems []table.Problem, notes []string) Plan {
	out := Plan{Parts: []PlanPart{}, Figures: []string{}, Details: []string{}, Kept: []string{}, Problems: []string{}, Notes: []string{}}
	out.Add(problems, notes)
	return out
}

// Add adds what is wrong, and what is worth knowing, of more files.
func (p *Plan) Add(problems []table.Problem, notes []string) {
	for _, x := range problems {
		p.Problems = append(p.Problems, x.String())
	}
	p.Notes = append(p.Notes, notes...)
}

func (p *Plan) Detail(format string, args ...any) {
	if len(p.Details) < mostDetails {
		p.Details = append(p.Details, fmt.Sprintf(format, args...))
	}
}

func (p *Plan) Note(format string, args ...any) {
	p.Notes = append(p.Notes, fmt.Sprintf(format, args...))
}

func (p *Plan) Wrong(format string, args ...any) {
	p.Problems = append(p.Problems, fmt.Sprintf(format, args...))
}

// Hold says from when the plan holds.
func (p *Plan) Hold(over day.Dates, lastSent day.Date, sent bool) {
	p.When = "at all times"
	if over.From != day.NoStart {
		p.From, p.When = over.From.String(), "from "+SpokenYear(over.From)+" on"
	}
	if over.To != day.NoEnd {
		p.When += ", to " + SpokenYear(over.To)
	}
	p.Past = sent && over.From <= lastSent
}

func SpokenYear(d day.Date) string { return d.Spoken() + d.Time().Format(" 2006") }

// Beginning says from when files hold: as early as usual, or as asked for, which may be
// earlier only where the past is to be corrected.
func Beginning(usual day.Date, opt Options, lastSent day.Date, sent bool) (day.Date, error) {
	switch {
	case opt.From == nil && opt.CorrectPast:
		return day.NoStart, nil
	case opt.From == nil:
		return usual, nil
	case sent && *opt.From <= lastSent && *opt.From < usual && !opt.CorrectPast:
		return 0, work.Refusedf("registers up to %s are in, and were taken by what held then: it can hold from %s on, or the past has to be corrected expressly; nothing was changed",
			SpokenYear(lastSent), SpokenYear(lastSent+1))
	}
	return *opt.From, nil
}

// Said says what is new of a kind of rows over some dates: rows of one key are one thing,
// of which one at most holds on a date. Others are called by their name.
func Said[T, K comparable](p *Plan, what string, old, now []T, over day.Dates, key func(T) K, held func(*T) *store.Held, name func(T) string) []T {
	return SaidOver(p, what, old, now, func(T) day.Dates { return over }, key, held, name)
}

// SaidOver is Said with dates of its own for each row.
func SaidOver[T, K comparable](p *Plan, what string, old, now []T, over func(T) day.Dates, key func(T) K, held func(*T) *store.Held, name func(T) string) []T {
	bare := func(x T) T {
		*held(&x) = store.Held{}
		return x
	}
	before, next := map[K][]day.Dated[T]{}, map[K]T{}
	var order []K
	for _, x := range old {
		k := key(bare(x))
		if before[k] == nil {
			order = append(order, k)
		}
		before[k] = append(before[k], day.Dated[T]{What: bare(x), On: held(&x).Dates()})
	}
	for _, x := range now {
		x = bare(x)
		k := key(x)
		if _, known := next[k]; !known && before[k] == nil {
			order = append(order, k)
		}
		next[k] = x
	}
	part := PlanPart{What: what}
	var out []T
	for _, k := range order {
		was := before[k] // in the order of their dates, however they are stored
		slices.SortFunc(was, func(a, b day.Dated[T]) int { return cmp.Compare(a.On.From, b.On.From) })
		var to *T
		dates := day.Dates{}
		if x, ok := next[k]; ok {
			to = &x
			dates = over(x)
		} else {
			dates = over(was[0].What)
		}
		then := day.Supersede(was, to, dates)
		for _, d := range then {
			x := d.What
			*held(&x) = store.HeldOn(d.On)
			out = append(out, x)
		}
		tell(p, &part, was, then, to, name)
	}
	p.Parts = append(p.Parts, part)
	return out
}

// tell counts what became of one thing, and says from what to what.
func tell[T comparable](p *Plan, part *PlanPart, was, then []day.Dated[T], to *T, name func(T) string) {
	switch {
	case equal(was, then):
		if to != nil {
			part.Same++
		}
	case to == nil:
		part.Ended++
		p.Detail("end %s %s", part.What, name(was[len(was)-1].What))
	case len(was) == 0:
		part.Added++
		p.Detail("add %s %s", part.What, name(*to))
	default:
		part.Changed++
		last := was[len(was)-1].What
		if last == *to {
			p.Detail("change %s %s: it holds again", part.What, name(*to))
		} else {
			p.Detail("change %s %s to %s", part.What, name(last), name(*to))
		}
	}
}

func equal[T comparable](a, b []day.Dated[T]) bool {
	if len(a) != len(b) {
		return false
	}
	for i := range a {
		if a[i] != b[i] {
			return false
		}
	}
	return true
}

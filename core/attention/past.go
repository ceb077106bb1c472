package attention

import (
	"slices"

	"meldung/core/quantile"
)

// Outcome is what a rule is tried against: another rule, or being in a band of a policy at the span's end.
type Outcome struct {
	Rule   *Rule
	Policy string // of the band
	Band   int    // the place of the first band that is the outcome
}

// Trial is how a rule would have done over a span, judged on every school day of it from what was dated on
// or before that day.
type Trial struct {
	Of      int
	OnDay   []int // matches on each school day of the span
	Matched []Tried
	Outcome []int // students who had the outcome
	Before  []Tried
	Missed  []int // had the outcome, and were not matched on an earlier day
	Alarms  []int // matched, and never had the outcome
	Back    []int // matched, then not for ten school days in a row, without a follow-up in between
	Leads   Leads // of those found before
}

// Tried is a student whom a rule matched over a span.
type Tried struct {
	Student int
	First   int // the first school day of a match
	Came    int // the first school day of the outcome; −1 for none
	Helped  int // follow-ups between the first match and the outcome, or the span's end
}

// Leads are how many school days the rule was ahead, by type 7.
type Leads struct {
	Least, Median, Most float64
}

// away is for how many school days in a row who matched must not match to have come back.
const away = 10

// Try judges a rule over the school days from one to another. Each step is told: how many students are done
// of how many; false ends it, and ok is false.
func (s *School) Try(r *Rule, o Outcome, from, to int, step func(done, of int) bool) (out Trial, ok bool) {
	out.OnDay = make([]int, max(0, to-from+1))
	j := s.judge(r)
	var outcome *judge
	if o.Rule != nil {
		outcome = s.judge(o.Rule)
	}
	var leads []float64
	for i := range s.Students {
		if !step(i, len(s.Students)) {
			return out, false
		}
		one := j.student(i)
		t := Tried{Student: i, First: -1, Came: -1}
		inScope, back := false, false
		streak, began := 0, -1 // days without a match; the first of the last stretch of matching
		for d := from; d <= to; d++ {
			if !s.inScope(r, i, d) {
				continue
			}
			inScope = true
			if one.on(d) != Yes {
				streak++
				back = back || began >= 0 && streak == away && s.followUps(i, began, d) == 0
				continue
			}
			if streak > 0 || began < 0 {
				began = d
			}
			streak = 0
			out.OnDay[d-from]++
			if t.First < 0 {
				t.First = d
			}
		}
		if inScope {
			out.Of++
		}
		t.Came = s.came(outcome, o, i, from, to)
		had := t.Came >= 0 && inScope
		if had {
			out.Outcome = append(out.Outcome, i)
		}
		if t.First >= 0 {
			end := to
			if had {
				end = t.Came
			}
			t.Helped = s.followUps(i, t.First, end)
			out.Matched = append(out.Matched, t)
			if !had {
				out.Alarms = append(out.Alarms, i)
			}
			if back {
				out.Back = append(out.Back, i)
			}
		}
		switch {
		case had && t.First >= 0 && t.First < t.Came:
			out.Before = append(out.Before, t)
			leads = append(leads, float64(t.Came-t.First))
		case had:
			out.Missed = append(out.Missed, i)
		}
	}
	if all := LeadsOf(leads); all != nil {
		out.Leads = *all
	}
	return out, true
}

// LeadsOf sums leads up; nil where there are none.
func LeadsOf(leads []float64) *Leads {
	if len(leads) == 0 {
		return nil
	}
	slices.Sort(leads)
	return &Leads{leads[0], quantile.Of(leads, 0.5), leads[len(leads)-1]}
}

// came is the first school day of the outcome in a span; −1 where it did not come. A band is one of the
// span's end.
func (s *School) came(outcome *judge, o Outcome, i, from, to int) int {
	if outcome == nil {
		if s.Policies[o.Policy] == nil || !s.Ledger.Enrolled(i, to) {
			return -1
		}
		if f := s.measure(o.Policy, "").Student(i, s.Ledger.YearTo(s.Date(to))); f.Band < o.Band {
			return -1
		}
		return to
	}
	one := outcome.student(i)
	for d := from; d <= to; d++ {
		if s.inScope(outcome.rule, i, d) && one.on(d) == Yes {
			return d
		}
	}
	return -1
}

// followUps counts contacts and sessions from one school day to another.
func (s *School) followUps(i, from, to int) int {
	f := &s.Students[i]
	n := 0
	for _, list := range [][]Dated{f.Contacts, f.Sessions} {
		for _, x := range list {
			if x.Date >= s.Date(from) && x.Date <= s.Date(to) {
				n++
			}
		}
	}
	return n
}

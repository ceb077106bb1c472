package conductpage

import (
	"math"
	"slices"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/incidents"
)

// rollDays are a scope's school days up to a date, with who was enrolled on them.
type rollDays struct {
	days     []day.Date // of any section, in their order
	sections []sectionDays
}

type sectionDays struct {
	days     []day.Date
	years    [][2]day.Date
	students []store.Student
}

// rollOf gathers the school days up to a date; only some students count where they are given.
func rollOf(v work.Snapshot, scope work.Scope, last day.Date, means map[ids.Student]bool) rollDays {
	var out rollDays
	for _, s := range v.In(scope) {
		var one sectionDays
		records, _ := v.School.Records().Section(s.ID)
		for _, y := range records.Years() {
			first, end := y.Calendar.Span()
			one.years = append(one.years, [2]day.Date{first, end})
			for i := range y.Calendar.Days() {
				if d := y.Calendar.Day(i).Date; d <= last {
					one.days = append(one.days, d)
				}
			}
		}
		for _, st := range v.School.Students {
			if st.Section == s.ID && (means == nil || means[st.ID]) {
				one.students = append(one.students, st)
			}
		}
		out.sections = append(out.sections, one)
		out.days = append(out.days, one.days...)
	}
	slices.Sort(out.days)
	out.days = slices.Compact(out.days)
	return out
}

// between returns the school days of a span.
func (r rollDays) between(from, to day.Date) []day.Date {
	i, _ := slices.BinarySearch(r.days, from)
	j, _ := slices.BinarySearch(r.days, to+1)
	return r.days[i:max(i, j)]
}

// year returns the ends of the school year with a date; its own where it lies in none.
func (r rollDays) year(d day.Date) (first, last day.Date) {
	for _, s := range r.sections {
		for _, y := range s.years {
			if d >= y[0] && d <= y[1] {
				return y[0], y[1]
			}
		}
	}
	return d, d
}

// studentDays counts enrolled students times school days between two dates.
func (r rollDays) studentDays(from, to day.Date) int {
	n := 0
	for _, s := range r.sections {
		i, _ := slices.BinarySearch(s.days, from)
		j, _ := slices.BinarySearch(s.days, to+1)
		if i >= j {
			continue
		}
		span := s.days[i:j]
		for _, st := range s.students {
			n += enrolledDays(st, span)
		}
	}
	return n
}

// enrolledDays counts the days on which a student was enrolled.
func enrolledDays(st store.Student, span []day.Date) int {
	first, last := span[0], span[len(span)-1]
	if len(st.Spans) == 1 && st.Spans[0].From <= first && st.Spans[0].To >= last {
		return len(span)
	}
	n := 0
	for _, on := range st.Spans {
		i, _ := slices.BinarySearch(span, on.From)
		j := len(span)
		if on.To < last {
			j, _ = slices.BinarySearch(span, on.To+1)
		}
		n += max(0, j-i)
	}
	return n
}

// rate counts what is searched for on some school days.
func (b *book) rate(days []day.Date, from, to day.Date) conduct.Rate {
	s := b.search
	s.From, s.To = from, to
	return conduct.Rate{Incidents: len(conduct.Find(b.core, s)), SchoolDays: len(days), StudentDays: b.roll.studentDays(from, to)}
}

func (b *book) rateView(r conduct.Rate, from, to day.Date) ConductRate {
	return ConductRate{From: from.String(), To: to.String(), Label: pages.Between(from, to), Days: r.SchoolDays, Incidents: r.Incidents, PerHundred: r.PerHundred()}
}

func ratioOf(r conduct.Ratio) ConductRatio {
	finite := func(x float64) float64 {
		if math.IsInf(x, 0) {
			return 0
		}
		return x
	}
	return ConductRatio{Known: r.Known, Value: finite(r.Value), Low: r.Low, High: finite(r.High), Verdict: r.Verdict(), Words: r.Words()}
}

// beside puts a span of as many school days beside the one that is asked for, and the same school days of
// the year before, where there are any.
func (b *book) beside(out *ConductView, days []day.Date, rate conduct.Rate) error {
	n := len(days)
	out.ByKind = b.bars(incidents.Kinds, nil, nil)
	out.ByAction = b.bars(incidents.Actions, nil, nil)
	if n == 0 {
		return nil
	}
	at, _ := slices.BinarySearch(b.roll.days, days[0])
	before := b.roll.days[max(0, at-n):at]
	if b.ask.Beside != "" {
		first, err := day.ParseDate(b.ask.Beside)
		if err != nil {
			return work.Wrongf("%v", err)
		}
		i, _ := slices.BinarySearch(b.roll.days, first)
		before = b.roll.days[i:min(len(b.roll.days), i+n)]
	}
	if len(before) > 0 {
		was := b.rate(before, before[0], before[len(before)-1])
		out.Before = b.rateView(was, before[0], before[len(before)-1])
		out.Ratio = ratioOf(conduct.Compare(rate, was))
	}
	last := b.lastYear(days)
	if len(last) > 0 {
		view := b.rateView(b.rate(last, last[0], last[len(last)-1]), last[0], last[len(last)-1])
		out.LastYear = &view
	}
	out.ByKind, out.ByAction = b.bars(incidents.Kinds, before, last), b.bars(incidents.Actions, before, last)
	return nil
}

// lastYear returns the same school days of the school year before: by their number in it.
func (b *book) lastYear(days []day.Date) []day.Date {
	first, _ := b.roll.year(days[0])
	i, _ := slices.BinarySearch(b.roll.days, first)
	n, _ := slices.BinarySearch(b.roll.days, days[0])
	if i == 0 {
		return nil
	}
	was, _ := b.roll.year(b.roll.days[i-1])
	k, _ := slices.BinarySearch(b.roll.days, was)
	from, to := k+n-i, min(k+n-i+len(days), i)
	if from >= to {
		return nil
	}
	return b.roll.days[from:to]
}

// bars counts by kind or action, in the span and in those beside it, the most first.
func (b *book) bars(list string, before, last []day.Date) []ConductBar {
	count := func(from, to day.Date) map[ids.ConductWord]int {
		s := b.search
		s.From, s.To = from, to
		out := map[ids.ConductWord]int{}
		for _, i := range conduct.Find(b.core, s) {
			switch {
			case list == incidents.Kinds:
				out[i.Kind]++
			case len(i.Actions) == 0:
				out[0]++
			default:
				for _, a := range i.Actions {
					out[a]++
				}
			}
		}
		return out
	}
	ends := func(days []day.Date) map[ids.ConductWord]int {
		if len(days) == 0 {
			return nil
		}
		return count(days[0], days[len(days)-1])
	}
	now, was, year := count(b.search.From, b.search.To), ends(before), ends(last)
	out := []ConductBar{}
	none := map[string]string{incidents.Kinds: "not known", incidents.Actions: "no action yet"}[list]
	for _, w := range append(slices.Clone(b.lists.Of(list)), store.ConductWord{Name: none}) {
		bar := ConductBar{ID: w.ID, Name: w.Name, Count: now[w.ID], Before: was[w.ID]}
		if year != nil {
			n := year[w.ID]
			bar.LastYear = &n
		}
		if bar.Count > 0 || bar.Before > 0 {
			out = append(out, bar)
		}
	}
	slices.SortStableFunc(out, func(x, y ConductBar) int { return y.Count - x.Count })
	return out
}

package coursework

import (
	"context"
	"slices"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/results"
	"meldung/store"
	"meldung/work"
)

// History returns what each student's results came to from each date on on which they changed, of a span of
// dates; by the rule, the courses and the years of the snapshot.
func History(ctx context.Context, v work.Snapshot, from, to day.Date) (map[ids.Student][]attention.Results, error) {
	f, err := bare(ctx, v)
	if err != nil {
		return nil, err
	}
	rows, err := store.ResultHistory(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	out := map[ids.Student][]attention.Results{}
	at := results.Quarter(-1)
	for n := 0; n < len(rows) && rows[n].Date <= to; {
		// What was known before the span is known on its first date.
		on := max(rows[n].Date, from)
		changed := map[ids.Student]bool{}
		for ; n < len(rows) && max(rows[n].Date, from) == on; n++ {
			f.put(rows[n])
			changed[rows[n].StudentID] = true
		}
		if !f.shelf.Any {
			continue
		}
		everyone := f.shelf.At != at // a new period is the latest of all
		at = f.shelf.At
		for _, s := range v.School.Students {
			if everyone || changed[s.ID] {
				one := f.shelf.stand(f.shelf.of[s.ID])
				one.From = on
				out[s.ID] = append(out[s.ID], one)
			}
		}
	}
	return out, nil
}

// stand is what a student's results come to now, over the periods of the school year.
func (s *Shelf) stand(i int) attention.Results {
	sums := s.Sum(i, s.At)
	out := attention.Results{Of: map[string]attention.PeriodResults{}, None: len(sums.Standings) == 0, Away: sums.Away, Behind: sums.Behind}
	for q := s.At - results.Quarter(s.At.InYear()); q <= s.At; q++ {
		name := s.Periods[q].Name
		out.Periods = append(out.Periods, name)
		mean, any := s.Mean(i, q)
		if !any {
			continue
		}
		one := attention.PeriodResults{Mean: &mean}
		for _, g := range s.Book.Graded([]int{i}, q) {
			if g.Grade.Failing {
				one.Failing++
				one.Words = append(one.Words, s.Courses[g.Record.Course].Title+" "+g.Grade.Shown())
			}
			if g.Grade.Nearly {
				one.Nearly++
			}
		}
		slices.Sort(one.Words)
		out.Of[name] = one
	}
	return out
}

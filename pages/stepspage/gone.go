package stepspage

import (
	"context"
	"fmt"
	"iter"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	core "meldung/core/steps"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/steps"
)

// backDays is for how many school days a step that a correction took away stays on the list.
const backDays = 5

// goneItem is a step that was due some days ago, about which nobody did anything, and whose cause a
// correction has taken away since.
type goneItem struct {
	steps.Item
	why string // what was put right, by whom and when
}

// takenBack looks for steps that would be due had nobody put marks of earlier days right within the
// last school days.
func takenBack(ctx context.Context, s work.Section, m work.Moment, now []steps.Item) ([]goneItem, error) {
	last := s.Calendar.EndedBy(m.Date, m.Minute)
	if last < 0 {
		return nil, nil
	}
	since := day.At(s.Calendar.Day(max(0, last-backDays)).Date, day.Midnight)
	changed, err := store.MarksCorrected(ctx, s.Store(), since, m.Known, day.Dates{From: s.Calendar.Day(0).Date, To: s.Calendar.Day(last).Date})
	if err != nil || len(changed) == 0 {
		return nil, err
	}
	follows, _, err := steps.Follows(s)
	if err != nil {
		return nil, err
	}
	still := map[letterKey][]core.Cause{}
	for _, i := range now {
		if i.Cause != nil {
			k := letterKey{i.Student.ID, i.Measure.Policy().ID}
			still[k] = append(still[k], *i.Cause)
		}
	}
	var out []goneItem
	for student, marks := range byStudent(changed) {
		place := s.Place(student)
		if place < 0 {
			continue
		}
		before := s.Ledger.Alone(place, func(set func(d, pos int, mark absence.Mark)) {
			for _, c := range marks {
				if d, pos, code, ok := placeOf(s, c); ok {
					set(d, pos, absence.Mark{Code: code, From: c.BeforeFrom, To: c.BeforeTo, Class: s.School.ClassOf(c.BeforeClass).Title})
				}
			}
		})
		for _, f := range follows {
			measure := absence.NewMeasure(before, f.Measure.Policy())
			causes := core.Causes(measure, 0, last)
			records := make([]core.Record, len(causes))
			for n, c := range causes {
				records[n] = core.Record{Rule: c.Rule, ID: int64(n), On: c.On}
			}
			for _, x := range core.Match(still[letterKey{student, f.Measure.Policy().ID}], records) {
				if x.Cause != nil {
					continue
				}
				item := steps.Item{Student: s.School.StudentOf(student), Measure: measure, Cause: &causes[x.Record.ID]}
				item.On = s.Calendar.Day(item.Cause.On).Date
				var asked bool
				if item.Action, asked = steps.ActionOf(s.Settings.Steps, measure.Policy(), item); asked && item.On >= f.From && !acted(now, item) {
					out = append(out, goneItem{item, whyGone(s, marks)})
				}
			}
		}
	}
	return out, nil
}

// placeOf returns where a mark stood in the ledger, and its code of before.
func placeOf(s work.Section, c store.MarkCorrected) (d, pos, code int, ok bool) {
	d, open := s.Calendar.Index(c.Date)
	if !open {
		return 0, 0, 0, false
	}
	pos, there := s.Calendar.Day(d).Pattern.Position(c.Slot)
	code, known := s.Ledger.Codes(d).Index(c.Before)
	return d, pos, code, there && known
}

// acted reports whether something was done about a step, which then stands on the list by itself.
func acted(now []steps.Item, gone steps.Item) bool {
	return slices.ContainsFunc(now, func(i steps.Item) bool {
		return i.Row != nil && i.Student.ID == gone.Student.ID && i.Measure.Policy().ID == gone.Measure.Policy().ID && i.Rule() == gone.Rule() && i.Cause == nil
	})
}

// byStudent parts marks by whose they are, in the order in which they come.
func byStudent(marks []store.MarkCorrected) iter.Seq2[ids.Student, []store.MarkCorrected] {
	return func(yield func(ids.Student, []store.MarkCorrected) bool) {
		for i := 0; i < len(marks); {
			n := i
			for n < len(marks) && marks[n].StudentID == marks[i].StudentID {
				n++
			}
			if !yield(marks[i].StudentID, marks[i:n]) {
				return
			}
			i = n
		}
	}
}

// whyGone says what was put right: "Mon 2 March is now medical, R. Tolvan 09:31".
func whyGone(s work.Section, marks []store.MarkCorrected) string {
	last := marks[len(marks)-1]
	word := last.Code
	if d, open := s.Calendar.Index(last.Date); open {
		if c, known := s.Ledger.Codes(d).Find(last.Code); known {
			word = c.Word
		}
	}
	at := last.Known.Minute().String()
	if last.Known.Date() != s.Now.Date() {
		at = last.Known.Date().Spoken()
	}
	return fmt.Sprintf("%s is now %s, %s %s", last.Date.Spoken(), word, last.By, at)
}

// gone makes a line of a step that is no more.
func (l lister) gone(g goneItem) StepView {
	out := StepView{Ref: steps.RefOf(g.Item), Student: pages.Student(l.Snapshot, g.Student, l.m.Date), Action: g.Action.Name, Kind: string(g.Action.Kind), Policy: g.Measure.Policy().Title, When: g.On.Spoken(),
		State: string(core.TakenBack), Said: g.why, Contacts: []pages.ContactRef{}}
	if t := g.Trigger(); t != nil && g.Rule().Do == "" {
		out.Title = steps.Line(t)
	} else {
		out.Title = steps.LateText(g.Item)
	}
	return out
}

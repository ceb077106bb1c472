package roster

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/table"
	"meldung/files/timetable"
	"meldung/store"
	"meldung/work"
)

// ImportTimetable reads calendar, slots and timetable, says what they would
// change, and changes it when asked to: all of it, or nothing where a line is wrong.
func ImportTimetable(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, apply bool) (Plan, error) {
	read := timetable.Read(files)
	plan := Plan{Details: []string{}, Problems: problemLines(read.Problems), Notes: listed(read.Notes), Parts: []PlanPart{}}
	var next store.School
	err := o.Read(func(v work.Snapshot) error {
		var unknown []string
		next, unknown = timetableRows(v.School, read.Bundle)
		plan.Problems = append(plan.Problems, unknown...)
		plan.Parts = []PlanPart{
			replaced("slot", v.School.Rows.PatternSlots, next.PatternSlots),
			replaced("date", v.School.Rows.Calendar, next.Calendar),
			replaced("meeting of a class", v.School.Rows.Timetable, next.Timetable),
		}
		return nil
	})
	if err != nil || !apply || len(plan.Problems) > 0 {
		return plan, err
	}
	plan.Applied = true
	if plan.Changes() == 0 {
		return plan, nil
	}
	if err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "import timetable", Out: &plan}, func(tx *work.Tx, _ work.Snapshot) error { return store.ReplaceTimetable(ctx, tx.Tx, next) }); err != nil {
		return plan, err
	}
	return plan, o.Reload(ctx)
}

// timetableRows ties the meetings to classes by sourcedId, code or title.
func timetableRows(s *work.School, b timetable.Bundle) (store.School, []string) {
	class := map[string]ids.Class{}
	for _, name := range []func(store.Class) string{
		func(c store.Class) string { return c.Title },
		func(c store.Class) string { return c.Code },
		func(c store.Class) string { return c.SourcedID },
	} {
		for _, c := range s.Rows.Classes {
			if n := name(c); n != "" && !c.Ended {
				class[n] = c.ID
			}
		}
	}
	var out store.School
	var unknown []string
	for _, x := range b.Slots {
		out.PatternSlots = append(out.PatternSlots, store.PatternSlot{Pattern: x.Pattern, Slot: x.Name, Start: x.Start, End: x.End, Kind: x.Kind.String()})
	}
	for _, d := range b.Calendar {
		out.Calendar = append(out.Calendar, store.CalendarDay{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod})
	}
	for _, m := range b.Meetings {
		id, ok := class[m.Class]
		if !ok {
			unknown = append(unknown, fmt.Sprintf("timetable.csv:%d: class %q is not in the roster, by sourcedId, code or title", m.Line, m.Class))
			continue
		}
		out.Timetable = append(out.Timetable, store.Meeting{ClassID: id, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
	}
	return out, unknown
}

// replaced counts what a list that replaces another adds and ends.
func replaced[T comparable](what string, old, now []T) PlanPart {
	part := PlanPart{What: what}
	before := map[T]bool{}
	for _, x := range old {
		before[x] = true
	}
	for _, x := range now {
		if before[x] {
			part.Same++
			delete(before, x)
		} else {
			part.Added++
		}
	}
	part.Ended = len(before)
	return part
}

// ExportTimetable returns the school's calendar, slots and timetable as files.
func ExportTimetable(o *work.Office) (table.Files, error) {
	var b timetable.Bundle
	err := o.Read(func(v work.Snapshot) error {
		if v.School.Calendar != nil {
			for _, p := range v.School.Calendar.Patterns() {
				for _, s := range p.Slots {
					b.Slots = append(b.Slots, timetable.Slot{Pattern: p.Name, Name: s.Name, Start: s.Start, End: s.End, Kind: s.Kind})
				}
			}
		}
		for _, d := range v.School.Rows.Calendar {
			b.Calendar = append(b.Calendar, dayRow(d))
		}
		for _, m := range v.School.Rows.Timetable {
			b.Meetings = append(b.Meetings, timetable.Meeting{Class: v.School.Classes[m.ClassID].SourcedID, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
		}
		return nil
	})
	return timetable.Write(b), err
}

func dayRow(d store.CalendarDay) day.Row {
	return day.Row{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod}
}

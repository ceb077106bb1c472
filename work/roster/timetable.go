package roster

import (
	"context"
	"fmt"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/table"
	"meldung/files/timetable"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// ImportTimetable reads calendar, slots and timetable, says what they would change, and
// changes it when asked to: all of it, or nothing where a line is wrong. They hold from the
// day after the last register that is in, or from the first date of a school year still to
// come, unless another date is asked for; the calendar is that of one school year.
func ImportTimetable(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt Options) (Plan, error) {
	return run(ctx, o, p, key, "import timetable", opt, &timetableChange{read: timetable.Read(files), opt: opt})
}

// timetableChange is a timetable to be taken.
type timetableChange struct {
	read timetable.Result
	opt  Options
}

func (c *timetableChange) plan(_ context.Context, v work.Snapshot, lastSent day.Date, sent bool) (Plan, store.School, error) {
	p := newPlan(c.read.Problems, c.read.Notes)
	rows := v.School.Records().Rows
	first, last, ok := c.span()
	if !ok {
		return p, rows, nil // a problem says so
	}
	year, known := c.year(&p, rows.Years, first, last)
	usual := day.NoStart
	if sent {
		usual = max(lastSent+1, first)
	} else if len(rows.Years) > 0 && !known {
		usual = first
	}
	from, err := beginning(usual, c.opt, lastSent, sent)
	if err != nil {
		return p, rows, err
	}
	over := day.Dates{From: from, To: day.NoEnd}
	for _, y := range rows.Years {
		if y.First > year.Last {
			over.To = year.Last // what is planned for later years stays
		}
		if y.Last < year.First {
			over.From = max(over.From, year.First) // and what held in earlier ones
		}
	}
	p.hold(over, lastSent, sent)
	next := c.rows(&p, v, rows, year, over)
	c.look(&p, rows, next, over)
	return p, next, nil
}

// span returns the first and the last date of the calendar.
func (c *timetableChange) span() (first, last day.Date, ok bool) {
	for _, r := range c.read.Bundle.Calendar {
		if !ok {
			first, last, ok = r.Date, r.Date, true
		}
		first, last = min(first, r.Date), max(last, r.Date)
	}
	return first, last, ok
}

// year finds the school year that the calendar is of, with the dates of both; known is false
// for a new one.
func (c *timetableChange) year(p *Plan, years []store.SchoolYear, first, last day.Date) (out store.SchoolYear, known bool) {
	out = store.SchoolYear{First: first, Last: last}
	var of []store.SchoolYear
	for _, y := range years {
		if y.First <= last && first <= y.Last {
			of = append(of, y)
			out.First, out.Last = min(out.First, y.First), max(out.Last, y.Last)
		}
	}
	if len(of) > 1 {
		p.wrong("calendar.csv: it goes from %s to %s, over two school years, of which the second begins on %s: each has a calendar of its own",
			spokenYear(first), spokenYear(last), spokenYear(of[1].First))
	}
	return out, len(of) > 0
}

// rows returns the school's rows as they would be.
func (c *timetableChange) rows(p *Plan, v work.Snapshot, rows store.School, year store.SchoolYear, over day.Dates) store.School {
	b := c.read.Bundle
	next := rows
	var slots []store.PatternSlot
	for _, x := range b.Slots {
		slots = append(slots, store.PatternSlot{Pattern: x.Pattern, Slot: x.Name, Start: x.Start, End: x.End, Kind: x.Kind.String()})
	}
	next.PatternSlots = said(p, "slot", rows.PatternSlots, slots, over, func(x store.PatternSlot) [2]string { return [2]string{x.Pattern, x.Slot} },
		func(x *store.PatternSlot) *store.Held { return &x.Held },
		func(x store.PatternSlot) string {
			return fmt.Sprintf("%s of %s, %s to %s, %s", x.Slot, x.Pattern, x.Start, x.End, x.Kind)
		})
	next.Years, next.Calendar = c.calendar(p, rows, year, over)
	classes := c.classes(v.School.Records().On(max(over.From, year.First)))
	var meetings []store.Meeting
	for _, m := range b.Meetings {
		id, ok := classes[m.Class]
		if !ok {
			p.wrong("timetable.csv:%d: class %q is not in the roster, by sourcedId, code or title", m.Line, m.Class)
			continue
		}
		meetings = append(meetings, store.Meeting{ClassID: id, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
	}
	names := v.School.Records().On(over.From)
	next.Timetable = said(p, "meeting of a class", rows.Timetable, meetings, over,
		func(m store.Meeting) store.Meeting { m.Room = ""; return m },
		func(m *store.Meeting) *store.Held { return &m.Held },
		func(m store.Meeting) string {
			when := work.Join(" ", m.Pattern, weekdayName(m.Weekday), m.Slot)
			return work.Join(", ", names.ClassOf(m.ClassID).Title, when, m.Room)
		})
	return next
}

func weekdayName(n int) string {
	if n == 0 {
		return ""
	}
	return (day.MustDate("2024-01-01") + day.Date(n-1)).Time().Format("Monday")
}

// classes finds the classes of a date by sourcedId, code or title.
func (c *timetableChange) classes(s *held.School) map[string]ids.Class {
	out := map[string]ids.Class{}
	for _, name := range []func(store.Class) string{
		func(c store.Class) string { return c.Title },
		func(c store.Class) string { return c.Code },
		func(c store.Class) string { return c.SourcedID },
	} {
		for _, x := range s.Classes {
			if n := name(x); n != "" && !x.Ended {
				out[n] = x.ID
			}
		}
	}
	return out
}

// calendar replaces the dates of a school year over which the files hold.
func (c *timetableChange) calendar(p *Plan, rows store.School, year store.SchoolYear, over day.Dates) ([]store.SchoolYear, []store.CalendarDay) {
	part := PlanPart{What: "date"}
	old, now := map[day.Date]store.CalendarDay{}, map[day.Date]store.CalendarDay{}
	for _, x := range rows.Calendar {
		if x.Date >= year.First && x.Date <= year.Last {
			old[x.Date] = x
		}
	}
	for _, d := range c.read.Bundle.Calendar {
		now[d.Date] = store.CalendarDay{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod}
	}
	stays := 0
	var out []store.CalendarDay
	for d := year.First; d <= year.Last; d++ {
		was, before := old[d]
		is, after := now[d]
		if !over.Has(d) {
			if is != was {
				stays++
			}
			is, after = was, before
		}
		switch {
		case before && after && is == was, !before && !after:
			if after {
				part.Same++
			}
		case !after:
			part.Ended++
			p.detail("end date %s, %s", spokenYear(d), was.Pattern)
		case !before:
			part.Added++
		default:
			part.Changed++
			p.detail("change date %s from %s to %s", spokenYear(d), dateText(was), dateText(is))
		}
		if after {
			out = append(out, is)
		}
	}
	if stays > 0 {
		p.note("%s before %s stand in the calendar otherwise than in calendar.csv and stay as they are", work.Count(stays, "date"), spokenYear(over.From))
	}
	p.Parts = append(p.Parts, part)
	if len(out) == 0 {
		return rows.Years, rows.Calendar
	}
	years := []store.SchoolYear{{First: out[0].Date, Last: out[len(out)-1].Date}}
	for _, y := range rows.Years {
		if y.Last < year.First || y.First > year.Last {
			years = append(years, y)
		}
	}
	for _, x := range rows.Calendar {
		if x.Date < year.First || x.Date > year.Last {
			out = append(out, x)
		}
	}
	sort.Slice(years, func(a, b int) bool { return years[a].First < years[b].First })
	sort.Slice(out, func(a, b int) bool { return out[a].Date < out[b].Date })
	return years, out
}

func dateText(x store.CalendarDay) string {
	return work.Join(", ", x.Pattern, x.Term, x.GradingPeriod)
}

// look notes what is not wrong and should not be missed: students whose own schedules name a
// slot that is in no day pattern any more.
func (c *timetableChange) look(p *Plan, rows, next store.School, over day.Dates) {
	there := map[string]bool{}
	for _, x := range next.PatternSlots {
		if x.To == nil || x.Dates().To >= over.From {
			there[x.Slot] = true
		}
	}
	students := map[string]map[ids.Student]bool{}
	for _, x := range rows.Slots {
		if !there[x.Slot] && !x.Dates().Common(over).Empty() {
			if students[x.Slot] == nil {
				students[x.Slot] = map[ids.Student]bool{}
			}
			students[x.Slot][x.StudentID] = true
		}
	}
	for slot, of := range students {
		p.note("the slot %s is in no day pattern any more, and is in the own schedules of %s: they are not due in it, whatever takes its place", slot, work.Count(len(of), "student"))
	}
	sort.Strings(p.Notes)
}

func (c *timetableChange) write(ctx context.Context, tx *work.Tx, _ work.Snapshot, next store.School) error {
	return store.ReplaceTimetable(ctx, tx.Tx, next)
}

// ExportTimetable returns calendar, slots and timetable of the school year as they hold today,
// as files.
func ExportTimetable(ctx context.Context, o *work.Office) (table.Files, error) {
	var b timetable.Bundle
	err := o.Read(ctx, func(v work.Snapshot) error {
		rows := v.School.Records().Rows
		if v.School.Calendar == nil {
			return nil
		}
		first, last := v.School.Calendar.Span()
		on := min(max(v.On, first), last)
		for _, s := range rows.PatternSlots {
			if s.On(on) {
				kind, err := day.ParseKind(s.Kind)
				if err != nil {
					return err
				}
				b.Slots = append(b.Slots, timetable.Slot{Pattern: s.Pattern, Name: s.Slot, Start: s.Start, End: s.End, Kind: kind})
			}
		}
		for _, d := range rows.Calendar {
			if d.Date >= first && d.Date <= last {
				b.Calendar = append(b.Calendar, day.Row{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod})
			}
		}
		held := v.School.Records().On(on)
		for _, m := range held.Meetings {
			b.Meetings = append(b.Meetings, timetable.Meeting{Class: held.ClassOf(m.ClassID).SourcedID, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
		}
		return nil
	})
	return timetable.Write(b), err
}

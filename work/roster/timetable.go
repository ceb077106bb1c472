package roster

import (
	"context"
	"fmt"
	"slices"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/table"
	"meldung/files/timetable"
	"meldung/held"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// ImportTimetable reads calendar, slots and timetable, says what they would change, and
// changes it when asked to: all of it, or nothing where a line is wrong. They hold from the
// day after the last register that is in, or from the first date of a school year still to
// come, unless another date is asked for; the calendar is that of one school year.
func ImportTimetable(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	return plans.Run(ctx, o, work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "import timetable", Of: []any{files, opt}}, opt, &timetableChange{read: timetable.Read(files), opt: opt})
}

// timetableChange is a timetable to be taken.
type timetableChange struct {
	read timetable.Result
	opt  plans.Options

	of []sectionTimetable // once it is looked at
}

// sectionTimetable is what the files say of one section, and over which dates it holds.
type sectionTimetable struct {
	work.Section
	dates []timetable.Date
	slots []timetable.Slot
	year  store.SchoolYear
	over  day.Dates
}

func (c *timetableChange) Plan(_ context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(c.read.Problems, c.read.Notes)
	rows := v.School.Records().Rows
	c.of = c.sections(&p, v)
	if len(c.of) == 0 {
		return p, rows, nil // a problem says so
	}
	first := day.NoEnd
	newYear := len(rows.Years) > 0
	for i := range c.of {
		known := c.of[i].findYear(&p, rows.Years)
		first = min(first, c.of[i].dates[0].Date)
		newYear = newYear && !known
	}
	usual := day.NoStart
	if sent {
		usual = max(lastSent+1, first)
	} else if newYear {
		usual = first
	}
	from, err := plans.Beginning(usual, c.opt, lastSent, sent)
	if err != nil {
		return p, rows, err
	}
	for i := range c.of {
		c.of[i].hold(from, rows.Years)
	}
	p.Hold(c.of[0].over, lastSent, sent)
	next := c.rows(&p, v, rows)
	c.look(&p, rows, next, c.of[0].over)
	return p, next, nil
}

// sections finds what the files say of which section: of those that have dates in the
// calendar. Rows without a section are of every one that has no rows of its own there.
func (c *timetableChange) sections(p *plans.Plan, v work.Snapshot) []sectionTimetable {
	b := c.read.Bundle
	dates, slots := map[ids.Section][]timetable.Date{}, map[ids.Section][]timetable.Slot{}
	find := func(file string, line int, name string) ids.Section {
		if name == "" {
			return 0
		}
		s, ok := sectionNamed(v.Sections(), name)
		if !ok {
			p.Wrong("%s:%d: there is no section %q, by its organisation's sourcedId or name", file, line, name)
			return -1
		}
		return s.ID
	}
	for _, d := range b.Calendar {
		id := find("calendar.csv", d.Line, d.Section)
		dates[id] = append(dates[id], d)
	}
	for _, s := range b.Slots {
		id := find("slots.csv", s.Line, s.Section)
		slots[id] = append(slots[id], s)
	}
	var out []sectionTimetable
	for _, s := range v.Sections() {
		of := sectionTimetable{Section: s, dates: dates[s.ID], slots: slots[s.ID]}
		if len(of.dates) == 0 {
			of.dates = dates[0]
		}
		if len(of.slots) == 0 {
			of.slots = slots[0]
		}
		if len(of.dates) == 0 {
			if len(slots[s.ID]) > 0 {
				p.Wrong("slots.csv:%d: %s has slots and no date in calendar.csv", slots[s.ID][0].Line, s.Name)
			}
			continue
		}
		sort.SliceStable(of.dates, func(a, b int) bool { return of.dates[a].Date < of.dates[b].Date })
		patterns := map[string]bool{day.Closed: true}
		for _, x := range of.slots {
			patterns[x.Pattern] = true
		}
		for _, d := range of.dates {
			if !patterns[d.Pattern] {
				p.Wrong("calendar.csv:%d: the day pattern %q is none of %s", d.Line, d.Pattern, s.Name)
			}
		}
		out = append(out, of)
	}
	return out
}

// findYear finds the school year that the dates are of, with the dates of both, and reports
// whether it is known.
func (s *sectionTimetable) findYear(p *plans.Plan, years []store.SchoolYear) bool {
	first, last := s.dates[0].Date, s.dates[len(s.dates)-1].Date
	s.year = store.SchoolYear{SectionID: s.ID, First: first, Last: last}
	var of []store.SchoolYear
	for _, y := range years {
		if y.SectionID == s.ID && y.First <= last && first <= y.Last {
			of = append(of, y)
			s.year.First, s.year.Last = min(s.year.First, y.First), max(s.year.Last, y.Last)
		}
	}
	if len(of) > 1 {
		p.Wrong("calendar.csv: it goes from %s to %s, over two school years, of which the second begins on %s: each has a calendar of its own",
			plans.SpokenYear(first), plans.SpokenYear(last), plans.SpokenYear(of[1].First))
	}
	return len(of) > 0
}

// hold says over which dates the timetable holds, from a date on: what is planned for later
// years stays, and so does what held in earlier ones.
func (s *sectionTimetable) hold(from day.Date, years []store.SchoolYear) {
	s.over = day.Dates{From: from, To: day.NoEnd}
	for _, y := range years {
		if y.SectionID != s.ID {
			continue
		}
		if y.First > s.year.Last {
			s.over.To = s.year.Last
		}
		if y.Last < s.year.First {
			s.over.From = max(s.over.From, s.year.First)
		}
	}
}

// overOf returns the dates over which the files hold for a section; ok is false for one of
// which they say nothing.
func (c *timetableChange) overOf(id ids.Section) (over day.Dates, ok bool) {
	for _, s := range c.of {
		if s.ID == id {
			return s.over, true
		}
	}
	return over, false
}

// rows returns the school's rows as they would be.
func (c *timetableChange) rows(p *plans.Plan, v work.Snapshot, rows store.School) store.School {
	next := rows
	next.Years, next.Calendar = nil, nil
	for _, y := range rows.Years {
		if _, covered := c.overOf(y.SectionID); !covered {
			next.Years = append(next.Years, y)
		}
	}
	for _, d := range rows.Calendar {
		if _, covered := c.overOf(d.SectionID); !covered {
			next.Calendar = append(next.Calendar, d)
		}
	}
	part := plans.PlanPart{What: "date"}
	var slots, old []store.PatternSlot
	for _, s := range c.of {
		years, dates := s.calendar(p, &part, rows)
		next.Years, next.Calendar = append(next.Years, years...), append(next.Calendar, dates...)
		for _, x := range s.slots {
			slots = append(slots, store.PatternSlot{SectionID: s.ID, Pattern: x.Pattern, Slot: x.Name, Start: x.Start, End: x.End, Kind: x.Kind.String()})
		}
	}
	next.PatternSlots = nil
	for _, x := range rows.PatternSlots {
		if _, covered := c.overOf(x.SectionID); covered {
			old = append(old, x)
		} else {
			next.PatternSlots = append(next.PatternSlots, x)
		}
	}
	several := len(v.Sections()) > 1
	type slotKey struct {
		section       ids.Section
		pattern, slot string
	}
	over := func(id ids.Section) day.Dates { o, _ := c.overOf(id); return o }
	next.PatternSlots = append(next.PatternSlots, plans.SaidOver(p, "slot", old, slots, func(x store.PatternSlot) day.Dates { return over(x.SectionID) },
		func(x store.PatternSlot) slotKey { return slotKey{x.SectionID, x.Pattern, x.Slot} },
		func(x *store.PatternSlot) *store.Held { return &x.Held },
		func(x store.PatternSlot) string {
			text := fmt.Sprintf("%s of %s, %s to %s, %s", x.Slot, x.Pattern, x.Start, x.End, x.Kind)
			if several {
				text += ", " + sectionName(v, x.SectionID)
			}
			return text
		})...)
	p.Parts = append(p.Parts, part)
	c.meetings(p, v, rows, &next)
	return next
}

func sectionName(v work.Snapshot, id ids.Section) string {
	for _, s := range v.Sections() {
		if s.ID == id {
			return s.Name
		}
	}
	return ""
}

// meetings takes when classes meet: those of the sections of which the files say something.
func (c *timetableChange) meetings(p *plans.Plan, v work.Snapshot, rows store.School, next *store.School) {
	begin := c.of[0]
	then := v.School.Records().On(max(begin.over.From, begin.year.First))
	classes := c.classes(then)
	section := func(class ids.Class) ids.Section { return then.SectionOfClass(class).ID }
	var meetings, old []store.Meeting
	for _, m := range c.read.Bundle.Meetings {
		id, ok := classes[m.Class]
		if !ok {
			p.Wrong("timetable.csv:%d: class %q is not in the roster, by sourcedId, code or title", m.Line, m.Class)
			continue
		}
		i := slices.IndexFunc(c.of, func(s sectionTimetable) bool { return s.ID == section(id) })
		if i < 0 {
			p.Wrong("timetable.csv:%d: class %q is of %s, which has no date in calendar.csv", m.Line, m.Class, sectionName(v, section(id)))
			continue
		}
		if !slices.ContainsFunc(c.of[i].slots, func(s timetable.Slot) bool {
			return s.Name == m.Slot && (m.Pattern == "" || s.Pattern == m.Pattern)
		}) {
			p.Wrong("timetable.csv:%d: %s has no slot %s", m.Line, c.of[i].Name, work.Join(" of the pattern ", m.Slot, m.Pattern))
			continue
		}
		meetings = append(meetings, store.Meeting{ClassID: id, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
	}
	next.Timetable = nil
	for _, m := range rows.Timetable {
		if _, covered := c.overOf(section(m.ClassID)); covered {
			old = append(old, m)
		} else {
			next.Timetable = append(next.Timetable, m)
		}
	}
	names := v.School.Records().On(begin.over.From)
	next.Timetable = append(next.Timetable, plans.SaidOver(p, "meeting of a class", old, meetings, func(m store.Meeting) day.Dates { o, _ := c.overOf(section(m.ClassID)); return o },
		func(m store.Meeting) store.Meeting { m.Room = ""; return m },
		func(m *store.Meeting) *store.Held { return &m.Held },
		func(m store.Meeting) string {
			when := work.Join(" ", m.Pattern, weekdayName(m.Weekday), m.Slot)
			return work.Join(", ", names.ClassOf(m.ClassID).Title, when, m.Room)
		})...)
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

// calendar replaces the dates of the section's school year over which the files hold.
func (s *sectionTimetable) calendar(p *plans.Plan, part *plans.PlanPart, rows store.School) ([]store.SchoolYear, []store.CalendarDay) {
	old, now := map[day.Date]store.CalendarDay{}, map[day.Date]store.CalendarDay{}
	var years []store.SchoolYear
	var out []store.CalendarDay
	for _, x := range rows.Calendar {
		switch {
		case x.SectionID != s.ID:
		case x.Date >= s.year.First && x.Date <= s.year.Last:
			old[x.Date] = x
		default:
			out = append(out, x)
		}
	}
	for _, d := range s.dates {
		now[d.Date] = store.CalendarDay{SectionID: s.ID, Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod}
	}
	stays := 0
	first, last := day.NoEnd, day.NoStart
	for d := s.year.First; d <= s.year.Last; d++ {
		was, before := old[d]
		is, after := now[d]
		if !s.over.Has(d) {
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
			p.Detail("end date %s, %s", plans.SpokenYear(d), was.Pattern)
		case !before:
			part.Added++
		default:
			part.Changed++
			p.Detail("change date %s from %s to %s", plans.SpokenYear(d), dateText(was), dateText(is))
		}
		if after {
			out = append(out, is)
			first, last = min(first, d), max(last, d)
		}
	}
	if stays > 0 {
		p.Note("%s before %s stand in the calendar otherwise than in calendar.csv and stay as they are", work.Count(stays, "date"), plans.SpokenYear(s.over.From))
	}
	for _, y := range rows.Years {
		if y.SectionID == s.ID && (y.Last < s.year.First || y.First > s.year.Last) {
			years = append(years, y)
		}
	}
	if first <= last {
		years = append(years, store.SchoolYear{SectionID: s.ID, First: first, Last: last})
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
func (c *timetableChange) look(p *plans.Plan, rows, next store.School, over day.Dates) {
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
		p.Note("the slot %s is in no day pattern any more, and is in the own schedules of %s: they are not due in it, whatever takes its place", slot, work.Count(len(of), "student"))
	}
	sort.Strings(p.Notes)
}

func (c *timetableChange) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, next store.School) error {
	return store.ReplaceTimetable(ctx, tx.Tx, next)
}

// ExportTimetable returns calendar, slots and timetable of the school year as they hold today,
// as files.
func ExportTimetable(ctx context.Context, o *work.Office) (table.Files, error) {
	var b timetable.Bundle
	err := o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.Sections() {
			if s.Calendar == nil {
				continue
			}
			name := ""
			if len(v.Sections()) > 1 {
				name = s.SourcedID
			}
			if err := addSection(&b, s, name); err != nil {
				return err
			}
		}
		return nil
	})
	return timetable.Write(b), err
}

// addSection adds calendar, slots and timetable of a section's school year.
func addSection(b *timetable.Bundle, s work.Section, name string) error {
	rows := s.School.Records().Rows
	first, last := s.Calendar.Span()
	on := min(max(s.On, first), last)
	for slices.ContainsFunc(rows.PatternSlots, func(x store.PatternSlot) bool {
		return x.SectionID == s.ID && x.Once && x.On(on)
	}) {
		on++ // the day was put right: its times are those of no other
	}
	for _, x := range rows.PatternSlots {
		if x.SectionID != s.ID || !x.On(on) {
			continue
		}
		kind, err := day.ParseKind(x.Kind)
		if err != nil {
			return err
		}
		b.Slots = append(b.Slots, timetable.Slot{Section: name, Pattern: x.Pattern, Name: x.Slot, Start: x.Start, End: x.End, Kind: kind})
	}
	for _, d := range rows.Calendar {
		if d.SectionID == s.ID && d.Date >= first && d.Date <= last {
			b.Calendar = append(b.Calendar, timetable.Date{Section: name, Row: day.Row{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod}})
		}
	}
	held := s.School.Records().On(on)
	for _, m := range held.Meetings {
		if class := held.ClassOf(m.ClassID); class.Section == s.ID {
			b.Meetings = append(b.Meetings, timetable.Meeting{Class: class.SourcedID, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
		}
	}
	return nil
}

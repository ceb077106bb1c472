package assess

import (
	"fmt"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/table"
)

// The values that may be empty.
var (
	dateOrNone    = orNone(day.ParseDate, absence.NoEnd)
	minuteOrNone  = orNone(day.ParseMinute, day.Minute{})
	weekdayOrAny  = orNone(weekdayOf, 0)
	shareOrWhole  = orNone(share, policy.NewFraction(1, 1))
	shareOrNought = orNone(share, policy.Fraction{})
)

func (r *reader) readStudents() {
	r.studentFile = r.scan(Students, false, func(f *file, t *table.Table, row table.Row) {
		s := &student{Student: absence.Student{To: absence.NoEnd}, scheduled: true}
		id, named := named(t, row, "student")
		f.whole = f.whole && named
		s.ID = id
		var fromOK, toOK bool
		s.From, fromOK = value(t, row, "enrolled_from", day.ParseDate)
		if s.To, toOK = value(t, row, "enrolled_to", dateOrNone); fromOK && toOK && s.To < s.From {
			t.Wrong(row, "enrolled_to %s is before enrolled_from %s", s.To, s.From)
			toOK = false
		}
		s.sure = fromOK && toOK
		s.ShareHere, s.ShareElsewhere = shares(t, row)
		switch before := r.students[id]; {
		case !named:
		case before != nil:
			t.Wrong(row, "the student %q is there twice", id)
			before.sure = false
		default:
			r.students[id] = s
			r.roll = append(r.roll, s)
		}
	})
}

func orNone[T any](parse func(string) (T, error), none T) func(string) (T, error) {
	return func(s string) (T, error) {
		if s == "" {
			return none, nil
		}
		return parse(s)
	}
}

// shares reads the shares of full time, here and elsewhere.
func shares(t *table.Table, row table.Row) (here, elsewhere policy.Fraction) {
	here, hereOK := value(t, row, "share_here", shareOrWhole)
	if hereOK && here.Sign() == 0 {
		t.Wrong(row, "share_here is 0; it must be above 0")
		hereOK = false
	}
	elsewhere, elsewhereOK := value(t, row, "share_elsewhere", shareOrNought)
	if hereOK && elsewhereOK && here.Add(elsewhere).Cmp(1, 1) < 0 {
		t.Wrong(row, "share_here %s and share_elsewhere %s are more than 1 together", here, elsewhere)
	}
	return here, elsewhere
}

func share(s string) (policy.Fraction, error) {
	f, err := policy.ParseDecimal(s)
	if err == nil && f.Cmp(1, 1) < 0 {
		err = fmt.Errorf("%q is more than 1", s)
	}
	return f, err
}

func (r *reader) readSchedule() {
	r.scheduleFile = r.scan(Schedule, true, func(f *file, t *table.Table, row table.Row) {
		s, known := r.knownStudent(t, row)
		slot, slotOK := r.knownSlot(t, row)
		weekday, weekdayOK := value(t, row, "weekday", weekdayOrAny)
		f.whole = f.whole && row.Readable("student")
		if !known {
			return
		}
		s.listed = true
		if !slotOK || !weekdayOK {
			s.scheduled = false
			return
		}
		s.Schedule = append(s.Schedule, absence.ScheduleRow{Slot: slot, Weekday: weekday})
	})
}

func weekdayOf(s string) (int, error) {
	if len(s) != 1 || s[0] < '1' || s[0] > '7' {
		return 0, fmt.Errorf("%q is not a weekday from 1 (Monday) to 7", s)
	}
	return int(s[0] - '0'), nil
}

// knownStudent finds the student that a row names.
func (r *reader) knownStudent(t *table.Table, row table.Row) (*student, bool) {
	id := row.Get("student")
	if s := r.students[id]; s != nil {
		return s, true
	}
	if row.Readable("student") && (r.studentFile.whole || id == "") {
		t.Wrong(row, "the student %q is not in %s", id, Students)
	}
	return nil, false
}

// knownSlot finds the slot that a row names.
func (r *reader) knownSlot(t *table.Table, row table.Row) (string, bool) {
	name := row.Get("slot")
	if _, ok := r.slots[name]; ok {
		return name, true
	}
	if row.Readable("slot") && (r.slotFile.whole || name == "") {
		t.Wrong(row, "the slot %q is in no day pattern", name)
	}
	return "", false
}

// fill makes the ledger of everyone without a mark; nil where anything is wrong.
func (r *reader) fill() *absence.Ledger {
	if len(r.problems) > 0 {
		return nil
	}
	var patterns []day.Pattern
	for _, p := range r.order {
		patterns = append(patterns, p.Pattern)
	}
	var rows []day.Row
	for _, c := range r.calendarRows {
		rows = append(rows, day.Row{Date: c.date.on, Pattern: c.pattern, Term: c.term, GradingPeriod: c.grading})
	}
	calendar, err := day.NewCalendar(patterns, rows)
	if err != nil {
		r.problems = append(r.problems, table.Problem{File: Calendar, Line: 1, Text: err.Error()})
		return nil
	}
	for _, d := range r.dates {
		if d.open {
			d.day, _ = calendar.Index(d.on)
			d.pattern.Pattern = *calendar.Day(d.day).Pattern // its slots are in time order
		}
	}
	l := absence.NewLedger(calendar, r.policy.Codes)
	for _, s := range r.roll {
		s.place = l.AddStudent(s.Student)
	}
	return l
}

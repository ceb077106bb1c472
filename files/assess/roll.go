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
	dateOrStart   = orNone(day.ParseDate, day.NoStart)
	dateOrEnd     = orNone(day.ParseDate, day.NoEnd)
	minuteOrNone  = orNone(day.ParseMinute, day.Minute{})
	weekdayOrAny  = orNone(weekdayOf, 0)
	shareOrWhole  = orNone(share, policy.NewFraction(1, 1))
	shareOrNought = orNone(share, policy.Fraction{})
)

func (r *reader) readStudents() {
	r.studentFile = r.scan(Students, false, func(f *file, t *table.Table, row table.Row) {
		s := &student{scheduled: true}
		id, named := table.Named(t, row, "student")
		f.whole = f.whole && named
		s.ID = id
		var enrolled day.Dates
		if enrolled, s.sure = dates(t, row, "enrolled_from", "enrolled_to", day.ParseDate); s.sure {
			s.Enrolled = []day.Dates{enrolled}
		}
		s.ShareHere, s.ShareElsewhere, _ = shares(t, row)
		switch before := r.students[id]; {
		case !named:
		case before != nil:
			t.Wrong(row, "the student %q is there twice", id)
			before.sure, before.twice = false, true
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

// dates reads a first and a last date, of which the last may be empty.
func dates(t *table.Table, row table.Row, from, to string, first func(string) (day.Date, error)) (d day.Dates, ok bool) {
	var fromOK, toOK bool
	d.From, fromOK = table.Value(t, row, from, first)
	d.To, toOK = table.Value(t, row, to, dateOrEnd)
	if fromOK && toOK && d.Empty() {
		t.Wrong(row, "%s %s is before %s %s", to, d.To, from, d.From)
		return d, false
	}
	return d, fromOK && toOK
}

// readEnrolments reads the spans of those who left and came back.
func (r *reader) readEnrolments() {
	r.enrolmentFile = r.scan(Enrolments, true, func(f *file, t *table.Table, row table.Row) {
		s, known := r.knownStudent(t, row)
		span, ok := dates(t, row, "from", "to", day.ParseDate)
		f.whole = f.whole && row.Readable("student")
		if !known {
			return
		}
		if !s.spans {
			s.spans, s.sure, s.Enrolled = true, !s.twice, nil
		}
		if n := len(s.Enrolled); ok && n > 0 && span.From <= s.Enrolled[n-1].To {
			t.Wrong(row, "from %s is not after the end of the enrolment of %q before it", span.From, s.ID)
			ok = false
		}
		s.sure = s.sure && ok
		if ok {
			s.Enrolled = append(s.Enrolled, span)
		}
	})
}

// readShares reads the shares of full time that hold on some dates alone.
func (r *reader) readShares() {
	r.scan(Shares, true, func(_ *file, t *table.Table, row table.Row) {
		s, known := r.knownStudent(t, row)
		x := absence.Shares{}
		var datesOK, sharesOK bool
		x.On, datesOK = dates(t, row, "from", "to", day.ParseDate)
		x.Here, x.Elsewhere, sharesOK = shares(t, row)
		if !known || !datesOK {
			return
		}
		for _, other := range s.Shares {
			if !x.On.Common(other.On).Empty() {
				t.Wrong(row, "the shares of %q from %s overlap with those from %s", s.ID, x.On.From, other.On.From)
				return
			}
		}
		if sharesOK {
			s.Shares = append(s.Shares, x)
		}
	})
}

// shares reads the shares of full time, here and elsewhere.
func shares(t *table.Table, row table.Row) (here, elsewhere policy.Fraction, ok bool) {
	here, hereOK := table.Value(t, row, "share_here", shareOrWhole)
	if hereOK && here.Sign() == 0 {
		t.Wrong(row, "share_here is 0; it must be above 0")
		hereOK = false
	}
	elsewhere, elsewhereOK := table.Value(t, row, "share_elsewhere", shareOrNought)
	if hereOK && elsewhereOK && here.Add(elsewhere).Cmp(1, 1) < 0 {
		t.Wrong(row, "share_here %s and share_elsewhere %s are more than 1 together", here, elsewhere)
		return here, elsewhere, false
	}
	return here, elsewhere, hereOK && elsewhereOK
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
		weekday, weekdayOK := table.Value(t, row, "weekday", weekdayOrAny)
		on, datesOK := dates(t, row, "from", "to", dateOrStart)
		f.whole = f.whole && row.Readable("student")
		if !known {
			return
		}
		if !slotOK || !weekdayOK || !datesOK {
			s.scheduled = false
			return
		}
		s.Schedule = append(s.Schedule, absence.ScheduleRow{Slot: slot, Weekday: weekday, On: on})
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

package assess

import (
	"meldung/core/absence"
	"meldung/core/day"
	"meldung/files/table"
)

// mark is one row of the marks as far as it is known.
type mark struct {
	student *student
	date    *date // nil where it can't be read or the calendar lacks it
	slot    string
	pos     int // of the slot in the day
	absence.Mark

	code     string // as written; the row before often has the same
	dateText string
}

// readMarks looks at every mark and puts it into the ledger, unless that is nil
// or anything was wrong before.
func (r *reader) readMarks(l *absence.Ledger) {
	m := mark{}
	r.scan(Marks, false, func(_ *file, t *table.Table, row table.Row) {
		known := r.readMark(t, row, &m)
		if l == nil || !known || len(t.Problems) > 0 {
			return
		}
		if err := l.Set(m.student.place, m.date.day, m.pos, m.Mark); err != nil {
			t.Wrong(row, "%v", err)
		}
	})
}

// readMark judges one row; it returns false where something about it is unknown.
func (r *reader) readMark(t *table.Table, row table.Row, m *mark) bool {
	var studentOK, slotOK, codeOK bool
	if m.student == nil || m.student.ID != row.Get("student") {
		m.student, studentOK = r.knownStudent(t, row)
	} else {
		studentOK = true
	}
	on, dateOK := r.readDate(t, row, m)
	m.slot, slotOK = r.knownSlot(t, row)
	codeOK = r.readCode(t, row, m)
	timesOK := readTimes(t, row, m)
	m.Class = row.Get("class")
	if studentOK && slotOK && m.date != nil && m.student.takenBefore(m.date.number*len(r.slots)+r.slots[m.slot]) {
		t.Wrong(row, "the mark of %q on %s in slot %q is there twice", m.student.ID, on, m.slot)
		return false
	}
	return dateOK && r.judgePlace(t, row, m, on) && studentOK && slotOK && codeOK && timesOK
}

// readDate reads the date; m.date is set where the calendar has it.
func (r *reader) readDate(t *table.Table, row table.Row, m *mark) (on day.Date, ok bool) {
	if text := row.Get("date"); m.date == nil || text != m.dateText {
		m.date, m.dateText = r.dates[text], text
	}
	if m.date != nil {
		return m.date.on, true
	}
	return table.Value(t, row, "date", day.ParseDate)
}

func (r *reader) readCode(t *table.Table, row table.Row, m *mark) (ok bool) {
	text := row.Get("code")
	if text == m.code && text != "" {
		return true
	}
	if m.Code, ok = r.policy.Codes.Index(text); ok {
		m.code = text
		return true
	}
	m.code = ""
	if row.Readable("code") {
		t.Wrong(row, "the code %q is not in the policy's codes", text)
	}
	return false
}

func readTimes(t *table.Table, row table.Row, m *mark) bool {
	m.From, m.To = day.Minute{}, day.Minute{}
	if row.Get("from") == "" && row.Get("to") == "" {
		return true
	}
	from, fromOK := table.Value(t, row, "from", minuteOrNone)
	to, toOK := table.Value(t, row, "to", minuteOrNone)
	m.From, m.To = from, to
	if !fromOK || !toOK {
		return false
	}
	if !from.IsZero() && !to.IsZero() && !to.After(from) {
		t.Wrong(row, "to %s is not after from %s", to, from)
		return false
	}
	return true
}

// judgePlace reports the first of closed date, outside enrolment and not due, and
// returns false where there is one.
func (r *reader) judgePlace(t *table.Table, row table.Row, m *mark, on day.Date) bool {
	switch {
	case !r.calendar.usable:
	case m.date == nil && r.calendar.whole && (on < r.first || on > r.last):
		t.Wrong(row, "%s is outside the calendar", on)
		return false
	case m.date == nil && r.calendar.whole, m.date != nil && m.date.sure && !m.date.open:
		t.Wrong(row, "%s is a closed date", on)
		return false
	}
	s := m.student
	if s == nil {
		return true
	}
	if s.sure && r.enrolmentFile.whole && !s.EnrolledOn(on) {
		t.Wrong(row, "%s is outside the enrolment of %q", on, s.ID)
		return false
	}
	if m.date == nil || !m.date.sure || m.slot == "" {
		return true
	}
	var ok bool
	if m.pos, ok = m.date.pattern.Position(m.slot); !ok {
		t.Wrong(row, "slot %q is not in the day %q of %s", m.slot, m.date.pattern.Name, on)
		return false
	}
	if r.scheduleFile.whole && s.scheduled && !s.DueIn(m.slot, on) {
		t.Wrong(row, "%q is not due in slot %q on %s", s.ID, m.slot, on)
		return false
	}
	return true
}

// takenBefore reports whether a cell was taken before, and takes it.
func (s *student) takenBefore(cell int) bool {
	for len(s.seen) <= cell/64 {
		s.seen = append(s.seen, 0)
	}
	bit := uint64(1) << (cell % 64)
	before := s.seen[cell/64]&bit != 0
	s.seen[cell/64] |= bit
	return before
}

// Package absence measures how much school each student has missed, by a
// policy: rates, bands, room left and way back, charges, triggers and ladders.
// It works on a compact ledger in memory, one byte for a mark, and is told
// "as at"; it must not know of databases, files, pages or clocks.
package absence

import (
	"fmt"
	"math"

	"meldung/core/day"
	"meldung/core/policy"
)

// NoEnd is the enrolment end of a student who has not left.
const NoEnd = day.Date(math.MaxInt32)

// ScheduleRow says that a student is due in a slot on a weekday (1 = Monday …
// 7), or on every day where Weekday is 0.
type ScheduleRow struct {
	Slot    string
	Weekday int
}

// Student is what the ledger needs to know of a student.
type Student struct {
	ID             string
	From, To       day.Date // enrolment, both inclusive
	ShareHere      policy.Fraction
	ShareElsewhere policy.Fraction
	Schedule       []ScheduleRow // nil: due in every slot
}

// Mark is what a register says of one student in one slot.
type Mark struct {
	Code     int // place in the ledger's code set
	From, To day.Minute
	Class    string
}

// cell is one slot of one student: 0 unmarked; else the code's place plus one in
// the low byte and above it the place plus one of what is kept beside the mark.
type cell uint32

func (c cell) marked() bool    { return c != 0 }
func (c cell) code() int       { return int(c&0xff) - 1 }
func (c cell) hasDetail() bool { return c > 0xff }

type detail struct {
	from, to day.Minute
	class    string
}

type row struct {
	student Student
	share   policy.Fraction // here and elsewhere, of full time
	lo, hi  int             // open days within enrolment: [lo, hi]
	cells   []cell
	details []detail    // times and classes; a place given up is not used again
	due     [][7][]bool // by pattern, weekday and position; nil: always due
}

// Ledger holds the marks of one school year. Cells are laid out by student, then
// day, then slot in time order. It is not safe for use while it is changed.
type Ledger struct {
	cal     *day.Calendar
	codes   *policy.CodeSet
	offset  []int32 // first cell of each open day; one more at the end
	pattern []int16 // pattern of each open day
	rows    []row
	place   map[string]int
}

// NewLedger returns an empty ledger for the year, with codes of the given set.
func NewLedger(cal *day.Calendar, codes *policy.CodeSet) *Ledger {
	l := &Ledger{cal: cal, codes: codes, place: map[string]int{}}
	number := map[*day.Pattern]int16{}
	for i, p := range cal.Patterns() {
		number[p] = int16(i)
	}
	next := int32(0)
	for i := range cal.Days() {
		p := cal.Day(i).Pattern
		l.offset = append(l.offset, next)
		l.pattern = append(l.pattern, number[p])
		next += int32(len(p.Slots))
	}
	l.offset = append(l.offset, next)
	return l
}

// Calendar returns the ledger's school year.
func (l *Ledger) Calendar() *day.Calendar { return l.cal }

// Codes returns the ledger's code set.
func (l *Ledger) Codes() *policy.CodeSet { return l.codes }

// Len returns the number of students.
func (l *Ledger) Len() int { return len(l.rows) }

// Student returns the i-th student, in the order of adding.
func (l *Ledger) Student(i int) Student { return l.rows[i].student }

// Place returns the number of the student with this id.
func (l *Ledger) Place(id string) (int, bool) {
	i, ok := l.place[id]
	return i, ok
}

// AddStudent adds a student without marks and returns the student's number.
// Adding an id again replaces what is known of the student and keeps the marks.
func (l *Ledger) AddStudent(s Student) int {
	i, known := l.place[s.ID]
	if !known {
		i = len(l.rows)
		l.place[s.ID] = i
		l.rows = append(l.rows, row{cells: make([]cell, l.offset[len(l.offset)-1])})
	}
	r := &l.rows[i]
	r.student, r.share = s, s.ShareHere.Add(s.ShareElsewhere)
	r.lo, r.hi = l.cal.From(s.From), l.cal.UpTo(s.To)
	r.due = nil
	if s.Schedule != nil {
		r.due = l.schedule(s.Schedule)
	}
	return i
}

func (l *Ledger) schedule(rows []ScheduleRow) [][7][]bool {
	due := make([][7][]bool, len(l.cal.Patterns()))
	for n, p := range l.cal.Patterns() {
		for w := range 7 {
			due[n][w] = make([]bool, len(p.Slots))
		}
		for _, r := range rows {
			pos, ok := p.Position(r.Slot)
			if !ok {
				continue
			}
			for w := range 7 {
				if r.Weekday == 0 || r.Weekday == w+1 {
					due[n][w][pos] = true
				}
			}
		}
	}
	return due
}

// Due reports whether the student is due in the slot at this position of the
// d-th open day.
func (l *Ledger) Due(i, d, pos int) bool {
	r := &l.rows[i]
	return d >= r.lo && d <= r.hi && l.onSchedule(r, d, pos)
}

func (l *Ledger) onSchedule(r *row, d, pos int) bool {
	return r.due == nil || r.due[l.pattern[d]][l.cal.Day(d).Date.Weekday()-1][pos]
}

// Enrolled reports whether the student is on the roll on the d-th open day.
func (l *Ledger) Enrolled(i, d int) bool { return d >= l.rows[i].lo && d <= l.rows[i].hi }

// Set stores the mark of a student for a slot, replacing the one before. It
// refuses a slot in which the student is not due and a code outside the set.
func (l *Ledger) Set(i, d, pos int, m Mark) error {
	if i < 0 || i >= len(l.rows) || d < 0 || d >= l.cal.Days() || pos < 0 || pos >= len(l.cal.Day(d).Pattern.Slots) {
		return fmt.Errorf("mark of student %d on day %d in slot %d lies outside the ledger", i, d, pos)
	}
	if !l.Due(i, d, pos) {
		return fmt.Errorf("student %s is not due on %s in slot %s", l.rows[i].student.ID, l.cal.Day(d).Date, l.cal.Day(d).Pattern.Slots[pos].Name)
	}
	if m.Code < 0 || m.Code >= len(l.codes.Codes) {
		return fmt.Errorf("code number %d is not in the set", m.Code)
	}
	r := &l.rows[i]
	at := l.offset[d] + int32(pos)
	r.cells[at] = cell(m.Code + 1)
	if !m.From.IsZero() || !m.To.IsZero() || (m.Class != "" && l.codes.Codes[m.Code].Late) {
		r.details = append(r.details, detail{m.From, m.To, m.Class})
		r.cells[at] |= cell(len(r.details)) << 8
	}
	return nil
}

// Clear removes the mark of a student for a slot.
func (l *Ledger) Clear(i, d, pos int) {
	l.rows[i].cells[l.offset[d]+int32(pos)] = 0
}

// Mark returns the mark of a student for a slot; ok is false when unmarked. The
// class is kept for late marks alone.
func (l *Ledger) Mark(i, d, pos int) (m Mark, ok bool) {
	r := &l.rows[i]
	c := r.cells[l.offset[d]+int32(pos)]
	if !c.marked() {
		return Mark{}, false
	}
	det := r.detail(c)
	return Mark{Code: c.code(), From: det.from, To: det.to, Class: det.class}, true
}

// detail returns what is kept beside a mark; both times Missing where nothing is.
func (r *row) detail(c cell) detail {
	if !c.hasDetail() {
		return detail{}
	}
	return r.details[c>>8-1]
}

// Package absence measures how much school each student has missed, by a
// policy: rates, bands, room left and way back, charges, triggers and ladders.
// It works on a compact ledger in memory, one byte for a mark, and is told
// "as at"; it must not know of databases, files, pages or clocks.
package absence

import (
	"fmt"
	"iter"
	"maps"
	"slices"

	"meldung/core/day"
	"meldung/core/policy"
)

// ScheduleRow says that a student is due in a slot on a weekday (1 = Monday …
// 7), or on every day where Weekday is 0, on some dates.
type ScheduleRow struct {
	Slot    string
	Weekday int
	On      day.Dates
}

// Shares are the parts of full time that a student spends here and elsewhere, on some
// dates.
type Shares struct {
	Here, Elsewhere policy.Fraction
	On              day.Dates
}

// Student is what the ledger needs to know of a student.
type Student struct {
	ID             string
	Enrolled       []day.Dates // in order, none overlapping another
	ShareHere      policy.Fraction
	ShareElsewhere policy.Fraction
	Shares         []Shares      // in place of the two before on their dates; of several the last
	Schedule       []ScheduleRow // nil: due in every slot; else in those of the rows that hold on the date
}

// EnrolledOn reports whether the student is on the roll on a date.
func (s Student) EnrolledOn(d day.Date) bool {
	return slices.ContainsFunc(s.Enrolled, func(e day.Dates) bool { return e.Has(d) })
}

// DueIn reports whether the student is due in a slot on a date by the own schedule.
func (s Student) DueIn(slot string, d day.Date) bool {
	return s.Schedule == nil || slices.ContainsFunc(s.Schedule, func(r ScheduleRow) bool {
		return r.Slot == slot && (r.Weekday == 0 || r.Weekday == d.Weekday()) && r.On.Has(d)
	})
}

// SharesOn returns the student's shares of full time on a date.
func (s Student) SharesOn(d day.Date) (here, elsewhere policy.Fraction) {
	here, elsewhere = s.ShareHere, s.ShareElsewhere
	for _, x := range s.Shares {
		if x.On.Has(d) {
			here, elsewhere = x.Here, x.Elsewhere
		}
	}
	return here, elsewhere
}

// CodesFrom is a code set with the date from which it holds.
type CodesFrom struct {
	From day.Date
	Set  *policy.CodeSet
}

// Mark is what a register says of one student in one slot.
type Mark struct {
	Code     int // place in the code set of the day
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
	stays   []Span // open days within enrolment, in order
	cells   []cell
	details []detail    // times and classes; a place given up is not used again
	due     []dueOver   // in order, over every open day; nil: always due
	shares  []shareOver // in order, over every open day
}

// dueOver are the slots in which a student is due over a span.
type dueOver struct {
	to    int         // the last open day
	slots [][7][]bool // by pattern, weekday and position
}

// shareOver is a student's share of full time, here and elsewhere, over a span.
type shareOver struct {
	to    int // the last open day
	share policy.Fraction
}

// Ledger holds the marks of one school year. Cells are laid out by student, then
// day, then slot in time order. It is not safe for use while it is changed.
type Ledger struct {
	cal     *day.Calendar
	sets    []*policy.CodeSet // in the order in which they hold
	set     []uint8           // of each open day
	offset  []int32           // first cell of each open day; one more at the end
	pattern []int16           // pattern of each open day
	rows    []row
	place   map[string]int
}

// NewLedger returns an empty ledger for the year, with codes of the given set, and of each
// later one from its date on; these are in the order of their dates.
func NewLedger(cal *day.Calendar, codes *policy.CodeSet, later ...CodesFrom) *Ledger {
	l := &Ledger{cal: cal, sets: []*policy.CodeSet{codes}, set: make([]uint8, cal.Days()), place: map[string]int{}}
	for n, c := range later {
		l.sets = append(l.sets, c.Set)
		for d := cal.From(c.From); d < cal.Days(); d++ {
			l.set[d] = uint8(n + 1)
		}
	}
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

// Clone returns a ledger with the same students and marks, of which neither changes with the other.
func (l *Ledger) Clone() *Ledger {
	out := *l
	out.rows, out.place = slices.Clone(l.rows), maps.Clone(l.place)
	for i := range out.rows {
		r := &out.rows[i]
		r.cells, r.details = slices.Clone(r.cells), slices.Clone(r.details)
	}
	return &out
}

// Alone returns a ledger of one student, whose number there is 0, with marks changed by a function:
// what figures would be were these marks others. Changes that Set would refuse are left out.
func (l *Ledger) Alone(i int, change func(set func(d, pos int, m Mark))) *Ledger {
	out := &Ledger{cal: l.cal, sets: l.sets, set: l.set, offset: l.offset, pattern: l.pattern, rows: []row{l.rows[i]}, place: map[string]int{l.rows[i].student.ID: 0}}
	r := &out.rows[0]
	r.cells, r.details = slices.Clone(r.cells), slices.Clone(r.details)
	change(func(d, pos int, m Mark) { _ = out.Set(0, d, pos, m) })
	return out
}

// Part returns a ledger of some students, in the order given, with those of their marks that keep
// says belong to it, by place here, open day and position: what figures would be were there nothing
// else, as of the lessons of one class. Slots that are left out have no mark there.
func (l *Ledger) Part(students []int, keep func(i, d, pos int) bool) *Ledger {
	out := &Ledger{cal: l.cal, sets: l.sets, set: l.set, offset: l.offset, pattern: l.pattern, place: map[string]int{}}
	for n, i := range students {
		r := l.rows[i]
		r.cells = slices.Clone(r.cells)
		for d := range l.cal.Days() {
			for at := l.offset[d]; at < l.offset[d+1]; at++ {
				if r.cells[at].marked() && !keep(i, d, int(at-l.offset[d])) {
					r.cells[at] = 0
				}
			}
		}
		out.rows = append(out.rows, r)
		out.place[r.student.ID] = n
	}
	return out
}

// Calendar returns the ledger's school year.
func (l *Ledger) Calendar() *day.Calendar { return l.cal }

// Codes returns the code set that holds on the d-th open day.
func (l *Ledger) Codes(d int) *policy.CodeSet { return l.sets[l.set[d]] }

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
	r.student, r.stays, r.due, r.shares = s, nil, nil, nil
	for _, e := range s.Enrolled {
		if stay := (Span{l.cal.From(e.From), l.cal.UpTo(e.To)}); stay.From <= stay.To {
			r.stays = append(r.stays, stay)
		}
	}
	changes := map[day.Date]bool{day.NoStart: true}
	for _, x := range s.Shares {
		change(changes, x.On)
	}
	l.each(changes, func(d day.Date, to int) {
		here, elsewhere := s.SharesOn(d)
		r.shares = append(r.shares, shareOver{to, here.Add(elsewhere)})
	})
	if s.Schedule == nil {
		return i
	}
	changes = map[day.Date]bool{day.NoStart: true}
	for _, x := range s.Schedule {
		change(changes, x.On)
	}
	l.each(changes, func(d day.Date, to int) { r.due = append(r.due, dueOver{to, l.schedule(s.Schedule, d)}) })
	return i
}

// change notes where something that holds on some dates begins, and the date after its end.
func change(changes map[day.Date]bool, on day.Dates) {
	changes[on.From] = true
	if on.To != day.NoEnd {
		changes[on.To+1] = true
	}
}

// each parts the open days at the given dates: it yields each date with the last open day
// before the next.
func (l *Ledger) each(changes map[day.Date]bool, yield func(d day.Date, to int)) {
	dates := slices.Sorted(maps.Keys(changes))
	for n, d := range dates {
		to := l.cal.Days() - 1
		if n+1 < len(dates) {
			to = l.cal.UpTo(dates[n+1] - 1)
		}
		yield(d, to)
	}
}

// schedule returns the slots in which rows that hold on a date have a student due.
func (l *Ledger) schedule(rows []ScheduleRow, on day.Date) [][7][]bool {
	due := make([][7][]bool, len(l.cal.Patterns()))
	for n, p := range l.cal.Patterns() {
		for w := range 7 {
			due[n][w] = make([]bool, len(p.Slots))
		}
		for _, r := range rows {
			pos, ok := p.Position(r.Slot)
			if !ok || !r.On.Has(on) {
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

// dueOn returns the slots in which the student is due on the d-th open day, by position;
// nil where in all.
func (l *Ledger) dueOn(r *row, d int) []bool {
	for n := range r.due {
		if d <= r.due[n].to {
			return r.due[n].slots[l.pattern[d]][l.cal.Day(d).Date.Weekday()-1]
		}
	}
	return nil
}

// shareOn returns the student's share of full time on the d-th open day.
func (r *row) shareOn(d int) policy.Fraction {
	for n := range r.shares {
		if d <= r.shares[n].to {
			return r.shares[n].share
		}
	}
	return policy.Fraction{}
}

// within returns the open days of a span on which the student is enrolled.
func (r *row) within(span Span) iter.Seq[int] {
	return func(yield func(int) bool) {
		for _, stay := range r.stays {
			for d := max(span.From, stay.From); d <= min(span.To, stay.To); d++ {
				if !yield(d) {
					return
				}
			}
		}
	}
}

// Due reports whether the student is due in the slot at this position of the
// d-th open day.
func (l *Ledger) Due(i, d, pos int) bool {
	return l.Enrolled(i, d) && l.onSchedule(&l.rows[i], d, pos)
}

func (l *Ledger) onSchedule(r *row, d, pos int) bool {
	due := l.dueOn(r, d)
	return due == nil || due[pos]
}

// Enrolled reports whether the student is on the roll on the d-th open day.
func (l *Ledger) Enrolled(i, d int) bool {
	return slices.ContainsFunc(l.rows[i].stays, func(s Span) bool { return d >= s.From && d <= s.To })
}

// Set stores the mark of a student for a slot, replacing the one before. It
// refuses a slot in which the student is not due and a code outside the set.
func (l *Ledger) Set(i, d, pos int, m Mark) error {
	if i < 0 || i >= len(l.rows) || d < 0 || d >= l.cal.Days() || pos < 0 || pos >= len(l.cal.Day(d).Pattern.Slots) {
		return fmt.Errorf("mark of student %d on day %d in slot %d lies outside the ledger", i, d, pos)
	}
	if !l.Due(i, d, pos) {
		return fmt.Errorf("student %s is not due on %s in slot %s", l.rows[i].student.ID, l.cal.Day(d).Date, l.cal.Day(d).Pattern.Slots[pos].Name)
	}
	codes := l.Codes(d).Codes
	if m.Code < 0 || m.Code >= len(codes) {
		return fmt.Errorf("code number %d is not in the set", m.Code)
	}
	r := &l.rows[i]
	at := l.offset[d] + int32(pos)
	r.cells[at] = cell(m.Code + 1)
	if !m.From.IsZero() || !m.To.IsZero() || (m.Class != "" && codes[m.Code].Late) {
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

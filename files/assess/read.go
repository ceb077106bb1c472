package assess

import (
	"io/fs"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/table"
)

// Read reads a school's year from a folder, with the policy's codes, and looks at
// every row. Where anything is wrong the ledger is nil and the problems are in
// the order of the files and of the lines. What can't be judged because of
// another problem is not reported.
func Read(folder fs.FS, p *policy.Policy) (*absence.Ledger, []table.Problem) {
	r := &reader{folder: folder, policy: p, dates: map[string]*date{}, patterns: map[string]*pattern{}, slots: map[string]int{},
		students: map[string]*student{}}
	r.readCalendar()
	r.readSlots()
	r.judgeCalendar()
	r.readStudents()
	r.readEnrolments()
	r.readShares()
	r.readSchedule()
	ledger := r.fill()
	r.readMarks(ledger)
	if len(r.problems) > 0 {
		byFileAndLine(r.problems)
		return nil, r.problems
	}
	return ledger, nil
}

// file is one input file as far as it could be read.
type file struct {
	usable bool // the header is good
	whole  bool // and no row's name was lost
}

type reader struct {
	folder   fs.FS
	policy   *policy.Policy
	problems []table.Problem

	calendar     file
	calendarRows []calendarRow
	dates        map[string]*date // as written
	first, last  day.Date

	slotFile file
	patterns map[string]*pattern
	order    []*pattern     // as they come
	slots    map[string]int // a number for each slot name

	studentFile file
	students    map[string]*student
	roll        []*student // as they come

	enrolmentFile file
	scheduleFile  file
}

type calendarRow struct {
	line           int
	date           *date // nil where it can't be read, or is there twice
	open           bool
	pattern        string
	term, grading  string
	termOK, gradOK bool // readable
}

type date struct {
	on      day.Date
	number  int // among the rows of the calendar
	open    bool
	sure    bool // its day pattern is known
	day     int  // its place among the open dates, once the ledger is made
	pattern *pattern
}

type pattern struct {
	day.Pattern
	counted []day.Slot // with good times
}

type student struct {
	absence.Student
	place     int  // in the ledger
	sure      bool // enrolment is known
	twice     bool // among the students
	spans     bool // enrolment is that of the file of enrolments
	scheduled bool // every row of the schedule is known
	seen      []uint64
}

// scan reads one file; whole is taken back by each where a row's name is lost.
func (r *reader) scan(name string, mayMiss bool, each func(f *file, t *table.Table, row table.Row)) file {
	f := file{whole: true}
	t := table.ScanFile(r.folder, name, mayMiss, columns[name], optional[name], func(t *table.Table, row table.Row) { each(&f, t, row) })
	f.usable = t.Usable
	f.whole = f.whole && t.Usable && t.Lost == 0
	if name == Calendar && t.Usable && t.Records == 0 {
		f.usable = false
		t.Problems = append(t.Problems, table.Problem{File: name, Line: 1, Text: "the calendar has no dates"})
	}
	r.problems = append(r.problems, t.Problems...)
	return f
}

func (r *reader) readCalendar() {
	r.calendar = r.scan(Calendar, false, func(f *file, t *table.Table, row table.Row) {
		c := calendarRow{line: row.Line, term: row.Get("term"), grading: row.Get("grading_period"),
			termOK: row.Readable("term"), gradOK: row.Readable("grading_period")}
		d, dated := table.Value(t, row, "date", day.ParseDate)
		name, patterned := table.Named(t, row, "day")
		c.open, c.pattern = patterned && name != day.Closed, name
		switch text := row.Get("date"); {
		case !dated:
			f.whole = false
		case r.dates[text] != nil:
			t.Wrong(row, "the date %s is there twice", text)
			r.dates[text].sure = false
		default:
			c.date = &date{on: d, number: len(r.dates), open: name != day.Closed, sure: patterned}
			r.dates[text] = c.date
			if len(r.dates) == 1 {
				r.first, r.last = d, d
			}
			r.first, r.last = min(r.first, d), max(r.last, d)
		}
		r.calendarRows = append(r.calendarRows, c)
	})
}

func (r *reader) readSlots() {
	registration, sure := false, true
	r.slotFile = r.scan(Slots, false, func(f *file, t *table.Table, row table.Row) {
		dayName, dayOK := table.Named(t, row, "day")
		name, nameOK := table.Named(t, row, "slot")
		start, startOK := table.Value(t, row, "start", day.ParseMinute)
		end, endOK := table.Value(t, row, "end", day.ParseMinute)
		kind, kindOK := table.Value(t, row, "kind", day.ParseKind)
		f.whole = f.whole && dayOK && nameOK
		registration = registration || kind == day.Registration
		sure = sure && kindOK
		if dayOK && dayName == day.Closed {
			t.Wrong(row, "no day pattern can be called %q", day.Closed)
			f.whole = false // which pattern is meant is not known
		}
		timesOK := startOK && endOK
		if timesOK && !end.After(start) {
			t.Wrong(row, "end %s is not after start %s", end, start)
			timesOK = false
		}
		if nameOK {
			if _, ok := r.slots[name]; !ok {
				r.slots[name] = len(r.slots)
			}
		}
		if !dayOK {
			return
		}
		p := r.patterns[dayName]
		if p == nil {
			p = &pattern{Pattern: day.Pattern{Name: dayName}}
			r.patterns[dayName] = p
			r.order = append(r.order, p)
		}
		s := day.Slot{Name: name, Start: start, End: end, Kind: kind}
		if nameOK {
			if _, twice := p.Position(name); twice {
				t.Wrong(row, "the slot %q is there twice on the day %q", name, dayName)
				return
			}
			p.Slots = append(p.Slots, s)
		}
		if !timesOK || (r.policy.RegistrationOnly && (!kindOK || kind != day.Registration)) {
			return
		}
		r.judgeOverlap(t, row, p, s)
	})
	if r.policy.RegistrationOnly && r.slotFile.whole && sure && !registration {
		r.problems = append(r.problems, table.Problem{File: Slots, Line: 1, Text: "the policy counts registrations, and no slot is one"})
	}
}

// judgeOverlap reports a counted slot that overlaps with one before it, once.
func (r *reader) judgeOverlap(t *table.Table, row table.Row, p *pattern, s day.Slot) {
	for _, other := range p.counted {
		if day.Overlap(s.Start, s.End, other.Start, other.End) > 0 {
			t.Wrong(row, "slot %q from %s to %s overlaps with slot %q from %s to %s", s.Name, s.Start, s.End, other.Name, other.Start, other.End)
			break
		}
	}
	p.counted = append(p.counted, s)
}

// judgeCalendar looks at what the calendar needs from the slots and the policy
// from the calendar.
func (r *reader) judgeCalendar() {
	needTerm, needGrading := needs(r.policy)
	t := &table.Table{Name: Calendar}
	for _, c := range r.calendarRows {
		row := table.Row{Line: c.line}
		if !c.open {
			continue
		}
		p := r.patterns[c.pattern]
		if p == nil && r.slotFile.whole {
			t.Wrong(row, "the day %q has no slots in %s", c.pattern, Slots)
		}
		if c.date != nil {
			c.date.pattern = p
			c.date.sure = c.date.sure && p != nil && r.slotFile.whole
		}
		if needTerm && c.termOK && c.term == "" {
			t.Wrong(row, "term is empty on an open date, and the policy counts by term")
		}
		if needGrading && c.gradOK && c.grading == "" {
			t.Wrong(row, "grading_period is empty on an open date, and the policy counts by grading period")
		}
	}
	r.problems = append(r.problems, t.Problems...)
}

// needs says whether a window or a ladder of the policy needs terms or grading periods.
func needs(p *policy.Policy) (term, grading bool) {
	kinds := []policy.WindowKind{}
	for _, t := range p.Triggers {
		kinds = append(kinds, t.Window.Kind)
	}
	for _, l := range p.Ladders {
		kinds = append(kinds, l.Within)
	}
	return slices.Contains(kinds, policy.Term), slices.Contains(kinds, policy.GradingPeriod)
}

package gradebook

import (
	"fmt"
	"io/fs"

	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/table"
)

// Read reads course results from a folder, by a rule, and looks at every row. Where anything is wrong
// the book is nil and the problems are in the order of the files and of the lines. What can't be judged
// because of another problem is not reported.
func Read(folder fs.FS, rule *results.Rule) (*results.Book, []table.Problem) {
	r := &reader{folder: folder, rule: rule, quarters: map[string]results.Quarter{}, halves: map[string]results.Half{}, courses: map[string]*course{},
		students: map[string]int{}, unsure: map[[2]int]bool{}}
	r.readPeriods()
	r.readCourses()
	r.readStudents()
	r.book = results.NewBook(rule, r.periods, r.list, r.roll)
	r.readGrades()
	r.readExams()
	r.readRecovery()
	if len(r.problems) > 0 {
		return nil, r.problems
	}
	return r.book, nil
}

type reader struct {
	folder   fs.FS
	rule     *results.Rule
	problems []table.Problem
	book     *results.Book

	periodsWhole bool // no name was lost
	periods      []results.Period
	quarters     map[string]results.Quarter
	halves       map[string]results.Half

	coursesWhole bool
	courses      map[string]*course
	list         []results.Course

	studentsWhole bool
	students      map[string]int
	roll          []results.Student

	gradesWhole bool
	unsure      map[[2]int]bool // student and course with a grade whose half-year is not known
}

// course is a course as far as it could be read.
type course struct {
	place int
	sure  bool // whether it has an examination is known
}

// scan reads one file and reports whether all of its names are known.
func (r *reader) scan(name string, mayMiss bool, each func(t *table.Table, row table.Row) (named bool)) (whole bool) {
	whole = true
	t := table.ScanFile(r.folder, name, mayMiss, columns[name], optional[name], func(t *table.Table, row table.Row) {
		if !each(t, row) {
			whole = false
		}
	})
	r.problems = append(r.problems, t.Problems...)
	return whole && t.Usable && t.Lost == 0
}

func (r *reader) readPeriods() {
	var lines []table.Row
	t := table.ScanFile(r.folder, Periods, true, columns[Periods], nil, func(t *table.Table, row table.Row) {
		period, periodOK := table.Named(t, row, "period")
		half, halfOK := table.Named(t, row, "half_year")
		if periodOK {
			if _, twice := r.quarters[period]; twice {
				t.Wrong(row, "the period %q is there twice", period)
			} else {
				r.quarters[period] = results.Quarter(len(r.periods))
			}
		}
		if !halfOK {
			half = ""
		}
		r.periods = append(r.periods, results.Period{Name: period, Half: half})
		lines = append(lines, row)
	})
	whole := t.Usable && t.Lost == 0
	for _, p := range r.periods {
		whole = whole && p.Name != "" && p.Half != ""
	}
	if t.Absent {
		r.periods = results.DefaultPeriods()
		for i, p := range r.periods {
			r.quarters[p.Name] = results.Quarter(i)
		}
	}
	paired := whole && r.judgeHalves(t, lines)
	for i, p := range r.periods {
		if paired {
			r.halves[p.Half] = results.Quarter(i).Half()
		}
	}
	table.ByLine(t.Problems)
	r.problems = append(r.problems, t.Problems...)
	r.periodsWhole = paired && len(t.Problems) == 0
}

// judgeHalves reports half-years that are not two rows running.
func (r *reader) judgeHalves(t *table.Table, lines []table.Row) (paired bool) {
	paired = true
	wrong := func(i int, format string, args ...any) {
		paired = false
		t.Wrong(lines[i], format, args...)
	}
	seen := map[string]bool{}
	for from := 0; from < len(r.periods); {
		half := r.periods[from].Half
		to := from
		for to < len(r.periods) && r.periods[to].Half == half {
			to++
		}
		switch {
		case seen[half]:
			wrong(from, "the half-year %q is there twice; its two periods follow each other", half)
		case to-from > 2:
			wrong(from+2, "the half-year %q has more than two periods", half)
		case to-from < 2:
			wrong(from, "the half-year %q has one period; two are expected", half)
		}
		seen[half] = true
		from = to
	}
	return paired
}

func (r *reader) readCourses() {
	r.coursesWhole = r.scan(Courses, false, func(t *table.Table, row table.Row) bool {
		id, named := table.Named(t, row, "course")
		one := results.Course{ID: id}
		one.Title, _ = table.Named(t, row, "title")
		one.Area, _ = table.Named(t, row, "area")
		var creditsOK bool
		one.Credits, creditsOK = table.Value(t, row, "credits", policy.ParseDecimal)
		one.Core, _ = table.Value(t, row, "core", parseFlag)
		var sure bool
		one.ExamWeight, sure = table.Value(t, row, "exam_weight", parseWeight)
		most, mostOK := table.Value(t, row, "max_credits", parseMost)
		if mostOK && most != nil {
			if creditsOK && most.Compare(one.Credits) < 0 {
				t.Wrong(row, "max_credits %s is below credits %s", row.Get("max_credits"), row.Get("credits"))
			}
			one.Max = most
		}
		if !named {
			return false
		}
		if before := r.courses[id]; before != nil {
			t.Wrong(row, "the course %q is there twice", id)
			before.sure = false
			return true
		}
		r.courses[id] = &course{len(r.list), sure}
		r.list = append(r.list, one)
		return true
	})
}

func (r *reader) readStudents() {
	r.studentsWhole = r.scan(Students, false, func(t *table.Table, row table.Row) bool {
		id, named := table.Named(t, row, "student")
		if !named {
			return false
		}
		if _, twice := r.students[id]; twice {
			t.Wrong(row, "the student %q is there twice", id)
			return true
		}
		r.students[id] = len(r.roll)
		r.roll = append(r.roll, results.Student{ID: id, Year: row.Get("year")})
		return true
	})
}

// named are the names in a row, as far as they are known.
type named struct {
	student, course   int
	known             bool // both
	readable          bool // none of the names is empty or can't be read
	quarter           results.Quarter
	half              results.Half
	quarterOK, halfOK bool // known, where they were asked for
}

// names reads the student and the course of a row and, where they are asked for, its period and half-year.
func (r *reader) names(t *table.Table, row table.Row, period, half bool) named {
	out := named{readable: true, known: true}
	if name, ok := table.Named(t, row, "student"); ok {
		if out.student, ok = r.students[name]; !ok {
			out.known = false
			if r.studentsWhole {
				t.Wrong(row, "there is no student %q in %s", name, Students)
			}
		}
	} else {
		out.readable, out.known = false, false
	}
	if name, ok := table.Named(t, row, "course"); ok {
		if c := r.courses[name]; c != nil {
			out.course = c.place
		} else {
			out.known = false
			if r.coursesWhole {
				t.Wrong(row, "there is no course %q in %s", name, Courses)
			}
		}
	} else {
		out.readable, out.known = false, false
	}
	if half {
		if name, ok := table.Named(t, row, "half_year"); !ok {
			out.readable = false
		} else if out.half, out.halfOK = r.halves[name]; !out.halfOK && r.periodsWhole {
			t.Wrong(row, "there is no half-year %q", name)
		}
	}
	if period {
		if name, ok := table.Named(t, row, "period"); !ok {
			out.readable = false
		} else if out.quarter, out.quarterOK = r.quarters[name]; !r.periodsWhole {
			out.quarterOK = false
		} else if !out.quarterOK {
			t.Wrong(row, "there is no period %q", name)
		}
	}
	return out
}

func (r *reader) readGrades() {
	r.gradesWhole = r.scan(Grades, false, func(t *table.Table, row table.Row) bool {
		n := r.names(t, row, true, false)
		mark, _ := table.Value(t, row, "grade", r.rule.Read)
		switch {
		case !n.known:
			return n.readable
		case !n.quarterOK:
			r.unsure[[2]int{n.student, n.course}] = true
			return n.readable
		}
		rec := r.book.Record(n.student, n.course, n.quarter.Half())
		place := n.quarter % 2
		if rec.Taken[place] {
			t.Wrong(row, "%s in %s has a grade of %s twice", row.Get("student"), row.Get("course"), row.Get("period"))
			return true
		}
		rec.Taken[place], rec.Quarters[place], rec.Class[place] = true, mark, row.Get("class")
		return true
	})
}

// taken returns the record of a half-year that a row is about, or says that there is none. It is nil where
// that can't be judged, too.
func (r *reader) taken(t *table.Table, row table.Row, n named) *results.Record {
	if !n.known || !n.halfOK {
		return nil
	}
	rec := r.book.Find(n.student, n.course, n.half)
	if rec == nil && r.gradesWhole && !r.unsure[[2]int{n.student, n.course}] {
		t.Wrong(row, "%s has no row of %s in %s in %s", row.Get("student"), row.Get("course"), row.Get("half_year"), Grades)
	}
	return rec
}

func (r *reader) readExams() {
	seen := map[string]bool{}
	r.scan(Exams, true, func(t *table.Table, row table.Row) bool {
		n := r.names(t, row, false, true)
		mark, _ := table.Value(t, row, "grade", r.readExam)
		if n.known {
			if c := r.courses[row.Get("course")]; c.sure && !r.list[c.place].HasExam() {
				t.Wrong(row, "the course %q has no examination", row.Get("course"))
			}
		}
		rec := r.taken(t, row, n)
		if n.known && n.halfOK && twice(seen, row, "student", "course", "half_year") {
			t.Wrong(row, "%s in %s has an examination of %s twice", row.Get("student"), row.Get("course"), row.Get("half_year"))
			return true
		}
		if rec != nil {
			rec.Exam = mark
		}
		return true
	})
}

// readExam reads the grade of an examination, from which nobody withdraws.
func (r *reader) readExam(written string) (results.Mark, error) {
	m, err := r.rule.Read(written)
	if err == nil && m.Withdrawn {
		return results.Mark{Place: results.None}, fmt.Errorf("%q is not on the scale", written)
	}
	return m, err
}

func (r *reader) readRecovery() {
	seen := map[string]bool{}
	r.scan(Recovery, true, func(t *table.Table, row table.Row) bool {
		n := r.names(t, row, true, true)
		passed, _ := table.Value(t, row, "passed", parseKnownFlag)
		if n.halfOK && n.quarterOK && n.quarter < n.half.Quarter(0) {
			t.Wrong(row, "the recovery in %s is before its half-year %s", row.Get("period"), row.Get("half_year"))
		}
		rec := r.taken(t, row, n)
		if n.known && n.halfOK && n.quarterOK && twice(seen, row, "student", "course", "half_year", "period") {
			t.Wrong(row, "%s in %s has a recovery of %s in %s twice", row.Get("student"), row.Get("course"), row.Get("half_year"), row.Get("period"))
			return true
		}
		if rec != nil && n.quarterOK {
			rec.Recoveries = append(rec.Recoveries, results.Recovery{When: n.quarter, Known: passed != nil, Passed: passed != nil && *passed})
		}
		return true
	})
}

// twice reports whether the values of some columns were there before.
func twice(seen map[string]bool, row table.Row, columns ...string) bool {
	key := ""
	for _, c := range columns {
		key += row.Get(c) + "\x00"
	}
	if seen[key] {
		return true
	}
	seen[key] = true
	return false
}

func parseFlag(s string) (bool, error) {
	known, err := parseKnownFlag(s)
	return known != nil && *known, err
}

// parseKnownFlag reads true or false; empty is not known.
func parseKnownFlag(s string) (*bool, error) {
	is := s == "true"
	switch s {
	case "":
		return nil, nil
	case "true", "false":
		return &is, nil
	}
	return nil, fmt.Errorf("%q is neither true nor false", s)
}

// parseWeight reads a share of 0 to 1; empty is 0.
func parseWeight(s string) (policy.Fraction, error) {
	if s == "" {
		return policy.NewFraction(0, 1), nil
	}
	f, err := policy.ParseFraction(s)
	if err == nil && f.Cmp(1, 1) < 0 {
		err = fmt.Errorf("%q is more than 1", s)
	}
	return f, err
}

// parseMost reads a decimal; empty is none.
func parseMost(s string) (*policy.Fraction, error) {
	if s == "" {
		return nil, nil
	}
	f, err := policy.ParseDecimal(s)
	return &f, err
}

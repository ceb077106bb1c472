package coursework

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strconv"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/results"
	"meldung/files/gradebook"
	"meldung/files/oneroster"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// Import says what files of course results would change, and applies them when asked to: grades, and the
// items and scores of OneRoster. The students are those of the roster where the files have none. A grade takes the place of the one before, which stays on
// record with its date; a row that the files lack stays.
func Import(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "course results imported"}
	return plans.Run(ctx, o, job, opt, &fromFiles{files: files, past: opt.CorrectPast})
}

// Of a folder the grades are read, and the items of OneRoster; one of them must be there.
func (c *fromFiles) holds() (grades, items bool) {
	_, grades = c.files[gradebook.Grades]
	items = oneroster.HasGradebook(c.files)
	return grades || !items, items
}

type fromFiles struct {
	files   table.Files
	past    bool                 // results of an earlier school year may be replaced
	courses []store.GradedCourse // new and changed
	periods []store.ResultPeriod // new
	results []fileResult         // new and changed
	replace []store.ResultKey
	items   fileItems
}

// fileResult is a result whose course may have no number yet.
type fileResult struct {
	store.Result
	course string
}

func (c *fromFiles) Plan(ctx context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	rows := v.School.Records().Rows
	grades, items := c.holds()
	p := plans.New(nil, nil)
	p.When = "at all times"
	if grades {
		if err := c.planGrades(ctx, v, &p); err != nil {
			return p, rows, err
		}
	}
	if items {
		return p, rows, c.planItems(ctx, v, &p)
	}
	return p, rows, nil
}

func (c *fromFiles) planGrades(ctx context.Context, v work.Snapshot, p *plans.Plan) error {
	rule, _, err := Rule(ctx, v.Store())
	if err != nil {
		return err
	}
	there, err := store.ResultPeriods(ctx, v.Store())
	if err != nil {
		return err
	}
	if _, said := c.files[gradebook.Periods]; !said && len(there) > 0 {
		c.files = withPeriods(c.files, there)
	}
	students := map[string]store.Student{}
	if _, there := c.files[gradebook.Students]; !there {
		c.files = withRoster(c.files, v)
	}
	for _, s := range v.School.Students {
		students[s.SourcedID] = s
	}
	book, problems := gradebook.Read(c.files, rule)
	p.Add(problems, nil)
	if book == nil {
		return nil
	}
	for _, s := range book.Students {
		if _, known := students[s.ID]; !known {
			p.Wrong("%s: the school has no student %s", gradebook.Students, s.ID)
		}
	}
	c.courses, c.periods, c.results, c.replace = nil, nil, nil, nil
	c.planPeriods(p, book, there)
	ofCourse, err := c.planCourses(ctx, v, p, book)
	if err != nil {
		return err
	}
	return c.planResults(ctx, v, p, book, students, ofCourse)
}

// withPeriods adds the school's grading periods to files that have none.
func withPeriods(files table.Files, there []store.ResultPeriod) table.Files {
	out := maps.Clone(files)
	var rows [][]string
	for _, x := range there {
		rows = append(rows, []string{x.Name, x.Half})
	}
	out[gradebook.Periods] = table.Write([]string{"period", "half_year"}, rows)
	return out
}

// withRoster adds the roster's students to files that have none.
func withRoster(files table.Files, v work.Snapshot) table.Files {
	out := maps.Clone(files)
	var rows [][]string
	for _, s := range v.School.Students {
		rows = append(rows, []string{s.SourcedID, s.Year})
	}
	out[gradebook.Students] = table.Write([]string{"student", "year"}, rows)
	return out
}

// planPeriods says which grading periods are new. The files' are a run of the school's, by its names, or
// follow them: those of a new school year have names of their own.
func (c *fromFiles) planPeriods(p *plans.Plan, book *results.Book, there []store.ResultPeriod) {
	part := plans.PlanPart{What: "grading period"}
	first := slices.IndexFunc(there, func(x store.ResultPeriod) bool { return x.Name == book.Periods[0].Name })
	if first < 0 {
		first = len(there)
	}
	for i, x := range book.Periods {
		switch place := first + i; {
		case place >= len(there) && slices.ContainsFunc(there, func(o store.ResultPeriod) bool { return o.Name == x.Name || o.Half == x.Half }):
			p.Wrong("%s: %s of %s comes after %s here, and the school has it before", gradebook.Periods, x.Name, x.Half, book.Periods[i-min(i, 1)].Name)
		case place >= len(there):
			part.Added++
			c.periods = append(c.periods, store.ResultPeriod{Place: place + 1, Name: x.Name, Half: x.Half})
			p.Detail("add grading period %s of %s", x.Name, x.Half)
		case there[place].Name != x.Name || there[place].Half != x.Half:
			p.Wrong("%s: the school's grading period %d is %s of %s, and here %s of %s", gradebook.Periods, place+1, there[place].Name, there[place].Half, x.Name, x.Half)
		default:
			part.Same++
		}
	}
	p.Parts = append(p.Parts, part)
}

func (c *fromFiles) planCourses(ctx context.Context, v work.Snapshot, p *plans.Plan, book *results.Book) (map[string]ids.GradedCourse, error) {
	there, err := store.GradedCourses(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	known := map[string]ids.GradedCourse{}
	part := plans.PlanPart{What: "course"}
	for _, x := range book.Courses {
		credits, _ := x.Credits.Decimal()
		row := store.GradedCourse{Key: x.ID, Title: x.Title, Area: x.Area, Credits: credits, Core: x.Core}
		if x.HasExam() {
			row.ExamWeight = x.ExamWeight.String()
		}
		if x.Max != nil {
			row.MaxCredits, _ = x.Max.Decimal()
		}
		i := slices.IndexFunc(there, func(o store.GradedCourse) bool { return o.Key == x.ID })
		if i < 0 {
			part.Added++
			c.courses = append(c.courses, row)
			p.Detail("add course %s %s, %s credits", x.ID, x.Title, credits)
			continue
		}
		was := there[i]
		known[x.ID] = was.ID
		row.ID, row.Journal = was.ID, was.Journal
		if row == was {
			part.Same++
			continue
		}
		part.Changed++
		c.courses = append(c.courses, row)
		p.Detail("change course %s from %s, %s credits, examination %q to %s, %s credits, examination %q", x.ID, was.Title, was.Credits, was.ExamWeight, row.Title, row.Credits, row.ExamWeight)
	}
	p.Parts = append(p.Parts, part)
	return known, nil
}

func (c *fromFiles) planResults(ctx context.Context, v work.Snapshot, p *plans.Plan, book *results.Book, students map[string]store.Student, courses map[string]ids.GradedCourse) error {
	there, err := store.Results(ctx, v.Store(), v.Now.Date())
	if err != nil {
		return err
	}
	was := map[store.ResultKey]store.Result{}
	for _, r := range there {
		was[r.Key()] = r
	}
	began, over := yearBegan(v), 0
	parts := map[string]*plans.PlanPart{store.GradeResult: {What: "grade"}, store.ExamResult: {What: "examination"}, store.RecoveryResult: {What: "recovery course"}}
	for i, s := range book.Students {
		for _, r := range rowsOf(book, i) {
			r.StudentID, r.CourseID, r.Date = students[s.ID].ID, courses[r.course], v.Now.Date()
			part := parts[r.Kind]
			before, known := was[r.Key()]
			switch known = known && r.CourseID != 0; {
			case !known:
				part.Added++
			case before.Value == r.Value && before.Class == r.Class:
				part.Same++
				continue
			default:
				part.Changed++
				c.replace = append(c.replace, r.Key())
				if before.Date < began {
					over++
				}
				p.Detail("change %s of %s in %s, %s, from %s to %s", part.What, students[s.ID].Name(), r.course, r.Period, strconv.Quote(before.Value), strconv.Quote(r.Value))
			}
			c.results = append(c.results, r)
		}
	}
	if over > 0 && !c.past {
		p.Wrong("%s of an earlier school year would be replaced: where the new ones are of this year, give its periods names of their own in %s; where the earlier ones were wrong, correct the past", work.Count(over, "result"), gradebook.Periods)
	}
	for _, kind := range []string{store.GradeResult, store.ExamResult, store.RecoveryResult} {
		p.Parts = append(p.Parts, *parts[kind])
	}
	return nil
}

// yearBegan is the first date of the school year, of the section whose year began first.
func yearBegan(v work.Snapshot) day.Date {
	began := map[ids.Section]day.Date{}
	for _, y := range v.School.Records().Rows.Years {
		if y.First <= v.Now.Date() {
			began[y.SectionID] = y.First
		}
	}
	first := v.Now.Date()
	for _, d := range began {
		first = min(first, d)
	}
	return first
}

// rowsOf are a student's results as they are stored.
func rowsOf(b *results.Book, student int) []fileResult {
	var out []fileResult
	for _, r := range b.Records(student) {
		half, course := b.Periods[r.Half.Quarter(0)].Half, b.Courses[r.Course].ID
		for n := range 2 {
			if r.Taken[n] {
				out = append(out, fileResult{store.Result{Kind: store.GradeResult, Period: b.Periods[r.Half.Quarter(n)].Name, Class: r.Class[n], Value: r.Quarters[n].Written}, course})
			}
		}
		if r.Exam.Given() {
			out = append(out, fileResult{store.Result{Kind: store.ExamResult, Period: half, Value: r.Exam.Written}, course})
		}
		for _, x := range r.Recoveries {
			value := ""
			if x.Known {
				value = fmt.Sprint(x.Passed)
			}
			out = append(out, fileResult{store.Result{Kind: store.RecoveryResult, Period: half, At: b.Periods[x.When].Name, Value: value}, course})
		}
	}
	return out
}

func (c *fromFiles) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	for i := range c.periods {
		c.periods[i].Journal = tx.Entry
	}
	if err := store.AddResultPeriods(ctx, tx.Tx, c.periods); err != nil {
		return err
	}
	made := map[string]ids.GradedCourse{}
	for _, x := range c.courses {
		if x.ID == 0 {
			x.Journal = tx.Entry
		}
		id, err := store.SaveGradedCourse(ctx, tx.Tx, x)
		if err != nil {
			return err
		}
		made[x.Key] = id
	}
	rows := make([]store.Result, len(c.results))
	for i, r := range c.results {
		rows[i] = r.Result
		rows[i].Journal = tx.Entry
		if rows[i].CourseID == 0 {
			rows[i].CourseID = made[r.course]
		}
	}
	if err := store.AddResults(ctx, tx.Tx, rows, c.replace, tx.Entry); err != nil {
		return err
	}
	return c.items.write(ctx, tx)
}

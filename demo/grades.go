package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/results"
	"meldung/store"
)

// resultRule is the school's own: the usual scale and line, with what it expects of each year.
const resultRule = `title: Fairlead credits
scale:
  - {grade: A, points: 4.0}
  - {grade: A-, points: 3.7}
  - {grade: B+, points: 3.3}
  - {grade: B, points: 3.0}
  - {grade: B-, points: 2.7}
  - {grade: C+, points: 2.3}
  - {grade: C, points: 2.0}
  - {grade: C-, points: 1.7}
  - {grade: D+, points: 1.3}
  - {grade: D, points: 1.0}
  - {grade: D-, points: 0.7, nearly: true}
  - {grade: F, points: 0, failing: true}
line: 0.5
withdrawn: [W]
expected:
  - {year: 9, credits: [4.5, 9]}
  - {year: 10, credits: [13.5, 18]}
  - {year: 11, credits: [22.5, 27]}
  - {year: 12, credits: [31.5, 36]}
`

// Credits count from the ninth year on: of these years every result is on record, also of the years before
// those that are played.
const (
	firstCredits = 9
	gradedYears  = 3 // school years before the present one of which there are results
)

// areas are the subject areas, and core the courses that the ninth-year rule counts.
var (
	areas = map[string]string{"En": "Languages", "La": "Languages", "Ma": "Sciences", "Sc": "Sciences", "Co": "Sciences", "Ge": "Humanities", "Hi": "Humanities", "Ar": "Arts", "Mu": "Arts", "PE": "Sport"}
	core  = []string{"En", "Ma", "Sc", "Hi"}
)

// given is when the grades of a quarter were; those of the third are interim ones.
var given = []day.Date{day.MustDate("2025-11-14"), day.MustDate("2026-01-30"), day.MustDate("2026-03-06")}

// storied are grades that the stories need: quarter by quarter of the present year, from the course's code.
var storied = map[string]map[string]string{
	"Perran Hask": {"En": "C D F", "Ma": "B B B-"},                                                                                                                          // one course away
	"Cato Vane":   {"Ma": "C F F", "Sc": "C- F F", "En": "B C C"},                                                                                                           // two
	"Idris Quell": {"En": "F F F", "Ma": "F F F", "Sc": "F D- F", "Ge": "F F F", "Hi": "D- F F", "La": "F F F", "Ar": "F F F", "Mu": "F F F", "PE": "F F F", "Co": "F F F"}, // everything
	"Tavi Lund":   {"Ma": "F F C", "En": "B B B+"},                                                                                                                          // recovered
}

// gradebook is what is made up of the courses.
type gradebook struct {
	p       *people
	courses map[string]ids.GradedCourse // by year and code
	journal ids.Entry
	rows    []store.Result
}

func (p *people) addGrades(ctx context.Context, tx *sqlx.Tx, days []day.Date, plans [][]dayPlan, journal ids.Entry) error {
	g := &gradebook{p: p, courses: map[string]ids.GradedCourse{}, journal: journal}
	if err := g.offer(ctx, tx); err != nil {
		return err
	}
	var periods []store.ResultPeriod
	for back := gradedYears; back > 0; back-- {
		began := firstOf(back).Time().Year()
		for q := range 4 {
			of := fmt.Sprintf("of %d/%02d", began, (began+1)%100)
			periods = append(periods, store.ResultPeriod{Name: fmt.Sprintf("Quarter %d %s", q+1, of), Half: fmt.Sprintf("half-year %d %s", q/2+1, of)})
		}
	}
	for q := range 4 {
		periods = append(periods, store.ResultPeriod{Name: gradingPeriods[q].name, Half: fmt.Sprintf("half-year %d", q/2+1)})
	}
	for i := range periods {
		periods[i].Place, periods[i].Journal = i+1, journal
	}
	if err := store.AddResultPeriods(ctx, tx, periods); err != nil {
		return err
	}
	last := days[len(days)-1]
	for i, s := range p.school.Students {
		absent := 0
		for n := range days {
			if plans[i][n].slots[1].code == "U" || plans[i][n].slots[1].code == "M" {
				absent++
			}
		}
		g.student(i, s, absent, periods, last)
	}
	if err := store.AddResultRule(ctx, tx, resultRule, journal); err != nil {
		return err
	}
	return store.AddResults(ctx, tx, g.rows, nil, journal)
}

// offer writes what the courses of each year count for.
func (g *gradebook) offer(ctx context.Context, tx *sqlx.Tx) error {
	for _, year := range years {
		for _, c := range subjects {
			id := g.p.subject[fmt.Sprint(year)+c.code]
			i := slices.IndexFunc(g.p.school.Courses, func(x store.Course) bool { return x.ID == id })
			row := store.GradedCourse{Key: g.p.school.Courses[i].SourcedID, Title: c.title, Area: areas[c.code], Credits: "0.5", Core: slices.Contains(core, c.code), Journal: g.journal}
			if c.code == "Ma" || c.code == "Sc" {
				row.ExamWeight = "1/5"
			}
			made, err := store.SaveGradedCourse(ctx, tx, row)
			if err != nil {
				return err
			}
			g.courses[fmt.Sprint(year)+c.code] = made
		}
	}
	return nil
}

// yearThen is the year that a student was in, so many school years before the present one; graded is false
// where nothing of it is on record: before the years that are played, what gives no credit.
func (g *gradebook) yearThen(s store.Student, back int) (year int, graded bool) {
	now, _ := strconv.Atoi(s.Year)
	year = now + g.p.left[s.ID] - back
	here := back < g.p.years && s.EnrolledOn(given[0]-day.Date(yearLength*back))
	return year, here || g.p.left[s.ID] == 0 && year >= firstCredits // who came later came with their credits
}

// student makes a student's grades up: by a level of their own, lower with what they missed.
func (g *gradebook) student(i int, s store.Student, absent int, periods []store.ResultPeriod, last day.Date) {
	r := rand.New(rand.NewPCG(seed+4, uint64(i)))
	scale := results.DefaultRule().Scale
	level := 2.5 + r.NormFloat64()*1.9
	bent := map[string]float64{} // how much better or worse a student is in a course
	for _, c := range subjects {
		bent[c.code] = r.NormFloat64() * 1.6
	}
	grade := func(level float64) string {
		return scale[min(max(int(level+r.NormFloat64()*1.5), 0), len(scale)-1)].Name
	}
	add := func(kind, course string, period store.ResultPeriod, value string, on day.Date) {
		row := store.Result{Kind: kind, StudentID: s.ID, CourseID: g.courses[course], Period: period.Name, Value: value, Date: on, Journal: g.journal}
		if kind != store.GradeResult {
			row.Period = period.Half
		}
		g.rows = append(g.rows, row)
	}
	for back := gradedYears; back > 0; back-- {
		year, graded := g.yearThen(s, back)
		if !graded {
			continue
		}
		for _, c := range subjects {
			course := fmt.Sprint(year) + c.code
			for q := range 4 {
				period, on := periods[4*(gradedYears-back)+q], given[0]-day.Date(yearLength*back)+day.Date(60*q)
				add(store.GradeResult, course, period, grade(level+bent[c.code]), on)
				if q%2 == 1 && (c.code == "Ma" || c.code == "Sc") {
					add(store.ExamResult, course, period, grade(level), on)
				}
			}
		}
	}
	own := storied[s.Name()]
	for _, c := range subjects {
		said := strings.Fields(own[c.code])
		for q, on := range given {
			if !s.EnrolledOn(on) || on > last {
				continue
			}
			value := grade(level + bent[c.code] + float64(absent)*0.22)
			if len(said) > q {
				value = said[q]
			} else if own != nil {
				value = scale[min(max(int(level), 0), 6)].Name
			}
			add(store.GradeResult, s.Year+c.code, periods[4*gradedYears+q], value, on)
			if q == 1 && (c.code == "Ma" || c.code == "Sc") {
				if len(said) > q {
					value = said[0]
				}
				add(store.ExamResult, s.Year+c.code, periods[4*gradedYears+q], value, on)
			}
		}
	}
	if s.Name() == "Tavi Lund" {
		row := store.Result{Kind: store.RecoveryResult, StudentID: s.ID, CourseID: g.courses[s.Year+"Ma"], Period: periods[4*gradedYears].Half, At: periods[4*gradedYears+2].Name, Value: "true", Date: given[2], Journal: g.journal}
		g.rows = append(g.rows, row)
	}
}

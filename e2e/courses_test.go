package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From who is one course away to what would do it: a grade tried out on the page; a broken file of grades,
// then a good one; a teacher sees nothing of another's course.
func TestCourses(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("ase")
	w.goTo("/courses?group=year:9")
	w.see("One course away")
	w.see("Perran Hask")
	w.see("a D in Quarter 4")
	w.click(`//div[contains(@class, "student")][.//button[normalize-space()="Perran Hask"]]//button[normalize-space()="?"]`, "")
	w.see("Perran Hask, English, Quarter 4")
	w.choose("Grade", "D")
	w.see("(0 + 1) ÷ 2 = 0.5, the line is 0.5: earned")

	admin := s.open("admin")
	folder := t.TempDir()
	put := func(name, text string) string {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600))
		return filepath.Join(folder, name)
	}
	periods := put("periods.csv", "period,half_year\nQuarter 1,half-year 1\nQuarter 2,half-year 1\nQuarter 3,half-year 2\nQuarter 4,half-year 2\n")
	courses := put("courses.csv", "course,title,area,credits,core\nnav,Navigation,Sea,0.5,true\n")
	who := admin.MustEval(`() => fetch("/api/find?q=perran+hask").then((r) => r.json()).then((l) => "student-" + l[0].student.number)`).Str()
	admin.goTo("/school/import")
	admin.click(".ant-segmented-item", "Course results")
	admin.see("a grade that is replaced stays on record")
	grades := put("grades.csv", "student,class,course,period,grade\n"+who+",,nav,Quarter 3,E\n")
	admin.MustElement("input[type=file]").MustSetFiles(periods, courses, grades)
	admin.see(`grades.csv:2: grade "E" is not on the scale`)
	put("grades.csv", "student,class,course,period,grade\n"+who+",,nav,Quarter 3,F\n")
	admin.MustElement("input[type=file]").MustSetFiles(periods, courses, grades)
	admin.click("button", "Apply these")
	admin.see("Applied.")
	w.see("Two courses away") // he has failed another

	// The year's quarters in a table: a cell opens into whose grades it counts. On the sheet stand the courses.
	w.goTo("/courses?view=tables&by=year&group=year:9")
	w.see("Students not on track")
	w.click("td button", "^\\d+ of 10\\d\\d$")
	w.see("Nearly failing")
	w.goTo("/courses?view=credits")
	w.see("to regain it:")
	w.click("button.link", "Elsa Teasel")
	w.see("Year 9 rule: on track")

	// Pieces of work of the standard's gradebook.
	items := put("lineItems.csv", "sourcedId,title,dueDate,classSourcedId,resultValueMax\nknots,Knots by heart,2026-03-02,class-048,20\n")
	scores := put("results.csv", "sourcedId,lineItemSourcedId,studentSourcedId,scoreStatus,score\none,knots,"+who+",fully graded,15\n")
	admin.goTo("/school/import")
	admin.click(".ant-segmented-item", "Course results")
	admin.MustElement("input[type=file]").MustSetFiles(items, scores)
	admin.click("button", "Apply these 2 changes")
	admin.see("Applied.")

	osk := s.open("osk")
	osk.goTo("/courses")
	osk.see("In the courses that you teach")
	assert.NotContains(t, osk.text(), "Navigation")
	desk := s.open("kersey")
	assert.Equal(t, 403, desk.MustEval(`() => fetch("/api/courses").then((r) => r.status)`).Int())
}

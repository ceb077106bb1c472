package paperpage_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/paper"
	"meldung/pages"
	"meldung/pages/concernspage"
	"meldung/pages/paperpage"
	"meldung/work"
	"meldung/work/contacts"
	"meldung/work/paperlists"
	"meldung/work/takeback"
)

func papers(t *testing.T, o *work.Office, p work.Person) paperpage.PapersView {
	t.Helper()
	v, err := paperpage.Papers(t.Context(), o, p, nil, "")
	require.NoError(t, err)
	return v
}

func ready(t *testing.T, v paperpage.PapersView, id string) paperlists.Setup {
	t.Helper()
	i := slices.IndexFunc(v.Ready, func(r paperpage.ReadyPaper) bool { return r.ID == id })
	require.GreaterOrEqual(t, i, 0, id)
	return v.Ready[i].Setup
}

func made(t *testing.T, o *work.Office, p work.Person, s paperlists.Setup, format string) []byte {
	t.Helper()
	f, err := paperpage.Make(t.Context(), o, p, "", paperpage.MakeAsk{Setup: s, Format: format})
	require.NoError(t, err)
	return f.Content
}

// read is a PDF's text as another program reads it.
func read(t *testing.T, pdf []byte) string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "list.pdf")
	require.NoError(t, os.WriteFile(name, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-layout", name, "-").Output()
	require.NoError(t, err)
	return string(out)
}

func records(t *testing.T, file []byte) [][]string {
	t.Helper()
	r := csv.NewReader(bytes.NewReader(file))
	r.FieldsPerRecord = -1
	out, err := r.ReadAll()
	require.NoError(t, err)
	return out
}

func flat(s string) string { return strings.Join(strings.Fields(s), "") }

// Every student is on the emergency sheet with every digit of every number, those without a contact too, and who must
// not be called without one; the files have the same rows.
func TestTheEmergencySheetHasEveryone(t *testing.T) {
	o := demotest.Copy(t)
	v := papers(t, o, demotest.Officer)
	setup := ready(t, v, "emergency")
	said := flat(read(t, made(t, o, demotest.Officer, setup, "pdf")))
	alone := 0
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if !s.EnrolledOn(v.On) {
				continue
			}
			assert.Contains(t, said, flat(s.Family+", "), s.Name())
			assert.Contains(t, said, s.Number, s.Name())
			list := v.School.ContactsOf(s.ID)
			if len(list) == 0 {
				alone++
			}
			for _, c := range list {
				number := flat(v.School.ContactOf(c.ID).Phone)
				if !c.DoNotCall {
					assert.Contains(t, said, number, s.Name())
				}
			}
		}
		return nil
	}))
	require.Positive(t, alone)
	assert.Equal(t, alone, strings.Count(said, "nocontactonfile"))
	assert.Contains(t, said, "mustnotbecalled")
	assert.Contains(t, said, flat("612 students: everyone, all sections, as at 09:12, Tue 10 March 2026"))
	assert.Contains(t, said, flat("Student data of Fairlead School · Emergency call sheet · made by R. Tolvan"))

	rows := records(t, made(t, o, demotest.Officer, setup, "csv"))
	assert.Contains(t, rows[0][0], "Student data of Fairlead School")
	assert.Equal(t, []string{"Form", "A box to tick", "Name", "Number", "Contacts, in the order of calling", "To know"}, rows[1])
	assert.Len(t, rows[2:], 612)
}

// The same list as PDF, CSV and spreadsheet holds the same cells, dates as dates and numbers as numbers.
func TestTheSameCellsInEveryFile(t *testing.T) {
	o := demotest.Copy(t)
	v := papers(t, o, demotest.Officer)
	i := slices.IndexFunc(v.Fields, func(f paperpage.FieldRef) bool { return f.ID == "figure:ten-percent:share" })
	require.GreaterOrEqual(t, i, 0)
	setup := paperlists.Setup{Title: "All there is", Kind: "table", Across: true, Points: 7, Who: "year:9", Order: []paperlists.Order{{Field: "figure:ten-percent:share", Down: true}}}
	for _, f := range v.Fields {
		if len(setup.Columns) < 40 && f.Kind != "photo" {
			setup.Columns = append(setup.Columns, paperlists.PaperListColumn{Field: f.ID, Heading: f.Label, Width: f.Width})
		}
	}
	rows := records(t, made(t, o, demotest.Officer, setup, "csv"))[1:]
	book, err := excelize.OpenReader(bytes.NewReader(made(t, o, demotest.Officer, setup, "xlsx")))
	require.NoError(t, err)
	defer book.Close()
	cells, err := book.GetRows("List", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	require.Len(t, cells, len(rows))
	born := slices.Index(rows[0], "Date of birth")
	for n, row := range rows {
		for k, cell := range row {
			other := ""
			if k < len(cells[n]) {
				other = cells[n][k]
			}
			switch {
			case n > 0 && k == born:
				assert.Regexp(t, `^\d{4}-\d\d-\d\d$`, cell)
				assert.Regexp(t, `^\d{5}$`, other, "a day as the standard counts it")
			default:
				assert.Equal(t, strings.TrimPrefix(cell, "'"), other)
			}
		}
	}

	setup.Columns, setup.Across = nil, false
	for _, id := range []string{"sorted", "number", "travels", "figure:ten-percent:share", "contact:1:phone"} {
		f := v.Fields[slices.IndexFunc(v.Fields, func(f paperpage.FieldRef) bool { return f.ID == id })]
		setup.Columns = append(setup.Columns, paperlists.PaperListColumn{Field: id, Heading: f.Heading, Width: f.Width})
	}
	rows = records(t, made(t, o, demotest.Officer, setup, "csv"))[2:]
	printed := strings.Split(read(t, made(t, o, demotest.Officer, setup, "pdf")), "\n")
	for _, row := range rows {
		assert.True(t, slices.ContainsFunc(printed, func(line string) bool { return flat(line) == flat(strings.Join(row, "")) }), "%q", row)
	}
	assert.IsNonIncreasing(t, shares(t, rows))
}

func shares(t *testing.T, rows [][]string) (out []float64) {
	t.Helper()
	for _, r := range rows {
		x, err := strconv.ParseFloat(r[3], 64)
		require.NoError(t, err)
		out = append(out, x)
	}
	return out
}

// A person gets no cell that they may not see, whoever has shaped the list.
func TestAListGivesNobodyWhatTheyMayNotSee(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	v := papers(t, o, demotest.Admin)
	setup := paperlists.Setup{Title: "Everything", Kind: "table", Points: 8, Who: "year:7", Group: "figure:ten-percent:share", Order: []paperlists.Order{{Field: "figure:ten-percent:unexcused"}}, Sign: []string{}, Extra: []ids.Student{}, Without: []ids.Student{}}
	for _, f := range v.Fields {
		if len(setup.Columns) < 40 && !strings.HasPrefix(f.ID, "contact:") && !strings.HasPrefix(f.ID, "class:") {
			setup.Columns = append(setup.Columns, paperlists.PaperListColumn{Field: f.ID, Heading: f.Label, Width: 20})
		}
	}
	saved, err := paperlists.Save(ctx, o, demotest.Admin, "", paperlists.Saved{Name: "Everything", Setup: setup})
	require.NoError(t, err)
	id := ids.PaperList(saved.IDs[0])
	_, err = paperpage.Run(ctx, o, demotest.Maud, "", id, "csv")
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "not shared with the desk yet")
	_, err = paperpage.OnePaper(ctx, o, demotest.Maud, id)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = paperlists.Share(ctx, o, demotest.Admin, "", paperlists.Sharing{List: id, With: []ids.Account{demotest.Maud.Account}})
	require.NoError(t, err)
	f, err := paperpage.Run(ctx, o, demotest.Maud, "", id, "csv")
	require.NoError(t, err)
	rows := records(t, f.Content)
	mine := map[string]bool{}
	for _, x := range papers(t, o, demotest.Maud).Fields {
		mine[x.Label] = true
	}
	for _, heading := range rows[1] {
		assert.True(t, mine[heading], heading)
	}
	assert.NotContains(t, strings.Join(rows[1], "|"), "missed", "no figure for the desk, nor a group by one")
	look, err := paperpage.LookAt(ctx, o, demotest.Maud, "", paperpage.LookAsk{Setup: setup})
	require.NoError(t, err)
	assert.Contains(t, strings.Join(look.Left, "|"), "Share missed this year")
	for _, do := range []error{
		func() error {
			_, err := paperlists.Save(ctx, o, demotest.Maud, "", paperlists.Saved{List: id, Name: "Everything", Setup: setup})
			return err
		}(),
		func() error {
			_, err := paperlists.Share(ctx, o, demotest.Maud, "", paperlists.Sharing{List: id, With: []ids.Account{}})
			return err
		}(),
		func() error { _, err := paperlists.End(ctx, o, demotest.Maud, "", id); return err }(),
	} {
		assert.Equal(t, work.NotFound, demotest.Kind(t, do), "whom it is shared with does not change it")
	}
	_, err = paperlists.Share(ctx, o, demotest.Admin, "", paperlists.Sharing{List: id, With: []ids.Account{demotest.Osk.Account}})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err), "teachers see no papers")
	_, err = paperpage.Make(ctx, o, demotest.Osk, "", paperpage.MakeAsk{Setup: setup, Format: "csv"})
	require.NoError(t, err)
}

// A list is kept by version; a newer one stops the write of who had seen an older; what was saved or taken away is had
// back.
func TestAListIsKept(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	setup := ready(t, papers(t, o, demotest.Officer), "class")
	save := func(in paperlists.Saved) (work.Receipt, error) {
		return paperlists.Save(ctx, o, demotest.Officer, "", in)
	}
	r, err := save(paperlists.Saved{Name: "Choir", Setup: setup})
	require.NoError(t, err)
	id := ids.PaperList(r.IDs[0])
	one := func() paperpage.PaperView {
		v, err := paperpage.OnePaper(ctx, o, demotest.Officer, id)
		require.NoError(t, err)
		return v
	}
	seen := one().Seen
	next := setup
	next.Title = "Choir, summer"
	second, err := save(paperlists.Saved{List: id, Name: "Choir", Setup: next, Seen: seen})
	require.NoError(t, err)
	_, err = save(paperlists.Saved{List: id, Name: "Choir", Setup: setup, Seen: seen})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "saved meanwhile")
	_, err = save(paperlists.Saved{Name: "Choir", Setup: setup})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "there is one of that name")
	for _, wrong := range []paperlists.Saved{{Name: " ", Setup: setup}, {Name: "x", Setup: paperlists.Setup{Kind: "table", Points: 9}}} {
		_, err = save(wrong)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	}
	assert.Equal(t, []string{"Choir, summer", "Class list"}, []string{one().Setup.Title, one().Versions[0].Setup.Title})
	_, err = takeback.Entry(ctx, o, demotest.Officer, "", second.Seq)
	require.NoError(t, err)
	assert.Equal(t, "Class list", one().Setup.Title)
	ended, err := paperlists.End(ctx, o, demotest.Officer, "", id)
	require.NoError(t, err)
	had := len(papers(t, o, demotest.Officer).Lists)
	_, err = takeback.Entry(ctx, o, demotest.Admin, "", ended.Seq)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "another's")
	_, err = takeback.Entry(ctx, o, demotest.Officer, "", ended.Seq)
	require.NoError(t, err)
	assert.Len(t, papers(t, o, demotest.Officer).Lists, had+1)
}

// Every ready list makes a paper; labels name for whom there is none; who is named one by one comes on, who is taken
// off does not.
func TestReadyListsAndWhoIsOnThem(t *testing.T) {
	o := demotest.Copy(t)
	v := papers(t, o, demotest.Officer)
	assert.Len(t, v.Ready, 8)
	for _, f := range v.Fields {
		assert.False(t, strings.ContainsFunc(f.Label+f.Heading, unicode.IsControl), "%q", f.Label)
	}
	assert.True(t, slices.ContainsFunc(v.Fields, func(f paperpage.FieldRef) bool {
		return f.Label == "Unexcused days this year, by Ten per cent of days"
	}))
	for _, r := range v.Ready {
		look, err := paperpage.LookAt(t.Context(), o, demotest.Officer, "", paperpage.LookAsk{Setup: r.Setup, Page: 2})
		require.NoError(t, err)
		assert.Empty(t, look.Problem, r.Name)
		assert.Equal(t, 612, look.Students, r.Name)
		assert.Equal(t, 2, look.Number, r.Name)
		assert.NotEmpty(t, look.Page.Marks)
		if r.ID == "labels" {
			assert.Regexp(t, regexp.MustCompile(`\d+ students without a label`), strings.Join(look.Left, "|"))
		} else {
			assert.Empty(t, look.Left, r.Name)
		}
	}
	setup := ready(t, v, "class")
	form := demotest.Find(t, o, "Elis Merrow").Student.ID
	other := demotest.Find(t, o, "Cato Vane").Student.ID
	setup.Who, setup.Extra = fmt.Sprintf("students:%d two of them", form), []ids.Student{other, 99999}
	look, err := paperpage.LookAt(t.Context(), o, demotest.Officer, "", paperpage.LookAsk{Setup: setup, Names: true})
	require.NoError(t, err)
	assert.Equal(t, []string{"Elis Merrow", "Cato Vane"}, []string{look.Who[0].Name, look.Who[1].Name})
	assert.Equal(t, 1, look.Gone)
	assert.Contains(t, look.Covers, "2 students: two of them and 1 more (1 of those named not on the roll)")
	gone := setup
	gone.Who, gone.Extra = fmt.Sprintf("students:%d,99998,99999 some", form), []ids.Student{}
	look, err = paperpage.LookAt(t.Context(), o, demotest.Officer, "", paperpage.LookAsk{Setup: gone})
	require.NoError(t, err)
	assert.Equal(t, []int{1, 2}, []int{look.Students, look.Gone}, "nobody goes in silence")
	setup.Without = []ids.Student{form}
	look, err = paperpage.LookAt(t.Context(), o, demotest.Officer, "", paperpage.LookAsk{Setup: setup, Names: true})
	require.NoError(t, err)
	assert.Len(t, look.Who, 1)
	setup.Who = "class:99999"
	_, err = paperpage.LookAt(t.Context(), o, demotest.Officer, "", paperpage.LookAsk{Setup: setup})
	assert.Error(t, err)
}

// A contact that is added stands on the saved list when it is made the next time, and a second home gets a label of
// its own.
func TestAContactThatIsAddedIsOnTheNextOne(t *testing.T) {
	o := demotest.Copy(t)
	v := papers(t, o, demotest.Officer)
	della := demotest.Find(t, o, "Della Fairhurst").Student.ID
	sheet := ready(t, v, "emergency")
	saved, err := paperlists.Save(t.Context(), o, demotest.Officer, "", paperlists.Saved{Name: "Emergency", Setup: sheet})
	require.NoError(t, err)
	run := func() string {
		f, err := paperpage.Run(t.Context(), o, demotest.Officer, "", ids.PaperList(saved.IDs[0]), "csv")
		require.NoError(t, err)
		rows := records(t, f.Content)
		i := slices.IndexFunc(rows, func(r []string) bool { return slices.Contains(r, "Fairhurst, Della") })
		require.Positive(t, i)
		return strings.Join(rows[i], "|")
	}
	assert.Contains(t, run(), "no contact on file")
	for _, c := range []contacts.Contact{
		{Student: della, Given: "Ida", Family: "Fairhurst", Relation: "grandmother", Phone: "07700 900 555", Address: "5 Pier Road\nHolm", LivesWith: true},
		{Student: della, Given: "Jon", Family: "Lark", Relation: "father", Phone: "07700 900 556", Address: "8 Mill Lane\nNess", LivesWith: true},
	} {
		_, err := contacts.Set(t.Context(), o, demotest.Officer, "", c)
		require.NoError(t, err)
	}
	assert.Contains(t, run(), "1 Ida Fairhurst, grandmother, 07700 900 555")
	labels := ready(t, v, "labels")
	labels.Who = fmt.Sprintf("student:%d", della)
	said := flat(read(t, made(t, o, demotest.Officer, labels, "pdf")))
	for _, words := range []string{"Ida Fairhurst", "5 Pier Road", "Jon Lark", "8 Mill Lane"} {
		assert.Contains(t, said, flat(words), "a label to each home")
	}
}

// On a Sunday a list has the classes of Monday; of a past minute it says so; minutes are said in a file's heading, however
// somebody calls the column, and are hours and minutes on paper.
func TestAListOfAnotherDay(t *testing.T) {
	o := demotest.Copy(t)
	setup := paperlists.Setup{Title: "Monday", Kind: "table", Points: 9, Who: "year:9", Sign: []string{}, Extra: []ids.Student{}, Without: []ids.Student{}, Order: []paperlists.Order{{Field: "sorted"}},
		Columns: []paperlists.PaperListColumn{{Field: "sorted", Heading: "Name", Width: 50}, {Field: "class:3", Heading: "Lesson 3", Width: 30}, {Field: "figure:hours:missed", Heading: "Time", Width: 20}}}
	const sunday, past = "2026-03-08", "2026-03-06T09:00"
	f, err := paperpage.Make(t.Context(), o, demotest.Officer, sunday, paperpage.MakeAsk{Setup: setup, Format: "csv"})
	require.NoError(t, err)
	rows := records(t, f.Content)
	assert.Equal(t, []string{"Name", "Lesson 3", "Time (min)"}, rows[1])
	for _, r := range rows[2:] {
		assert.NotEmpty(t, r[1], r[0])
		assert.Regexp(t, `^\d+$`, r[2])
	}
	look, err := paperpage.LookAt(t.Context(), o, demotest.Officer, past, paperpage.LookAsk{Setup: setup})
	require.NoError(t, err)
	assert.Contains(t, look.Covers, "as at 09:00, Fri 6 March 2026")
	assert.True(t, slices.ContainsFunc(look.Page.Marks, func(m paper.PageMark) bool { return strings.HasSuffix(m.Text, " min") }))
	assert.Empty(t, look.Left)
}

// A list carries the school's mark on its first page.
func TestTheSchoolsMarkIsOnAList(t *testing.T) {
	o := demotest.Copy(t)
	name := filepath.Join(t.TempDir(), "list.pdf")
	require.NoError(t, os.WriteFile(name, made(t, o, demotest.Officer, ready(t, papers(t, o, demotest.Officer), "class"), "pdf"), 0o600))
	out, err := exec.Command("pdfimages", "-list", name).Output()
	require.NoError(t, err)
	assert.Len(t, regexp.MustCompile(`(?m)^\s+1\s+\d+ image `).FindAllString(string(out), -1), 1, string(out))
	assert.Empty(t, regexp.MustCompile(`(?m)^\s+2\s+\d+ image `).FindAllString(string(out), -1))
}

// Those whom a rule finds are a group of a list, the same as Concerns shows them; who may not see rules has no such group.
func TestWhomARuleFindsOnAList(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	o := demotest.Copy(t)
	some := 0
	for _, g := range papers(t, o, demotest.Officer).Groups {
		rule, is := strings.CutPrefix(g.Value, "concern:")
		if !is {
			continue
		}
		setup := ready(t, papers(t, o, demotest.Officer), "class")
		setup.Who = g.Value
		for _, of := range [][]ids.Section{nil, {demotest.Lower}} {
			look, err := paperpage.LookAt(ctx, o, demotest.Officer, "", paperpage.LookAsk{Setup: setup, Names: true}, of...)
			require.NoError(t, err)
			shown, err := concernspage.Show(ctx, o, demotest.Officer, "", concernspage.Ask{Rule: rule}, of...)
			require.NoError(t, err)
			var on, found []string
			for _, s := range look.Who {
				on = append(on, s.Name)
			}
			for _, r := range shown.Rows {
				if slices.ContainsFunc(r.Concerns, func(c pages.ConcernView) bool { return c.Kind == rule }) {
					found = append(found, r.Student.Name)
				}
			}
			assert.ElementsMatch(t, found, on, g.Label)
			assert.Zero(t, look.Gone)
			assert.Contains(t, look.Covers, "Found by "+g.Label+" at 09:12")
			some += len(on)
		}
		_, err := paperpage.LookAt(ctx, o, demotest.Maud, "", paperpage.LookAsk{Setup: setup})
		assert.Equal(t, work.NotFound, demotest.Kind(t, err), "the desk sees no rules")
	}
	assert.Greater(t, some, 50)
	assert.False(t, slices.ContainsFunc(papers(t, o, demotest.Maud).Groups, func(c pages.Choice) bool { return c.Kind == "concern" }))
}

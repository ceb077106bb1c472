package deskpage_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"meldung/core/day"
	"meldung/core/ids"
	passnumber "meldung/core/pass"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/deskpage"
	"meldung/pages/paperpage"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/desk"
	"meldung/work/school"
)

// printed keeps a file and returns what pdftotext (poppler) reads in it, line by line.
func printed(t *testing.T, f pages.File) string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "paper.pdf")
	require.NoError(t, os.WriteFile(name, f.Content, 0o600))
	text, err := exec.CommandContext(t.Context(), "pdftotext", "-layout", name, "-").Output()
	require.NoError(t, err)
	return string(text)
}

// images lists the sizes of the pictures in a file, as pdfimages (poppler) has them.
func images(t *testing.T, f pages.File) []string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "paper.pdf")
	require.NoError(t, os.WriteFile(name, f.Content, 0o600))
	list, err := exec.CommandContext(t.Context(), "pdfimages", "-list", name).Output()
	require.NoError(t, err)
	var out []string
	for _, line := range strings.Split(string(list), "\n") {
		// Page, number, kind, width, height; what is see-through has a row more of another kind.
		if row := strings.Fields(line); len(row) > 4 && row[2] == "image" {
			out = append(out, row[3]+" × "+row[4])
		}
	}
	return out
}

func TestAPassIsMadeCheckedAndReturned(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	moved, err := desk.Move(ctx, o, demotest.Maud, "pass move 1", desk.Movement{Students: demotest.IDs(t, o, "Juno Sandal"), Kind: "arrived", Reason: "overslept", Note: "bus"})
	require.NoError(t, err)
	made, err := desk.MakePass(ctx, o, demotest.Maud, "pass key 1", ids.Movement(moved.IDs[0]))
	require.NoError(t, err)
	pass, err := deskpage.ShowPass(ctx, o, made.Text)
	require.NoError(t, err)
	again, err := desk.MakePass(ctx, o, demotest.Officer, "pass key 2", ids.Movement(moved.IDs[0]))
	require.NoError(t, err)
	assert.Equal(t, pass.Number, again.Text, "a movement has one pass")
	assert.Equal(t, "lesson 1", pass.Lessons[0].Label, "from the lesson under way on")
	assert.Len(t, pass.Lessons, 7)

	for _, stock := range []string{"leaf", "thermal"} {
		f, err := deskpage.PassSheet(ctx, o, pass.Number, stock)
		require.NoError(t, err)
		said := printed(t, f)
		assert.Len(t, images(t, f), 2, "the school's emblem and the code")
		for _, w := range []string{"Fairlead School", "Late pass", "Juno Sandal", "09:12, Tue 10 March", "overslept", "bus", "09:12 by M. Kersey", pass.Number, "lesson 1"} {
			assert.Contains(t, said, w, stock)
		}
	}
	osksView, err := deskpage.ShowPass(ctx, o, " "+pass.Code+" ")
	require.NoError(t, err, "any member of staff may check a pass")
	assert.Equal(t, []string{"good", "in, came 09:12"}, []string{osksView.State, osksView.Place.Text})
	wrongDigit := []byte(pass.Number)
	wrongDigit[2] = '0' + (wrongDigit[2]-'0'+1)%10
	_, err = deskpage.ShowPass(ctx, o, string(wrongDigit))
	assert.ErrorContains(t, err, "a digit is wrong")
	_, err = deskpage.ShowPass(ctx, o, passnumber.Number(99999))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "a good number that nobody has")
	_, err = deskpage.ShowPass(ctx, o, "Juno")
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))

	shown := demotest.Desk(t, o)
	require.Len(t, shown.Passes, 1)
	assert.Equal(t, pass.Number, shown.Movements[0].Pass)
	_, err = desk.ReturnPass(ctx, o, demotest.Maud, "pass key 3", pass.Code)
	require.NoError(t, err)
	_, err = desk.ReturnPass(ctx, o, demotest.Maud, "pass key 4", pass.Number)
	assert.ErrorContains(t, err, "had come back already")
	assert.Empty(t, demotest.Desk(t, o).Passes, "those not returned are the list")
	back, err := deskpage.ShowPass(ctx, o, pass.Number)
	require.NoError(t, err)
	assert.Equal(t, "back", back.State)
	_, err = deskpage.PassSheet(ctx, o, pass.Number, "leaf")
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "it is not printed again")

	// What was taken back has no pass, and an old one is good no longer.
	left, err := desk.Move(ctx, o, demotest.Maud, "pass move 2", desk.Movement{Students: demotest.IDs(t, o, "Finn Calloway"), Kind: "departed", Reason: "appointment", Returns: "1100", Note: "father allowed it"})
	require.NoError(t, err)
	leave, err := desk.MakePass(ctx, o, demotest.Maud, "pass key 5", ids.Movement(left.IDs[0]))
	require.NoError(t, err)
	f, err := deskpage.PassSheet(ctx, o, leave.Text, "leaf")
	require.NoError(t, err)
	assert.Contains(t, printed(t, f), "Leave pass")
	clock.Set(day.At(demo.Today+1, day.MustMinute("09:20")))
	old, err := deskpage.ShowPass(ctx, o, leave.Text)
	require.NoError(t, err)
	assert.Equal(t, "another day", old.State)
	clock.Set(day.At(demo.Today, day.MustMinute("09:20")))
	_, err = desk.UndoMovement(ctx, o, demotest.Maud, "pass undo", ids.Movement(left.IDs[0]))
	require.NoError(t, err)
	undone, err := deskpage.ShowPass(ctx, o, leave.Text)
	require.NoError(t, err)
	assert.Equal(t, "taken back", undone.State)
	assert.Empty(t, demotest.Desk(t, o).Passes)
	_, err = desk.MakePass(ctx, o, demotest.Maud, "pass key 6", ids.Movement(left.IDs[0]))
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = desk.MakePass(ctx, o, demotest.Maud, "pass key 7", 99999)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func TestTheFerryIsIn(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	group := func() deskpage.GroupView {
		for _, g := range demotest.Desk(t, o).Groups {
			if g.Title == "the Petrel" {
				return g
			}
		}
		return deskpage.GroupView{}
	}
	before := group()
	var likely []ids.Student
	for _, m := range before.Members {
		if m.Likely {
			likely = append(likely, m.Student.ID)
		}
	}
	require.Greater(t, len(likely), 9)
	assert.Less(t, len(likely), len(before.Members), "whose home has spoken is not ticked")
	assert.Equal(t, "ferry", before.Reason)
	clock.Set(day.At(demo.Today, day.MustMinute("09:41")))
	got, err := desk.Move(ctx, o, demotest.Maud, "the Petrel", desk.Movement{Students: likely, Kind: "arrived", Time: "941", Reason: before.Reason})
	require.NoError(t, err)
	assert.Contains(t, got.Text, "students in at 09:41, ferry")
	after := group()
	assert.Equal(t, before.Of, after.Of)
	assert.Len(t, after.Members, len(before.Members)-len(likely))
}

func TestMarkAndPhoto(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	big := image.NewGray(image.Rect(0, 0, 1200, 800))
	big.Set(3, 3, color.White)
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, big))
	juno := demotest.Find(t, o, "Juno Sandal").Student.ID
	for _, bad := range [][]byte{[]byte("GIF89a"), {0x89, 'P', 'N', 'G'}, picture.Bytes()[:200]} {
		_, err := school.SetPhoto(ctx, o, demotest.Officer, "photo bad "+string(rune('a'+len(bad)%26)), juno, bad)
		assert.ErrorContains(t, err, "nothing was kept")
	}
	_, err := studentpage.Photo(ctx, o, demotest.Officer, juno)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = school.SetPhoto(ctx, o, demotest.Officer, "photo key 1", juno, picture.Bytes())
	require.NoError(t, err)
	_, err = school.SetEmblem(ctx, o, demotest.Admin, "emblem key 1", picture.Bytes())
	require.NoError(t, err)
	f, err := studentpage.Photo(ctx, o, demotest.Officer, juno)
	require.NoError(t, err)
	head, err := png.DecodeConfig(bytes.NewReader(f.Content))
	require.NoError(t, err)
	assert.Equal(t, []int{400, 266}, []int{head.Width, head.Height}, "small enough to keep")
	_, err = studentpage.Photo(ctx, o, work.Person{Role: work.Teacher, Staff: 99999}, juno)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "a teacher sees their own students")

	moved, err := desk.Move(ctx, o, demotest.Maud, "photo move", desk.Movement{Students: []ids.Student{juno}, Kind: "arrived"})
	require.NoError(t, err)
	pass, err := desk.MakePass(ctx, o, demotest.Maud, "photo pass", ids.Movement(moved.IDs[0]))
	require.NoError(t, err)
	sheet, err := deskpage.PassSheet(ctx, o, pass.Text, "leaf")
	require.NoError(t, err)
	assert.Equal(t, []string{"400 × 266", "400 × 266"}, images(t, sheet)[:2], "mark and photo")
	_, err = school.SetPhoto(ctx, o, demotest.Officer, "photo key 2", juno, nil)
	require.NoError(t, err)
	_, err = studentpage.Photo(ctx, o, demotest.Officer, juno)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func TestCardsOfOneAClassAndAll(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	one, err := paperpage.CardSheets(t.Context(), o, paperpage.CardsAsk{Group: "student:" + "1"})
	require.NoError(t, err)
	s, err := studentpage.Show(ctx, o, demotest.Officer, 1, "")
	require.NoError(t, err)
	assert.Contains(t, printed(t, one), s.Student.Name)
	class, err := paperpage.CardSheets(t.Context(), o, paperpage.CardsAsk{Group: "class:48", Symbol: "qr", Sheets: true})
	require.NoError(t, err)
	assert.Equal(t, "student-data-cards-8-halyard.pdf", class.Name)
	r, err := registerpage.Show(ctx, o, demotest.Officer, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	said := printed(t, class)
	for _, row := range r.Rows {
		assert.Contains(t, said, row.Student.Number)
	}
	all, err := paperpage.CardSheets(t.Context(), o, paperpage.CardsAsk{Sheets: true})
	require.NoError(t, err)
	assert.Equal(t, 612, strings.Count(printed(t, all), "Fairlead School"))
	for _, group := range []string{"class:9999", "student:x", "ship:1", "year:44"} {
		_, err = paperpage.CardSheets(t.Context(), o, paperpage.CardsAsk{Group: group})
		assert.Error(t, err, group)
	}
}

func TestLateArrivalsAndEarlyDepartures(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := desk.Move(ctx, o, demotest.Maud, "lates 1", desk.Movement{Students: demotest.IDs(t, o, "Juno Sandal"), Kind: "arrived", Reason: "overslept"})
	require.NoError(t, err)
	_, err = desk.Move(ctx, o, demotest.Maud, "lates 2", desk.Movement{Students: demotest.IDs(t, o, "Tavi Lund"), Kind: "departed", Reason: "ill"})
	require.NoError(t, err)
	_, err = desk.Move(ctx, o, demotest.Maud, "lates 3", desk.Movement{Students: demotest.IDs(t, o, "Perran Hask"), Kind: "departed", Reason: "appointment"})
	require.NoError(t, err)
	clock.Set(day.At(demo.Today, day.MustMinute("09:26")))
	_, err = desk.Move(ctx, o, demotest.Maud, "lates 4", desk.Movement{Students: demotest.IDs(t, o, "Perran Hask"), Kind: "arrived"})
	require.NoError(t, err)
	v, err := paperpage.ShowLates(ctx, o, "", paperpage.LatesAsk{From: demotest.Date, To: demotest.Date})
	require.NoError(t, err)
	rows := map[string]paperpage.LateRow{}
	for _, r := range v.Rows {
		rows[r.Student.Name] = r
		assert.Equal(t, demotest.Date, r.Date)
	}
	juno, tavi := rows["Juno Sandal"], rows["Tavi Lund"]
	assert.Equal(t, []string{"late arrival", "09:12", "overslept", "22 min"}, []string{juno.Kind, juno.At, juno.Reason, juno.Missed})
	assert.Equal(t, []string{"left early", "09:12", "ill"}, []string{tavi.Kind, tavi.At, tavi.Reason})
	assert.NotContains(t, rows, "Perran Hask", "out and back is neither")
	assert.NotContains(t, rows, "Pip Garrow", "who is expected back has not left early so far")

	// The counts are those of the rows, whatever they are counted by.
	week, err := paperpage.ShowLates(ctx, o, "", paperpage.LatesAsk{From: "2026-02-02"})
	require.NoError(t, err)
	require.Greater(t, len(week.Rows), 100)
	sum := func(counts []paperpage.LateCount) (n int) {
		for _, c := range counts {
			all := 0
			for _, k := range c.Of {
				all += k
			}
			assert.Equal(t, c.All, all, c.Label)
			n += c.All
		}
		return n
	}
	assert.Equal(t, len(week.Rows), sum(week.Reasons))
	assert.Equal(t, len(week.Rows), sum(week.Weekdays))
	students := 0
	for _, s := range week.Students {
		students += s.All
	}
	assert.Equal(t, len(week.Rows), students)
	only, err := paperpage.ShowLates(ctx, o, "", paperpage.LatesAsk{From: "2026-02-02", Kind: "left early", Group: "year:9"})
	require.NoError(t, err)
	for _, r := range only.Rows {
		assert.Equal(t, []string{"left early", "9"}, []string{r.Kind, r.Student.Year})
	}
	before, err := paperpage.ShowLates(ctx, o, "2026-03-10T09:11", paperpage.LatesAsk{From: demotest.Date})
	require.NoError(t, err)
	for _, r := range before.Rows {
		assert.NotEqual(t, "Tavi Lund", r.Student.Name, "not known yet")
	}

	csv, err := paperpage.LatesFile(ctx, o, "", paperpage.LatesAsk{From: demotest.Date}, "csv")
	require.NoError(t, err)
	assert.Equal(t, "student-data-lates-"+demotest.Date+"-to-"+demotest.Date+".csv", csv.Name)
	assert.Equal(t, len(v.Rows)+1, strings.Count(string(csv.Content), "\n"))
	assert.Contains(t, string(csv.Content), demotest.Date+`,"Sandal, Juno",`)
	book, err := paperpage.LatesFile(ctx, o, "", paperpage.LatesAsk{From: demotest.Date}, "xlsx")
	require.NoError(t, err)
	read, err := excelize.OpenReader(bytes.NewReader(book.Content))
	require.NoError(t, err)
	cells, err := read.GetRows("List")
	require.NoError(t, err)
	assert.Len(t, cells, len(v.Rows)+1)
	for _, bad := range []paperpage.LatesAsk{{From: "yesterday"}, {From: demotest.Date, To: "2026-01-01"}, {Kind: "early"}, {Group: "ship:1"}} {
		_, err := paperpage.ShowLates(ctx, o, "", bad)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), "%+v", bad)
	}
}

package outlookfile_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/outlook"
	"meldung/files/outlookfile"
	"meldung/files/table"
)

func lines(problems []table.Problem) []string {
	var out []string
	for _, p := range problems {
		out = append(out, p.String())
	}
	return out
}

func TestWhatIsWrongInAHistory(t *testing.T) {
	for name, c := range map[string]struct {
		text string
		want []string
	}{
		"rows": {"student,outcome,absence,ferry\na,1,3,Heron\n,0,1,Coot\na,0,1,Coot\nb,yes,1,Coot\nc,1,1\n", []string{
			"my history.csv:3: student is empty", `my history.csv:4: student "a" is there twice`, `my history.csv:5: outcome "yes" is not 0 or 1`, "my history.csv:6: 3 fields where the header has 4"}},
		"a column is missing":     {"student,absence\na,1\n", []string{`my history.csv:1: the column "outcome" is missing`}},
		"no input":                {"student,outcome\na,1\n", []string{"my history.csv:1: there is no column beside student and outcome; one input is needed"}},
		"no name":                 {"student,outcome,\na,1,2\n", []string{"my history.csv:1: a column has no name"}},
		"a column is there twice": {"student,outcome,x,x\na,1,2,3\n", []string{`my history.csv:1: the column "x" is there twice`}},
		"empty":                   {"", []string{"my history.csv:1: the file is empty; a header row is expected"}},
		"a typing mistake":        {"student,outcome,x\n" + mixed(21), []string{`my history.csv:12: x "1O" is not a number, as others of its column are`}},
	} {
		h, _, problems := outlookfile.Read("my history.csv", []byte(c.text), "", nil)
		assert.Nil(t, h, name)
		assert.Equal(t, c.want, lines(problems), name)
	}
}

// mixed are rows with so many different values, of which the eleventh has a letter in it.
func mixed(n int) string {
	var b strings.Builder
	for i := range n {
		x := fmt.Sprint(i)
		if i == 10 {
			x = "1O"
		}
		fmt.Fprintf(&b, "s%02d,0,%s\n", i, x)
	}
	return b.String()
}

// A column of numbers is one also where a row is left out; up to twenty values may be numbers and words.
func TestWhatAColumnIs(t *testing.T) {
	text := "student,outcome,points,form,year,never\n\"a\",1,-3.50,7A,07,\nb,0,,2,8,\nc,0,1,7B,9,\n"
	h, _, problems := outlookfile.Read("h", []byte("\ufeff"+text), "", nil)
	require.Empty(t, problems)
	assert.Equal(t, []outlook.Input{{Name: "points", Number: true}, {Name: "form"}, {Name: "year", Number: true}, {Name: "never", Number: true}}, h.Inputs)
	assert.Empty(t, h.Rows, "of nobody is everything known")
	assert.Equal(t, 3, h.LeftOut)
	for text, isNumber := range map[string]bool{"3": true, "-3": true, "0.50": true, "+3": false, ".5": false, "5.": false, "1e3": false, "-": false, "- 3": false, "1,5": false, "٣": false} {
		h, _, problems := outlookfile.Read("h", []byte("student,outcome,x\na,0,\""+text+"\"\n"), "", nil)
		require.Empty(t, problems)
		assert.Equal(t, isNumber, h.Inputs[0].Number, text)
	}
	_, _, problems = outlookfile.Read("h", []byte("student,outcome,x\n"+mixed(20)), "", nil)
	assert.Empty(t, problems, "twenty values are a category")
}

func TestStudentsOfToday(t *testing.T) {
	history := []byte("student,outcome,x,ferry\na,1,3,Heron\nb,0,many,Coot\n")
	_, _, problems := outlookfile.Read("h.csv", history, "t.csv", []byte("student,ferry,other\nn,Coot,1\n"))
	assert.Equal(t, []string{`t.csv:1: the column "x" is missing`}, lines(problems))
	history = []byte("student,outcome,x,ferry\na,1,3,Heron\nb,0,4,Coot\n")
	h, students, problems := outlookfile.Read("h.csv", history, "t.csv", []byte("ferry,student,x,note\nCoot,n,1,9\n,m,,\n"))
	require.Empty(t, problems)
	assert.Len(t, h.Rows, 2)
	assert.Equal(t, []outlookfile.Student{{ID: "n", Values: []outlook.Value{{Known: true, Number: 1}, {Known: true, Word: "Coot"}}}, {ID: "m", Values: []outlook.Value{{}, {}}}}, students)
	_, _, problems = outlookfile.Read("h.csv", append(history, "c,2,1,Coot\n"...), "t.csv", []byte("student,x,ferry\nn,few,Coot\nn,1,Coot\n,1,Coot\n"))
	assert.Equal(t, []string{`h.csv:4: outcome "2" is not 0 or 1`, `t.csv:2: x "few" is not a number`, `t.csv:3: student "n" is there twice`, "t.csv:4: student is empty"}, lines(problems))
}

func TestAreas(t *testing.T) {
	in := []outlook.Input{{Name: "absent"}, {Name: "late"}, {Name: "a=b"}, {Name: "fights"}}
	a, err := outlookfile.ParseAreas("late=attendance,absent=attendance,fights=conduct", in)
	require.NoError(t, err)
	assert.Equal(t, []string{"attendance", "a=b", "conduct"}, a.Names)
	assert.Equal(t, []float64{3, 4, 8}, a.Shares(outlook.Outlook{Shares: []float64{1, 2, 4, 8}}))
	a, err = outlookfile.ParseAreas("", in)
	require.NoError(t, err)
	assert.Len(t, a.Names, 4)
	for _, wrong := range []string{"late", "late=", "nothing=x", "late=x,late=y", "late=x,", "a=b=c"} {
		_, err := outlookfile.ParseAreas(wrong, in)
		assert.Error(t, err, wrong)
	}
}

// What is written: the intercept first, what is left out in its place and empty, no minus nought.
func TestFiles(t *testing.T) {
	var b strings.Builder
	b.WriteString("student,outcome,x,constant,ferry\n")
	for i := range 120 {
		fmt.Fprintf(&b, "s%03d,%d,%d,0,%s\n", i, i%3/2, (i*7)%11, []string{"Heron", "Coot"}[i%2])
	}
	past, students, problems := outlookfile.Read("h", []byte(b.String()), "t", []byte("student,x,constant,ferry\nn,3,0,Coot\nm,,,Gull\n"))
	require.Empty(t, problems)
	f, err := outlook.New(past, 0.5)
	require.NoError(t, err)
	areas, err := outlookfile.ParseAreas("ferry=way", past.Inputs)
	require.NoError(t, err)
	files := outlookfile.Measure(f, students, areas)
	assert.Len(t, files, 4)
	coefficients := strings.Split(string(files[outlookfile.Coefficients]), "\n")
	assert.Equal(t, "term,estimate,std_error,z,p", coefficients[0])
	assert.True(t, strings.HasPrefix(coefficients[1], "(Intercept),"))
	assert.Equal(t, "constant,,,,", coefficients[3])
	assert.True(t, strings.HasPrefix(coefficients[4], "ferryHeron,"))
	assert.Contains(t, string(files[outlookfile.FitFile]), "ridge,0.5\n")
	assert.Contains(t, string(files[outlookfile.FitFile]), "warning,\n")
	outlooks := strings.Split(string(files[outlookfile.Outlooks]), "\n")
	assert.Equal(t, "student,probability,low,high,missing,share_x,share_constant,share_way", outlooks[0])
	assert.Contains(t, outlooks[2], ",x;constant;ferry,")
	for name, content := range files {
		assert.NotContains(t, string(content), ",-0,", name)
	}
}

func FuzzHistory(f *testing.F) {
	f.Add("student,outcome,x\na,1,2\n")
	f.Add("student,outcome,x,ferry\na,1,2,\nb,0,,Coot\n")
	f.Fuzz(func(t *testing.T, text string) {
		h, _, problems := outlookfile.Read("h", []byte(text), "t", []byte(text))
		if h == nil {
			assert.NotEmpty(t, problems)
			return
		}
		for _, r := range h.Rows {
			assert.Len(t, r.Values, len(h.Inputs))
		}
	})
}

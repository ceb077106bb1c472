package gradebook_test

import (
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/results"
	"meldung/files/gradebook"
	"meldung/files/table"
)

func folderOf(files map[string]string) fstest.MapFS {
	out := fstest.MapFS{}
	for name, text := range files {
		out[name] = &fstest.MapFile{Data: []byte(text)}
	}
	return out
}

func (w world) folder() fstest.MapFS {
	text := func(header string, rows [][]string) *fstest.MapFile {
		return &fstest.MapFile{Data: table.Write(strings.Split(header, ","), rows)}
	}
	out := fstest.MapFS{
		"courses.csv":  text("course,title,area,credits,core,exam_weight,max_credits", w.courses),
		"students.csv": text("student,year", w.students),
		"grades.csv":   text("student,class,course,period,grade", w.grades),
		"exams.csv":    text("student,course,half_year,grade", w.exams),
		"recovery.csv": text("student,course,half_year,period,passed", w.recover),
		"periods.csv":  text("period,half_year", w.periods),
	}
	return out
}

// draw makes a school's results up: one or two years, examinations, recoveries, grades that are missing.
func draw(r *rand.Rand) world {
	pick := func(list ...string) string { return list[r.IntN(len(list))] }
	w := world{rule: naiveDefault()}
	if r.IntN(3) == 0 { // numbers instead of letters
		w.rule.scale, w.rule.withdrawn = nil, []string{"gone", "left"}
		for i, from := range []string{"90", "80.5", "70", "60", "0"} {
			w.rule.scale = append(w.rule.scale, naiveGrade{name: string(rune('A' + i)), points: fmt.Sprint(4 - i), from: from, failing: i == 4, nearly: i == 3})
		}
	}
	w.rule.line = pick("0.5", "1", "3/4", "1.25")
	for _, y := range []string{"9", "10"} {
		w.rule.expected = append(w.rule.expected, [3]string{y, pick("0", "1.5", "2"), pick("2.5", "3")})
	}
	grade := func() string {
		if w.rule.scale[0].from != "" {
			return pick("", "97", "80.5", "80.49", "65", "60", "59.9", "12", "0")
		}
		return pick("", "A", "B-", "C", "D+", "D", "D-", "F", "F", "F")
	}
	for h := range []int{2, 4, 3}[r.IntN(3)] {
		for q := range 2 {
			w.periods = append(w.periods, []string{fmt.Sprintf("Q%d", 2*h+q+1), fmt.Sprintf("H%d", h+1)})
		}
	}
	for i := range 1 + r.IntN(5) {
		w.courses = append(w.courses, []string{fmt.Sprintf("c%d", i), "Course", "Area", pick("0.5", "1", "0.25"), pick("true", "false", ""), pick("", "0", "0.2", "1/3", "1"), pick("", "", "1", "1.5")})
	}
	for i := range 1 + r.IntN(6) {
		id := fmt.Sprintf("s%d", i)
		w.students = append(w.students, []string{id, pick("9", "10", "11", "")})
		for _, c := range w.courses {
			taken := map[string]bool{}
			for _, p := range w.periods {
				if r.IntN(4) == 0 {
					continue
				}
				g := grade()
				if r.IntN(15) == 0 {
					g = w.rule.withdrawn[r.IntN(len(w.rule.withdrawn))]
				}
				w.grades = append(w.grades, []string{id, pick("", "k1"), c[0], p[0], g})
				taken[p[1]] = true
			}
			for h := 0; h < len(w.periods); h += 2 {
				half := w.periods[h][1]
				if !taken[half] {
					continue
				}
				if c[5] != "" && c[5] != "0" && r.IntN(3) > 0 {
					w.exams = append(w.exams, []string{id, c[0], half, grade()})
				}
				for at := h; at < len(w.periods); at++ {
					if r.IntN(6) == 0 {
						w.recover = append(w.recover, []string{id, c[0], half, w.periods[at][0], pick("true", "false", "")})
					}
				}
			}
		}
	}
	r.Shuffle(len(w.grades), func(i, j int) { w.grades[i], w.grades[j] = w.grades[j], w.grades[i] })
	return w
}

// Cell by cell as a second program has it, for schools drawn at random, as at each quarter.
func TestAgainstASecondProgram(t *testing.T) {
	for seed := range uint64(300) {
		w := draw(rand.New(rand.NewPCG(seed, 7)))
		rule, err := gradebook.ParseRule([]byte(w.rule.yaml()))
		require.NoError(t, err, w.rule.yaml())
		book, problems := gradebook.Read(w.folder(), rule)
		require.Empty(t, problems, "seed %d", seed)
		for at, p := range w.periods {
			got := gradebook.Measure(book, results.Quarter(at))
			students, courses := w.results(p[0])
			for name, want := range map[string][][]string{"students.csv": students, "courses.csv": courses} {
				rows, err := csv.NewReader(strings.NewReader(string(got[name]))).ReadAll()
				require.NoError(t, err)
				require.Equal(t, len(want), len(rows)-1, "seed %d %s %s", seed, p[0], name)
				for i, row := range want {
					require.Equal(t, row, rows[i+1], "seed %d %s %s", seed, p[0], name)
				}
			}
		}
	}
}

// good is a folder in which nothing is wrong.
func good() map[string]string {
	return map[string]string{
		"courses.csv":  "course,title,area,credits,core,exam_weight,max_credits\nma,Maths,Sciences,0.5,true,0.2,\nart,Art,Arts,0.5,,,0.5\n",
		"students.csv": "student,year,other\ns1,9,x\ns2,,y\n",
		"grades.csv":   "student,class,course,period,grade\ns1,k1,ma,Q1,F\ns1,,ma,Q2,D-\ns2,k1,art,Q3,W\ns2,k1,ma,Q3,\n",
		"exams.csv":    "student,course,half_year,grade\ns1,ma,H1,C\ns2,ma,H2,\n",
		"recovery.csv": "student,course,half_year,period,passed\ns1,ma,H1,Q3,true\ns1,ma,H1,Q4,\n",
	}
}

func TestFilesByHand(t *testing.T) {
	book, problems := gradebook.Read(folderOf(good()), results.DefaultRule())
	require.Empty(t, problems)
	got := gradebook.Measure(book, 2)
	assert.Equal(t, "student,courses,failing,nearly,lost,away,credits_earned,credits_expected,credits_behind\ns1,0,0,0,0,0,0.5,,\ns2,1,0,0,0,0,0,,\n", string(got["students.csv"]))
	// 0.8 · (0 + 0.7) / 2 + 0.2 · 2.0 = 0.68
	assert.Equal(t, "student,course,half_year,q1,q2,exam,value,state,needed\ns1,ma,H1,F,D-,C,0.680,earned,\ns2,ma,H2,,,,,open,D-\n", string(got["courses.csv"]))
	files := good()
	delete(files, "exams.csv")
	delete(files, "recovery.csv")
	book, problems = gradebook.Read(folderOf(files), results.DefaultRule())
	require.Empty(t, problems)
	assert.Contains(t, string(gradebook.Measure(book, 1)["courses.csv"]), "s1,ma,H1,F,D-,,,stands_lost,D+\n")
	assert.Contains(t, string(gradebook.Measure(book, 2)["courses.csv"]), "s1,ma,H1,F,D-,,,lost,\n", "over, without the examination")
}

// What is wrong is told by file and line, once, and nothing that only follows from it.
func TestFaults(t *testing.T) {
	four := "period,half_year\nQ1,H1\nQ2,H1\nQ3,H2\nQ4,H2\n"
	for _, c := range []struct {
		file, old, next string // next alone is the whole file; empty deletes it
		want            string
	}{
		{"periods.csv", "", "period,half_year\nQ1,H1\nQ2,H1\nQ3,H1\nQ4,H2\n", `periods.csv:4: the half-year "H1" has more than two periods|periods.csv:5: the half-year "H2" has one period; two are expected`},
		{"periods.csv", "", four + "Q1,H3\nQ5,H3\n", `periods.csv:6: the period "Q1" is there twice`},
		{"periods.csv", "", four + "Q5,H1\nQ6,H1\n", `periods.csv:6: the half-year "H1" is there twice; its two periods follow each other`},
		{"periods.csv", "", "period,half_year\nQ1,H1\n,H1\nQ3,H2\nQ4,H2\n", `periods.csv:3: period is empty`},
		{"courses.csv", "", "", `courses.csv: the file is missing`},
		{"courses.csv", "ma,Maths,Sciences,0.5,true,0.2,", ",Maths,Sciences,.5,yes,1.1,x", `courses.csv:2: course is empty|courses.csv:2: credits ".5" is not a decimal such as 0.5|courses.csv:2: core "yes" is neither true nor false|courses.csv:2: exam_weight "1.1" is more than 1|courses.csv:2: max_credits "x" is not a decimal such as 0.5`},
		{"courses.csv", "art,Art,Arts,0.5,,,0.5", "art,Art,Arts,0.5,,,0.25", `courses.csv:3: max_credits 0.25 is below credits 0.5`},
		{"courses.csv", "art,Art,Arts,0.5,,,0.5", "ma,Art,Arts,0.5,,,0.5", `courses.csv:3: the course "ma" is there twice|grades.csv:4: there is no course "art" in courses.csv`},
		{"students.csv", "s2,,y", "s1,,y", `students.csv:3: the student "s1" is there twice|grades.csv:4: there is no student "s2" in students.csv|grades.csv:5: there is no student "s2" in students.csv|exams.csv:3: there is no student "s2" in students.csv`},
		{"grades.csv", "s1,k1,ma,Q1,F", "s1,k1,ma,Q9,E", `grades.csv:2: there is no period "Q9"|grades.csv:2: grade "E" is not on the scale`},
		{"grades.csv", "s1,,ma,Q2,D-", "s1,other,ma,Q1,D-", `grades.csv:3: s1 in ma has a grade of Q1 twice`},
		{"grades.csv", "s1,,ma,Q2,D-", "s1,,ma,Q2", `grades.csv:3: 4 fields where the header has 5`},
		{"exams.csv", "s2,ma,H2,", "s2,art,H2,W", `exams.csv:3: grade "W" is not on the scale|exams.csv:3: the course "art" has no examination`},
		{"exams.csv", "s2,ma,H2,", "s2,ma,H1,A", `exams.csv:3: s2 has no row of ma in H1 in grades.csv`},
		{"exams.csv", "s2,ma,H2,", "s1,ma,H1,A", `exams.csv:3: s1 in ma has an examination of H1 twice`},
		{"exams.csv", "s2,ma,H2,", "s2,ma,H7,A", `exams.csv:3: there is no half-year "H7"`},
		{"recovery.csv", "s1,ma,H1,Q4,", "s2,ma,H2,Q2,maybe", `recovery.csv:3: passed "maybe" is neither true nor false|recovery.csv:3: the recovery in Q2 is before its half-year H2`},
		{"recovery.csv", "s1,ma,H1,Q4,", "s1,ma,H1,Q3,", `recovery.csv:3: s1 in ma has a recovery of H1 in Q3 twice`},
		{"recovery.csv", "s1,ma,H1,Q4,", "s1,art,H1,Q4,", `recovery.csv:3: s1 has no row of art in H1 in grades.csv`},
	} {
		files := good()
		switch {
		case c.old != "":
			require.Contains(t, files[c.file], c.old)
			files[c.file] = strings.Replace(files[c.file], c.old, c.next, 1)
		case c.next == "":
			delete(files, c.file)
		default:
			files[c.file] = c.next
		}
		book, problems := gradebook.Read(folderOf(files), results.DefaultRule())
		assert.Nil(t, book)
		var got []string
		for _, p := range problems {
			got = append(got, p.String())
		}
		assert.Equal(t, strings.Split(c.want, "|"), got)
	}
}

func TestRuleFaults(t *testing.T) {
	rule, err := gradebook.ParseRule([]byte("\ufefftitle: ours\nwithdrawn: []\n"))
	require.NoError(t, err)
	assert.Len(t, rule.Scale, 12)
	assert.Empty(t, rule.Withdrawn)
	assert.Equal(t, "1/2", rule.Line.String())
	for text, want := range map[string]string{
		"":             "rule: one YAML document",
		"lines: 1\n":   `rule: line 1: "lines" is not a key here`,
		"line: half\n": `rule: line 1: line "half" is not a fraction`,
		"line:\n":      "rule: line 1: line is empty",
		"scale: []\n":  "rule: line 1: the scale has no grades",
		"scale:\n  - {grade: A, points: 1}\n  - {grade: B, points: 2}\n":                   "rule: line 3: the scale goes from the best to the worst; the points of B",
		"scale:\n  - {grade: A, points: 1}\n  - {grade: A, points: 1}\n":                   "rule: line 3: the grade A is there twice",
		"scale:\n  - {grade: A, points: 1, failing: true, nearly: true}\n":                 "both failing and nearly failing",
		"scale:\n  - {grade: A, points: 1, from: 5}\n  - {grade: B, points: 1}\n":          "every grade has a from, or none has",
		"scale:\n  - {grade: A, points: 1, from: 5}\n  - {grade: B, points: 1, from: 5}\n": "from of B is not below",
		"scale:\n  - {grade: W, points: 1}\n":                                              `"W" is a grade, and the mark of who has withdrawn`,
		"withdrawn: [D]\n":                                                                 "D is a grade of the scale",
		"expected:\n  - {year: 9, credits: [1]}\n":                                         "the year 9 has 1 figures; two are expected",
		"expected:\n  - {year: 9, credits: [1, 2]}\n  - {year: 9, credits: [1, 2]}\n":      "rule: line 3: the year 9 is there twice",
		"expected:\n  - {year: 9, credits: [1, 1/3]}\n":                                    "is not a decimal",
	} {
		_, err := gradebook.ParseRule([]byte(text))
		assert.ErrorContains(t, err, want, text)
	}
	numbers, err := gradebook.ParseRule([]byte("scale:\n  - {grade: good, points: 2, from: 50}\n  - {grade: bad, points: 0, from: 10.5, failing: true}\n"))
	require.NoError(t, err)
	for written, want := range map[string]int{"100": 0, "50": 0, "49.99": 1, "10.5": 1} {
		place, ok := numbers.Place(written)
		assert.True(t, ok)
		assert.Equal(t, want, place, written)
	}
	for _, written := range []string{"10.4", "good", "-1", "5e1", ""} {
		_, ok := numbers.Place(written)
		assert.False(t, ok, written)
	}
}

// 2,000 students, eight courses, four quarters, from files to tables.
func TestALargeSchoolInTime(t *testing.T) {
	folder := large(t.TempDir())
	begin := time.Now()
	book, problems := gradebook.Read(os.DirFS(folder), results.DefaultRule())
	require.Empty(t, problems)
	out := gradebook.Measure(book, 3)
	took := time.Since(begin)
	assert.Equal(t, 2000*8*2+1, strings.Count(string(out["courses.csv"]), "\n"))
	assert.Less(t, took, 3*time.Second, "it takes 0.3 s on two idle cores")
	t.Log(took)
}

func large(folder string) string {
	r := rand.New(rand.NewPCG(1, 2))
	scale := results.DefaultRule().Scale
	var courses, students, grades strings.Builder
	courses.WriteString("course,title,area,credits,core,exam_weight\n")
	for c := range 8 {
		fmt.Fprintf(&courses, "c%d,Course,Area,0.5,true,%s\n", c, []string{"", "0.2"}[c%2])
	}
	students.WriteString("student,year\n")
	grades.WriteString("student,class,course,period,grade\n")
	for s := range 2000 {
		fmt.Fprintf(&students, "s%d,9\n", s)
		for c := range 8 {
			for q := range 4 {
				fmt.Fprintf(&grades, "s%d,k%d,c%d,Q%d,%s\n", s, s%80, c, q+1, scale[r.IntN(len(scale))].Name)
			}
		}
	}
	for name, text := range map[string]string{"courses.csv": courses.String(), "students.csv": students.String(), "grades.csv": grades.String()} {
		if err := os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600); err != nil {
			panic(err)
		}
	}
	return folder
}

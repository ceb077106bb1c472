package conduct_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
)

func slot(name, from, to string) day.Slot {
	return day.Slot{Name: name, Start: day.MustMinute(from), End: day.MustMinute(to)}
}

var normal = &day.Pattern{Name: "normal", Slots: []day.Slot{slot("2", "09:55", "10:45"), slot("R", "08:45", "08:55"), slot("1", "09:00", "09:50"), slot("3", "11:05", "11:55")}}

func TestTimeOf(t *testing.T) {
	for at, want := range map[string]conduct.Time{
		"00:00": conduct.Before, "08:44": conduct.Before, "08:45": conduct.Slot("R"), "08:54": conduct.Slot("R"), "08:55": conduct.Between("R", "1"), "09:00": conduct.Slot("1"),
		"10:45": conduct.Between("2", "3"), "11:04": conduct.Between("2", "3"), "11:54": conduct.Slot("3"), "11:55": conduct.After, "23:59": conduct.After,
	} {
		assert.Equal(t, want, conduct.TimeOf(normal.Slots, day.MustMinute(at)), at)
	}
	assert.Equal(t, conduct.Unknown, conduct.TimeOf(normal.Slots, day.Minute{}))
	assert.Equal(t, conduct.NoDay, conduct.TimeOf(nil, day.MustMinute("10:00")))
	var names []string
	for _, c := range conduct.Columns([]*day.Pattern{normal, {Slots: []day.Slot{slot("1", "09:30", "10:20"), slot("late", "10:20", "10:40")}}}, true) {
		names = append(names, c.Time.Name(map[conduct.Time]string{conduct.Between("2", "3"): "break"})+" "+strconv.Itoa(c.Minutes))
	}
	assert.Equal(t, []string{"before school 0", "R 10", "R–1 5", "1 50", "1–2 5", "2 50", "late 20", "break 20", "3 50", "after school 0", "no school day 0", "time not known 0"}, names)
}

func TestSearch(t *testing.T) {
	monday := day.MustDate("2026-03-02")
	i := conduct.Incident{Date: monday, Minute: day.MustMinute("09:10"), Time: conduct.Slot("1"), Place: 2, Kind: 3, Actions: []ids.ConductWord{7}, RecordedBy: "T. Fell",
		People: []conduct.Person{{Student: 1, Role: conduct.Did}, {Student: 2, Role: conduct.Harmed}}}
	all := conduct.Search{From: monday, To: monday}
	for _, c := range []struct {
		what   string
		change func(*conduct.Search)
		fits   bool
	}{
		{"everything", func(*conduct.Search) {}, true},
		{"another day", func(s *conduct.Search) { s.From++; s.To++ }, false},
		{"one of its kinds", func(s *conduct.Search) { s.Kinds = []ids.ConductWord{1, 3} }, true},
		{"kind not known", func(s *conduct.Search) { s.Kinds = []ids.ConductWord{0} }, false},
		{"another place", func(s *conduct.Search) { s.Places = []ids.ConductWord{1} }, false},
		{"a role", func(s *conduct.Search) { s.Roles = []conduct.Role{conduct.Harmed} }, true},
		{"a role that nobody has", func(s *conduct.Search) { s.Roles = []conduct.Role{conduct.Saw} }, false},
		{"somebody", func(s *conduct.Search) { s.Students = map[ids.Student]bool{2: true} }, true},
		{"somebody in another role", func(s *conduct.Search) {
			s.Students, s.Roles = map[ids.Student]bool{2: true}, []conduct.Role{conduct.Did}
		}, false},
		{"no one", func(s *conduct.Search) { s.Students = map[ids.Student]bool{} }, false},
		{"an action", func(s *conduct.Search) { s.Actions = []ids.ConductWord{7, 8} }, true},
		{"no action yet", func(s *conduct.Search) { s.Actions = []ids.ConductWord{0} }, false},
		{"its weekday", func(s *conduct.Search) { s.Weekdays = []int{1} }, true},
		{"another weekday", func(s *conduct.Search) { s.Weekdays = []int{2} }, false},
		{"by another", func(s *conduct.Search) { s.RecordedBy = []string{"M. Kersey"} }, false},
		{"incomplete", func(s *conduct.Search) { s.Incomplete = true }, false},
		{"another time", func(s *conduct.Search) { s.Times = []conduct.Time{conduct.Before} }, false},
	} {
		s := all
		c.change(&s)
		assert.Equal(t, c.fits, s.Fits(i), c.what)
	}
	assert.Empty(t, i.Open())
	assert.Equal(t, []string{"what kind", "when", "where", "who did it"}, conduct.Incident{}.Open())
	later := i
	later.Date, later.People = monday+1, []conduct.Person{{Student: 2, Role: conduct.Harmed}, {Student: 3, Role: conduct.Harmed}}
	assert.Equal(t, []conduct.Tally{{2, 2, monday + 1}, {3, 1, monday + 1}, {1, 1, monday}}, conduct.Tallies([]conduct.Incident{i, later}, all))
	assert.Equal(t, []conduct.Tally{{1, 1, monday}}, conduct.Tallies([]conduct.Incident{i, later}, conduct.Search{Roles: []conduct.Role{conduct.Did}}))
}

// The cells of a grid, its rows and its columns each add up to the incidents, whatever rows and columns
// were thought of.
func TestAGridAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		minutes := rapid.IntRange(-1, 24*60-1)
		var found []conduct.Incident
		for range rapid.IntRange(0, 60).Draw(t, "incidents") {
			i := conduct.Incident{Place: ids.ConductWord(rapid.IntRange(0, 4).Draw(t, "place"))}
			if m := minutes.Draw(t, "minute"); m >= 0 {
				i.Minute = day.MustMinute("00:00").Add(day.Minutes(m))
			}
			i.Time = conduct.TimeOf(normal.Slots, i.Minute)
			found = append(found, i)
		}
		patterns := []*day.Pattern{normal}[:rapid.IntRange(0, 1).Draw(t, "patterns")]
		g := conduct.Gather(found, []ids.ConductWord{1, 2, 3}, conduct.Columns(patterns, false), func(i conduct.Incident) ids.ConductWord { return i.Place })
		rows, columns := 0, 0
		for r, row := range g.Cells {
			sum := 0
			for c, n := range row {
				want := 0
				for _, i := range found {
					if i.Place == g.Rows[r] && i.Time == g.Columns[c].Time {
						want++
					}
				}
				assert.Equal(t, want, n)
				sum += n
			}
			assert.Equal(t, sum, g.RowSums[r])
			rows += sum
		}
		for _, n := range g.Sums {
			columns += n
		}
		assert.Equal(t, []int{len(found), len(found), len(found)}, []int{rows, columns, g.All})
		if len(patterns) == 1 {
			assert.Len(t, g.Columns, 10, "every time of the day has its column")
		}
	})
}

// poisson.test of R, for pairs of counts over student-days of different number.
func TestRatiosAgainstR(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	pairs := [][4]int{{14, 31, 24000, 24000}, {0, 7, 1000, 2000}, {7, 0, 1000, 2000}, {1, 1, 5, 5}}
	for len(pairs) < 20 {
		pairs = append(pairs, [4]int{r.IntN(80), 1 + r.IntN(80), 1 + r.IntN(50000), 1 + r.IntN(50000)})
	}
	var script strings.Builder
	for _, p := range pairs {
		fmt.Fprintf(&script, "t <- poisson.test(c(%d,%d), c(%d,%d)); cat(sprintf('%%.10g %%.10g %%.10g\\n', t$estimate, t$conf.int[1], t$conf.int[2]))\n", p[0], p[1], p[2], p[3])
	}
	out, err := exec.CommandContext(t.Context(), "Rscript", "-e", script.String()).Output()
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	require.Len(t, lines, len(pairs))
	for i, line := range lines {
		got := conduct.Compare(conduct.Rate{Incidents: pairs[i][0], StudentDays: pairs[i][2]}, conduct.Rate{Incidents: pairs[i][1], StudentDays: pairs[i][3]})
		for n, text := range strings.Fields(line) {
			want, err := strconv.ParseFloat(text, 64)
			require.NoError(t, err)
			have := []float64{got.Value, got.Low, got.High}[n]
			if want == 0 || math.IsInf(want, 1) {
				assert.Equal(t, want, have, "%v", pairs[i])
				continue
			}
			assert.InEpsilon(t, want, have, 1e-6, "%v: %s", pairs[i], line)
		}
	}
}

func TestRates(t *testing.T) {
	days := func(n int) conduct.Rate { return conduct.Rate{Incidents: n, StudentDays: 24000} }
	fewer := conduct.Compare(days(14), days(31))
	assert.Equal(t, "fewer", fewer.Verdict())
	assert.Equal(t, "0.45 times as often, 0.22 to 0.87", fewer.Words())
	assert.Equal(t, "more", conduct.Compare(days(31), days(14)).Verdict())
	assert.Equal(t, "could be chance", conduct.Compare(days(5), days(7)).Verdict())
	assert.Equal(t, "nothing to compare", conduct.Compare(days(0), days(0)).Verdict())
	assert.False(t, conduct.Compare(days(3), conduct.Rate{}).Known)
	assert.Contains(t, conduct.Compare(days(9), days(0)).Words(), "none before")
	assert.Equal(t, "fewer", conduct.Compare(days(0), days(9)).Verdict())
	assert.Equal(t, "0.13", days(31).PerHundred())
	assert.Empty(t, conduct.Rate{Incidents: 1}.PerHundred())

	school := []day.Date{10, 11, 12, 15, 16, 17, 18}
	before, after := conduct.Around(school, 13, 17)
	assert.Equal(t, []day.Date{10, 11, 12}, before)
	assert.Equal(t, []day.Date{15, 16, 17}, after)
	before, after = conduct.Around(school, 16, 18)
	assert.Equal(t, [][]day.Date{{11, 12, 15}, {16, 17, 18}}, [][]day.Date{before, after})
	before, after = conduct.Around(school, 11, 18)
	assert.Equal(t, [][]day.Date{{10}, {11}}, [][]day.Date{before, after}, "the shorter side decides")
	before, _ = conduct.Around(school, 19, 18)
	assert.Empty(t, before)
}

package attention_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/policy"
)

var codes = func() *policy.CodeSet {
	set, err := policy.NewCodeSet("test", []policy.Code{
		{Code: "P", Word: "present", Counts: policy.Attended, OnSite: true}, {Code: "U", Word: "unexcused", Counts: policy.Unexcused},
		{Code: "M", Word: "medical", Counts: policy.Excused, Medical: true}, {Code: "L", Word: "late", Counts: policy.Attended, Late: true, OnSite: true},
	})
	if err != nil {
		panic(err)
	}
	return set
}()

var days = func() *policy.Policy {
	b := policy.NewFraction(1, 10)
	return &policy.Policy{ID: "days", Codes: codes, Unit: policy.Day, DayAbsentAt: policy.NewFraction(1, 2), Threshold: b, Bands: []policy.Band{{Name: "on course", Below: &b}, {Name: "chronic"}}}
}()

var policies = map[string]*policy.Policy{"days": days}

// weeks is a school year of n days, Monday to Friday from 1 September 2025, with two lessons a day.
func weeks(t testing.TB, n int) *day.Calendar {
	t.Helper()
	pattern := day.Pattern{Name: "normal", Slots: []day.Slot{{Name: "1", Start: day.MustMinute("09:00"), End: day.MustMinute("09:40")}, {Name: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("10:40")}}}
	var rows []day.Row
	for d := day.MustDate("2025-09-01"); len(rows) < n; d++ {
		if d.Weekday() <= 5 {
			rows = append(rows, day.Row{Date: d, Pattern: "normal", Term: fmt.Sprint("term ", len(rows)/40), GradingPeriod: fmt.Sprint("quarter ", len(rows)/20)})
		}
	}
	cal, err := day.NewCalendar([]day.Pattern{pattern}, rows)
	require.NoError(t, err)
	return cal
}

// schoolOf is a school of students whose days are letters: both lessons of a day alike.
func schoolOf(t testing.TB, n int, facts []attention.Facts, marks ...string) *attention.School {
	t.Helper()
	l := absence.NewLedger(weeks(t, n), codes)
	for i, letters := range marks {
		place := l.AddStudent(absence.Student{ID: fmt.Sprint("s", i), Enrolled: []day.Dates{day.Always}, ShareHere: policy.NewFraction(1, 1)})
		for d, letter := range letters {
			if code, ok := codes.Index(string(letter)); ok {
				for pos := range 2 {
					require.NoError(t, l.Set(place, d, pos, absence.Mark{Code: code}))
				}
			}
		}
	}
	for len(facts) < len(marks) {
		facts = append(facts, attention.Facts{})
	}
	first := map[attention.Source]day.Date{}
	for _, f := range facts {
		if len(f.Incidents) > 0 {
			first[attention.FromIncidents] = day.MustDate("2025-09-01")
		}
		if len(f.Contacts) > 0 {
			first[attention.FromContacts] = day.MustDate("2025-09-01")
		}
	}
	return attention.NewSchool(l, policies, facts, first, n-1)
}

func number(n int64) attention.Value { return attention.Value{Kind: attention.Number, Num: n, Den: 1} }

func cond(in attention.Indicator, op attention.Op, v attention.Value) attention.Entry {
	return attention.Entry{Condition: &attention.Condition{Indicator: in, Op: op, Value: v}}
}

func rule(any bool, entries ...attention.Entry) *attention.Rule {
	return &attention.Rule{ID: "r", Title: "R", If: attention.Group{Any: any, Entries: entries}}
}

func unexcused(n int) attention.Indicator {
	return attention.Indicator{ID: "absence", Policy: "days", Count: "days", Of: policy.SideUnexcused, Window: policy.Window{Kind: policy.RollingDays, N: n}}
}

func students(f attention.Found) []int {
	out := []int{}
	for _, m := range f.Matches {
		out = append(out, m.Student)
	}
	return out
}

// Of a condition that nobody can judge: all is no when one is no, else unknown; any is yes when one is yes,
// else unknown.
func TestThreeValuedLogic(t *testing.T) {
	yes := cond(unexcused(5), attention.AtLeast, number(1))
	no := cond(unexcused(5), attention.AtLeast, number(9))
	unknown := cond(attention.Indicator{ID: "failing"}, attention.AtLeast, number(1))
	inner := func(any bool, of ...attention.Entry) attention.Entry {
		return attention.Entry{Group: &attention.Group{Any: any, Entries: of}}
	}
	s := schoolOf(t, 5, nil, "PPPPU")
	for name, c := range map[string]struct {
		rule *attention.Rule
		want string
	}{
		"yes": {rule(false, yes), "yes"}, "no": {rule(false, no), "no"}, "unknown": {rule(false, unknown), "unknown"},
		"all yes and unknown": {rule(false, yes, unknown), "unknown"}, "all no and unknown": {rule(false, unknown, no), "no"}, "all yes and no": {rule(false, yes, no), "no"},
		"any yes and unknown": {rule(true, unknown, yes), "yes"}, "any no and unknown": {rule(true, no, unknown), "unknown"}, "any no": {rule(true, no, no), "no"},
		"inner any decides": {rule(false, yes, inner(true, unknown, yes)), "yes"}, "inner all is unknown": {rule(true, no, inner(false, yes, unknown)), "unknown"},
	} {
		require.NoError(t, c.rule.Check(policies), name)
		f := s.Find(c.rule, 4)
		assert.Equal(t, 1, f.Of)
		got := "no"
		switch {
		case len(f.Matches) > 0:
			got = "yes"
		case len(f.Unknown) > 0:
			got = "unknown"
		}
		assert.Equal(t, c.want, got, name)
	}
}

// Never is as long ago as can be for at least and more than, unless it is left out; else it is false, but
// that it is never. What has not begun in the school at all is not known.
func TestNever(t *testing.T) {
	home := attention.Indicator{ID: "last_contact", With: attention.WithHome}
	facts := []attention.Facts{{}, {Contacts: []attention.Dated{{Date: day.MustDate("2025-09-02"), What: attention.WithHome}}}, {Contacts: []attention.Dated{{Date: day.MustDate("2025-09-02"), What: attention.WithStudent}}}}
	s := schoolOf(t, 10, facts, "P", "P", "P")
	leftOut := cond(home, attention.AtLeast, number(3))
	leftOut.Condition.NeverOut = true
	never := attention.Value{Kind: attention.Word, Word: "never"}
	for name, c := range map[string]struct {
		e    attention.Entry
		want []int
	}{
		"at least":            {cond(home, attention.AtLeast, number(3)), []int{0, 1, 2}},
		"more than":           {cond(home, attention.Above, number(8)), []int{0, 2}},
		"never left out":      {leftOut, []int{1}},
		"less than":           {cond(home, attention.Below, number(99)), []int{1}},
		"at most":             {cond(home, attention.AtMost, number(99)), []int{1}},
		"exactly":             {cond(home, attention.Equal, number(8)), []int{1}},
		"never itself":        {cond(home, attention.Is, never), []int{0, 2}},
		"at some time":        {cond(home, attention.IsNot, never), []int{1}},
		"with anybody":        {cond(attention.Indicator{ID: "last_contact"}, attention.Is, never), []int{0}},
		"not seen for a week": {cond(attention.Indicator{ID: "last_seen"}, attention.AtLeast, number(7)), []int{0, 1, 2}},
	} {
		r := rule(false, c.e)
		require.NoError(t, r.Check(policies), name)
		assert.Equal(t, c.want, students(s.Find(r, 7)), name)
	}
	sessions := rule(false, cond(attention.Indicator{ID: "last_session"}, attention.AtLeast, number(1)))
	assert.Len(t, s.Find(sessions, 7).Unknown, 3, "the school has had no session")
}

func TestIndicators(t *testing.T) {
	on := func(d string) day.Date { return day.MustDate("2025-09-" + d) }
	two, half := policy.NewFraction(2, 1), policy.NewFraction(3, 2)
	f := attention.Facts{
		Arrivals:  []day.Date{on("04")},
		Incidents: []attention.Incident{{Date: on("01"), Kind: "rough play", Place: "pier", Role: "did it"}, {Date: on("05"), Kind: "damage", Place: "pier", Role: "saw it"}, {Date: on("09"), Kind: "rough play", Place: "quad", Role: "did it"}},
		Results: []attention.Results{
			{From: on("03"), Periods: []string{"Q1"}, Of: map[string]attention.PeriodResults{"Q1": {Nearly: 1, Mean: &two}}, Away: 0},
			{From: on("08"), Periods: []string{"Q1", "Q2"}, Of: map[string]attention.PeriodResults{"Q1": {Nearly: 1, Mean: &two}, "Q2": {Failing: 2, Mean: &half}}, Away: 2, Behind: &half},
		},
		Items:    []attention.Item{{From: on("02"), Class: "9En", Title: "Essay", Share: attention.Value{Kind: attention.Never}}, {From: on("10"), Class: "9En", Title: "Essay", Share: attention.Value{Kind: attention.Number, Num: 3, Den: 5}}},
		Activity: []attention.Dated{{Date: on("02"), What: "library"}, {Date: on("09"), What: "library"}},
		Known:    []string{"library"},
		Fields:   map[string][]attention.Field{"House": {{From: on("05"), Value: attention.WordOf("red")}}},
		Outlooks: []attention.Field{{From: on("02"), Value: attention.Value{Kind: attention.Number, Num: 1, Den: 4}}, {From: on("09"), Value: attention.Value{Kind: attention.Number, Num: 3, Den: 4}}},
		Changes:  number(2),
	}
	//        M T W T F   M T W T F: 1 to 12 September
	s := schoolOf(t, 10, []attention.Facts{f}, "PUULM"+"UUPLU")
	w := func(k policy.WindowKind, n int) policy.Window { return policy.Window{Kind: k, N: n} }
	for _, c := range []struct {
		name string
		in   attention.Indicator
		d    int
		want string
	}{
		{"a share of the year", attention.Indicator{ID: "absence_rate", Policy: "days"}, 4, "0.6"},
		{"a share of the last two days", attention.Indicator{ID: "absence_rate", Policy: "days", Window: w(policy.RollingDays, 2)}, 3, "0.5"},
		{"unexcused in five days", unexcused(5), 6, "3"},
		{"and no further back", unexcused(5), 9, "3"},
		{"of both sides", attention.Indicator{ID: "absence", Policy: "days", Of: policy.SideUnexcused | policy.SideExcused, Window: w(policy.Year, 0)}, 4, "3"},
		{"sessions on Tuesdays", attention.Indicator{ID: "absence", Policy: "days", Count: "sessions", Of: policy.SideUnexcused, Window: w(policy.Year, 0), Weekday: 2}, 9, "4"},
		{"the last Tuesday", attention.Indicator{ID: "absence", Policy: "days", Of: policy.SideUnexcused, Window: w(policy.RollingDays, 1), Weekday: 2}, 8, "1"},
		{"minutes of one slot", attention.Indicator{ID: "absence", Policy: "days", Count: "minutes", Of: policy.SideUnexcused, Window: w(policy.Year, 0), Slot: "2"}, 9, "200"},
		{"days in a row", attention.Indicator{ID: "absence", Policy: "days", Of: policy.SideUnexcused, Window: w(policy.Run, 0)}, 6, "2"},
		{"lates", attention.Indicator{ID: "lates", Policy: "days", Window: w(policy.Year, 0)}, 9, "4"},
		{"lates in one class", attention.Indicator{ID: "lates", Policy: "days", Per: "class", Window: w(policy.Year, 0)}, 9, "2"},
		{"seen today", attention.Indicator{ID: "last_seen"}, 0, "0"},
		{"seen two days ago", attention.Indicator{ID: "last_seen"}, 2, "2"},
		{"an arrival is seen", attention.Indicator{ID: "last_seen"}, 4, "1"},
		{"incidents", attention.Indicator{ID: "incidents"}, 9, "3"},
		{"of a role", attention.Indicator{ID: "incidents", Roles: []string{"did it"}}, 9, "2"},
		{"of a kind and place", attention.Indicator{ID: "incidents", Kinds: []string{"rough play", "damage"}, Places: []string{"pier"}}, 9, "2"},
		{"within four calendar days", attention.Indicator{ID: "incidents", Days: 4}, 8, "1"},
		{"no grade yet", attention.Indicator{ID: "failing"}, 1, "not known"},
		{"none failing", attention.Indicator{ID: "failing"}, 2, "0"},
		{"two failing now", attention.Indicator{ID: "failing"}, 5, "2"},
		{"of a period", attention.Indicator{ID: "nearly_failing", Period: "Q1"}, 5, "1"},
		{"of a period to come", attention.Indicator{ID: "failing", Period: "Q3"}, 5, "not known"},
		{"the mean", attention.Indicator{ID: "mean_points"}, 5, "1.5"},
		{"its fall", attention.Indicator{ID: "points_change"}, 5, "-0.5"},
		{"no fall without a period before", attention.Indicator{ID: "points_change"}, 3, "not known"},
		{"courses away", attention.Indicator{ID: "courses_away"}, 5, "2"},
		{"nothing expected", attention.Indicator{ID: "credits_behind"}, 3, "not known"},
		{"credits behind", attention.Indicator{ID: "credits_behind"}, 5, "1.5"},
		{"no results at all", attention.Indicator{ID: "courses_away"}, 0, "not known"},
		{"an essay not handed in", attention.Indicator{ID: "item_score", Item: "Essay"}, 5, "never"},
		{"an essay handed in", attention.Indicator{ID: "item_score", Item: "Essay", Class: "9En"}, 9, "0.6"},
		{"no such essay", attention.Indicator{ID: "item_score", Item: "Essay", Class: "9Ma"}, 9, "not known"},
		{"days since the library", attention.Indicator{ID: "activity_last", Source: "library"}, 3, "2"},
		{"a source that does not know the student", attention.Indicator{ID: "activity_last", Source: "learning platform"}, 3, "not known"},
		{"never yet", attention.Indicator{ID: "activity_last", Source: "library"}, 0, "never"},
		{"within the week", attention.Indicator{ID: "activity_count", Source: "library", Days: 7}, 6, "1"},
		{"a field that is not there yet", attention.Indicator{ID: "field", Field: "House"}, 2, "not known"},
		{"a field", attention.Indicator{ID: "field", Field: "House"}, 4, "red"},
		{"the outlook", attention.Indicator{ID: "outlook"}, 3, "0.25"},
		{"its change", attention.Indicator{ID: "outlook_change"}, 8, "0.5"},
		{"changes of school", attention.Indicator{ID: "school_changes"}, 0, "2"},
	} {
		assert.Equal(t, c.want, s.Value(c.in, 0, c.d).Text(false), c.name)
	}
}

// Since is the first day of the unbroken stretch; a rule is for whom it says.
func TestSinceAndForWhom(t *testing.T) {
	facts := []attention.Facts{{Year: "9", Form: "9 Reef"}, {Year: "9", Form: "9 Cleat", OnPlan: true, Lists: []string{"Petrel"}}, {Year: "10", Classes: []string{"10En"}}}
	s := schoolOf(t, 10, facts, "UUPPPUUPUP", "UUUUUUUUUU", "UUUUUUUUUU")
	r := rule(false, cond(unexcused(3), attention.AtLeast, number(2)))
	f := s.Find(r, 8)
	assert.Equal(t, 3, f.Of)
	require.Len(t, f.Matches, 3)
	assert.Equal(t, []int{6, 1, 1}, []int{f.Matches[0].Since, f.Matches[1].Since, f.Matches[2].Since})
	assert.Equal(t, "2", f.Matches[0].Held[0].Value.Text(false))
	for name, c := range map[string]struct {
		of   attention.Scope
		want []int
	}{
		"a year": {attention.Scope{Years: []string{"9"}}, []int{0, 1}}, "forms": {attention.Scope{Forms: []string{"9 Cleat", "x"}}, []int{1}},
		"a class": {attention.Scope{Classes: []string{"10En"}}, []int{2}}, "on a plan": {attention.Scope{OnPlan: true}, []int{1}}, "a list": {attention.Scope{Lists: []string{"Petrel"}}, []int{1}},
		"both": {attention.Scope{Years: []string{"10"}, Lists: []string{"Petrel"}}, []int{}},
	} {
		one := *r
		one.For = c.of
		found := s.Find(&one, 8)
		assert.Equal(t, c.want, students(found), name)
		assert.Equal(t, len(c.want), found.Of, name)
	}
	other := *r
	other.For = attention.Scope{Years: []string{"9"}}
	st := s.Standings([]*attention.Rule{r, &other}, 8)
	require.Len(t, st, 3)
	assert.Len(t, st[0].Rules, 2)
	assert.Equal(t, 6, st[0].Since)
	assert.Len(t, st[2].Rules, 1)
	assert.Equal(t, []int{0, 1, 2}, attention.Matched(st))
}

// drawn is a school of a few students with random days.
func drawn(t *rapid.T, tb testing.TB, n int) *attention.School {
	var marks []string
	var facts []attention.Facts
	for range rapid.IntRange(1, 4).Draw(t, "students") {
		marks = append(marks, rapid.StringMatching(fmt.Sprintf(`[PPPUML.]{%d}`, n)).Draw(t, "days"))
		f := attention.Facts{}
		for range rapid.IntRange(0, 3).Draw(t, "contacts") {
			f.Contacts = append(f.Contacts, attention.Dated{Date: day.MustDate("2025-09-01") + day.Date(rapid.IntRange(0, n).Draw(t, "on")), What: attention.WithHome})
		}
		slices.SortFunc(f.Contacts, func(a, b attention.Dated) int { return int(a.Date - b.Date) })
		facts = append(facts, f)
	}
	return schoolOf(tb, n, facts, marks...)
}

func drawnEntry(t *rapid.T) attention.Entry {
	in := rapid.SampledFrom([]attention.Indicator{unexcused(3), unexcused(6), {ID: "last_seen"}, {ID: "last_contact"}, {ID: "failing"}, {ID: "absence_rate", Policy: "days"}, {ID: "lates", Policy: "days", Window: policy.Window{Kind: policy.RollingDays, N: 4}}}).Draw(t, "indicator")
	v := number(int64(rapid.IntRange(0, 4).Draw(t, "value")))
	if in.ID == "absence_rate" {
		v = attention.Value{Kind: attention.Number, Num: 1, Den: int64(rapid.IntRange(1, 9).Draw(t, "part"))}
	}
	return cond(in, rapid.SampledFrom(attention.Ops[:5]).Draw(t, "op"), v)
}

// Another condition under all never adds a match, and what comes later never changes an earlier one.
func TestAnotherConditionAndALaterDay(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		s := drawn(rt, t, 15)
		entries := []attention.Entry{drawnEntry(rt)}
		d := rapid.IntRange(0, 14).Draw(rt, "d")
		before := students(s.Find(rule(false, entries...), d))
		after := students(s.Find(rule(false, append(entries, drawnEntry(rt))...), d))
		for _, i := range after {
			assert.Contains(rt, before, i)
		}
		upTo := attention.NewSchool(s.Ledger, s.Policies, s.Students, s.First, d)
		assert.Equal(rt, before, students(upTo.Find(rule(false, entries...), d)), "what is after the day is not read")
	})
}

// A rule tried on the past is what it is day by day.
func TestTriedOnThePast(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		const n = 30
		s := drawn(rt, t, n)
		r, o := rule(false, drawnEntry(rt)), rule(true, drawnEntry(rt))
		from := rapid.IntRange(0, 5).Draw(rt, "from")
		got, ok := s.Try(r, attention.Outcome{Rule: o}, from, n-1, func(int, int) bool { return true })
		require.True(rt, ok)
		first, came := map[int]int{}, map[int]int{}
		for d := from; d < n; d++ {
			matched := students(s.Find(r, d))
			assert.Equal(rt, len(matched), got.OnDay[d-from])
			for _, i := range matched {
				if _, known := first[i]; !known {
					first[i] = d
				}
			}
			for _, i := range students(s.Find(o, d)) {
				if _, known := came[i]; !known {
					came[i] = d
				}
			}
		}
		assert.Len(rt, got.Matched, len(first))
		assert.Len(rt, got.Outcome, len(came))
		before, missed, alarms := 0, 0, 0
		var least, most float64
		for i := range s.Students {
			f, matched := first[i]
			c, had := came[i]
			switch {
			case had && matched && f < c:
				if lead := float64(c - f); before == 0 || lead < least {
					least = lead
				}
				most = max(most, float64(c-f))
				before++
			case had:
				missed++
			case matched:
				alarms++
			}
		}
		assert.Equal(rt, [3]int{before, missed, alarms}, [3]int{len(got.Before), len(got.Missed), len(got.Alarms)})
		assert.Equal(rt, [2]float64{least, most}, [2]float64{got.Leads.Least, got.Leads.Most})
	})
}

// Who matched and then did not for ten school days in a row came back; without help when nobody followed up
// in between. A band is the outcome of the span's end.
func TestCameBack(t *testing.T) {
	back := "UUU" + "PPPPPPPPPPPPPPP"
	facts := []attention.Facts{{}, {Contacts: []attention.Dated{{Date: day.MustDate("2025-09-08"), What: attention.WithHome}}}, {}}
	s := schoolOf(t, 18, facts, back, back, "UUUPPPPPPUUUPPPPPP")
	got, ok := s.Try(rule(false, cond(unexcused(3), attention.AtLeast, number(2))), attention.Outcome{Policy: "days", Band: 1}, 0, 17, func(int, int) bool { return true })
	require.True(t, ok)
	assert.Equal(t, []int{0}, got.Back)
	assert.Equal(t, []int{0, 1, 2}, got.Outcome, "chronic at the end")
	assert.Equal(t, attention.Leads{Least: 16, Median: 16, Most: 16}, got.Leads)
	_, ok = s.Try(rule(false, cond(unexcused(3), attention.AtLeast, number(2))), attention.Outcome{Policy: "days", Band: 1}, 0, 17, func(int, int) bool { return false })
	assert.False(t, ok, "ended by whoever watches")
}

// Of several sections one may not measure by the policy that a rule names: there nobody can be judged.
func TestAPolicyOfAnotherSection(t *testing.T) {
	s := schoolOf(t, 5, nil, "UUUUU")
	for _, in := range []attention.Indicator{{ID: "absence_rate", Policy: "theirs"}, {ID: "absence", Policy: "theirs", Of: policy.SideUnexcused, Slot: "1"}, {ID: "lates", Policy: "theirs"}} {
		r := rule(false, cond(in, attention.AtLeast, number(1)))
		assert.Equal(t, []int{0}, s.Find(r, 4).Unknown, in.ID)
		got, ok := s.Try(r, attention.Outcome{Policy: "theirs", Band: 1}, 0, 4, func(int, int) bool { return true })
		assert.True(t, ok)
		assert.Empty(t, got.Outcome)
	}
}

// What holds is told with its figure in the place of what it compares with.
func TestWhatHoldsInWords(t *testing.T) {
	half := policy.NewFraction(1, 2)
	facts := []attention.Facts{{Incidents: []attention.Incident{{Date: day.MustDate("2025-09-02"), Kind: "damage", Role: "did it"}},
		Results: []attention.Results{{From: day.MustDate("2025-09-02"), Periods: []string{"Q1", "Q2"}, Of: map[string]attention.PeriodResults{"Q1": {Mean: &half}, "Q2": {Failing: 2, Mean: new(policy.Fraction), Words: []string{"Art F"}}}}}}}
	s := schoolOf(t, 10, facts, "PUUPP"+"UPPPP")
	names := attention.Names{Policy: func(id string) string { return id }}
	fortnight := number(14)
	s.First[attention.FromContacts] = day.MustDate("2025-09-01")
	for want, e := range map[string]attention.Entry{
		"absent unexcused on 3 of the last 5 school days":       cond(unexcused(5), attention.AtLeast, number(1)),
		"absent 50 % of the time this year, 3 of 6":             cond(attention.Indicator{ID: "absence_rate", Policy: "days"}, attention.AtLeast, attention.Value{Kind: attention.Number, Num: 1, Den: 10}),
		"1 incident within 30 days in which the student did it": cond(attention.Indicator{ID: "incidents", Roles: []string{"did it"}, Days: 30}, attention.AtLeast, number(1)),
		"failing 2 courses":                        cond(attention.Indicator{ID: "failing"}, attention.AtLeast, number(1)),
		"mean of the grades’ points fallen by 0.5": cond(attention.Indicator{ID: "points_change"}, attention.Below, number(0)),
		"spoken with the home never":               cond(attention.Indicator{ID: "last_contact", With: attention.WithHome}, attention.AtLeast, fortnight),
	} {
		f := s.Find(rule(false, e), 5)
		require.Len(t, f.Matches, 1, want)
		assert.Equal(t, want, f.Matches[0].Held[0].Told(names))
	}
	assert.Equal(t, []string{"Art F"}, s.Failing(0, 5))
}

func TestRulesThatSayNothing(t *testing.T) {
	assert.ErrorContains(t, rule(false).Check(policies), "says nothing")
	assert.ErrorContains(t, (&attention.Rule{If: attention.Group{Entries: []attention.Entry{cond(unexcused(3), attention.AtLeast, number(1))}}}).Check(policies), "no title")
	deep := attention.Entry{Group: &attention.Group{Entries: []attention.Entry{{Group: &attention.Group{Entries: []attention.Entry{cond(unexcused(3), attention.AtLeast, number(1))}}}}}}
	assert.ErrorContains(t, rule(false, deep).Check(policies), "2 levels")
	assert.ErrorContains(t, rule(false, cond(attention.Indicator{ID: "mood"}, attention.AtLeast, number(1))).Check(policies), `no indicator "mood"`)
}

// whole is a school of 2,000 students and 190 days, of which 114 are over, with facts of every kind.
func wholeSchool(b *testing.B) (*attention.School, []*attention.Rule) {
	r := rand.New(rand.NewPCG(1, 1))
	var marks []string
	var facts []attention.Facts
	half := policy.NewFraction(5, 2)
	for range 2000 {
		letters := make([]byte, 114)
		for d := range letters {
			letters[d] = "PPPPPPPPPPPPPPPPPPULM"[r.IntN(21)]
		}
		marks = append(marks, string(letters))
		f := attention.Facts{Results: []attention.Results{{From: day.MustDate("2025-11-01"), Periods: []string{"Q1"}, Of: map[string]attention.PeriodResults{"Q1": {Failing: r.IntN(2), Mean: &half}}}}}
		for n := range 6 {
			on := day.MustDate("2025-09-01") + day.Date(n*25)
			f.Incidents = append(f.Incidents, attention.Incident{Date: on, Kind: "k", Place: "p", Role: "did it"})
			f.Contacts = append(f.Contacts, attention.Dated{Date: on, What: attention.WithHome})
			f.Activity = append(f.Activity, attention.Dated{Date: on, What: "library"})
		}
		facts = append(facts, f)
	}
	s := schoolOf(b, 190, facts, marks...)
	s.Upto = 113
	var rules []*attention.Rule
	for _, e := range []attention.Entry{
		cond(attention.Indicator{ID: "absence_rate", Policy: "days"}, attention.AtLeast, attention.Value{Kind: attention.Number, Num: 1, Den: 10}),
		cond(unexcused(10), attention.AtLeast, number(3)), cond(attention.Indicator{ID: "incidents", Roles: []string{"did it"}, Days: 30}, attention.AtLeast, number(2)),
		cond(attention.Indicator{ID: "failing"}, attention.AtLeast, number(1)), cond(attention.Indicator{ID: "last_seen"}, attention.AtLeast, number(3)),
		cond(attention.Indicator{ID: "lates", Policy: "days", Per: "class", Window: policy.Window{Kind: policy.GradingPeriod}}, attention.AtLeast, number(5)),
		cond(attention.Indicator{ID: "points_change"}, attention.AtMost, number(-1)), cond(attention.Indicator{ID: "last_contact"}, attention.AtLeast, number(20)),
	} {
		rules = append(rules, rule(false, e))
	}
	return s, rules
}

func BenchmarkEightRules(b *testing.B) {
	s, rules := wholeSchool(b)
	for b.Loop() {
		s.Standings(rules, 113)
	}
}

func BenchmarkTried(b *testing.B) {
	s, rules := wholeSchool(b)
	for b.Loop() {
		s.Try(rules[1], attention.Outcome{Policy: "days", Band: 1}, 43, 113, func(int, int) bool { return true })
	}
}

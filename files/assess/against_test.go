package assess_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/files/assess"
	"meldung/files/policyfile"
)

// chance draws a school and a policy that use every rule there is.
type chance struct{ *rand.Rand }

func (c chance) of(list ...string) string { return list[c.IntN(len(list))] }
func (c chance) once(in int) bool         { return c.IntN(in) == 0 }

func (c chance) school() *naiveSchool {
	s := &naiveSchool{policy: c.policy(), patterns: map[string][]naiveSlot{}, marks: map[string]naiveMark{},
		days: map[string]naiveDay{}, weeks: map[string]int{}}
	for n := range 1 + c.IntN(3) {
		s.patterns[fmt.Sprint("day", n)] = c.slots()
	}
	first := time.Date(2025, 8, 20+c.IntN(10), 0, 0, 0, 0, time.UTC)
	for n := range 5 + c.IntN(60) {
		if c.once(9) {
			continue // a date without a row is closed
		}
		d := naiveDate{date: first.AddDate(0, 0, n).Format(time.DateOnly), pattern: fmt.Sprint("day", c.IntN(len(s.patterns))),
			term: c.of("autumn", "spring"), grading: fmt.Sprint("q", n/20)}
		if c.once(5) {
			d.pattern = "closed"
		}
		s.dates = append(s.dates, d)
	}
	for n := range 1 + c.IntN(4) {
		s.students = append(s.students, c.student(fmt.Sprint("s", n), s))
	}
	for _, st := range s.students {
		often := 2 + c.IntN(6)
		for _, d := range s.dates {
			away := c.once(7) // all day, for whatever reasons
			for _, slot := range s.patterns[d.pattern] {
				if !st.enrolled(d.date) || !st.due(slot.name, d.date) || (!away && c.once(12)) {
					continue
				}
				m := c.mark(s, slot, often)
				if away {
					m = naiveMark{code: c.of("X", "M", "M", "U", "N")}
				}
				s.marks[st.id+"|"+d.date+"|"+slot.name] = m
			}
		}
	}
	return s
}

// slots draws a day pattern; slots that no policy counts may overlap, so that
// registrations are drawn first and lessons beside them.
func (c chance) slots() []naiveSlot {
	var out []naiveSlot
	at := 500 + c.IntN(60)
	for n := range 1 + c.IntN(5) {
		s := naiveSlot{name: fmt.Sprint(n), start: at, end: at + 1 + c.IntN(70), kind: c.of("", "lesson", "registration")}
		if n == 0 {
			s.kind = "registration"
		}
		at = s.end + c.IntN(3)*5
		out = append(out, s)
	}
	c.Shuffle(len(out), func(a, b int) { out[a], out[b] = out[b], out[a] })
	return out
}

func (c chance) student(id string, s *naiveSchool) naiveStudent {
	st := naiveStudent{id: id, from: "2025-01-01"}
	if c.once(3) && len(s.dates) > 0 {
		st.from = s.dates[c.IntN(len(s.dates))].date
	}
	if c.once(3) && len(s.dates) > 0 {
		if to := s.dates[c.IntN(len(s.dates))].date; to >= st.from {
			st.to = to
		}
	}
	if c.once(2) {
		st.here, st.elsewhere = c.of("0.5", "0.333", "0.25", ""), c.of("0.5", "0.25", "")
		if st.here == "" {
			st.elsewhere = c.of("", "0")
		}
	}
	for _, e := range c.spans(s, 4) {
		st.enrolments = append(st.enrolments, naiveSpan(e))
	}
	for _, e := range c.spans(s, 4) {
		x := naiveShare{e.from, e.to, c.of("0.4", "0.75", "1", ""), c.of("0", "")}
		if x.here == "0.4" {
			x.elsewhere = c.of("0.6", "0.1")
		}
		st.shares = append(st.shares, x)
	}
	if c.once(3) {
		for range 1 + c.IntN(3) {
			due := naiveDue{slot: fmt.Sprint(c.IntN(3)), weekday: c.IntN(8)}
			if c.once(2) && len(s.dates) > 0 {
				due.from = s.dates[c.IntN(len(s.dates))].date
			}
			if c.once(2) && len(s.dates) > 0 {
				if to := s.dates[c.IntN(len(s.dates))].date; to >= due.from {
					due.to = to
				}
			}
			st.schedule = append(st.schedule, due)
		}
		known := map[string]bool{}
		for _, slots := range s.patterns {
			for _, slot := range slots {
				known[slot.name] = true
			}
		}
		for n := range st.schedule {
			if !known[st.schedule[n].slot] {
				st.schedule[n].slot = "0" // is in every pattern
			}
		}
	}
	return st
}

// spans draws spans in order, none overlapping, for one in so many.
func (c chance) spans(s *naiveSchool, in int) []naiveSpan {
	if !c.once(in) || len(s.dates) < 6 {
		return nil
	}
	var ends []int
	for range 4 {
		ends = append(ends, c.IntN(len(s.dates)))
	}
	slices.Sort(ends)
	out := []naiveSpan{{s.dates[ends[0]].date, s.dates[ends[1]].date}}
	if ends[2] > ends[1] {
		out = append(out, naiveSpan{s.dates[ends[2]].date, c.of(s.dates[ends[3]].date, "")})
	}
	return out
}

func (c chance) mark(s *naiveSchool, slot naiveSlot, often int) naiveMark {
	m := naiveMark{code: s.policy.codes[0].code, class: c.of("", "geography", "0", "1")}
	if c.once(often) {
		m.code = s.policy.codes[c.IntN(len(s.policy.codes))].code
	}
	if c.once(often * 2) {
		from, to := slot.start-10+c.IntN(80), slot.start+c.IntN(80)
		if c.once(2) {
			m.from = day.Midnight.Add(day.Minutes(from)).String()
		}
		if c.once(2) && (m.from == "" || to > from) {
			m.to = day.Midnight.Add(day.Minutes(to)).String()
		}
	}
	return m
}

func (c chance) policy() naivePolicy {
	p := naivePolicy{unit: c.of("day", "session", "minute"), basis: c.of("scheduled", "full_day"), absentAt: c.of("1/2", "1", "0.3", "2/3"),
		slots: c.of("all", "all", "registration"), threshold: c.of("1/10", "0.25", "1/3", "1"), minPossible: c.IntN(12)}
	p.codes = []naiveCode{
		{code: "P", counts: "attended"}, {code: "L", counts: "attended", late: true}, {code: "LX", counts: "attended", late: true, minutesAs: "excused"},
		{code: "X", counts: "excused"}, {code: "M", counts: "excused", medical: true, minutesAs: "unexcused"}, {code: "U", counts: "unexcused", minutesAs: "excused"},
		{code: "N", counts: "unexcused", unexplained: true}, {code: "V", counts: "activity"}, {code: "Z", counts: "void"}, {code: "08", counts: "excused", late: true},
		{code: "DM", counts: "attended", medical: true, minutesAs: "excused"}, {code: "D", counts: "attended", minutesAs: "excused"}, {code: "VL", counts: "activity", late: true},
	}
	if c.once(2) {
		p.bands = []naiveBand{{"few", "1/20"}, {"some", c.of("0.1", "1/5")}, {"many", ""}}
	}
	windows := []string{"year", "term", "grading_period", "month", "four_weeks", "rolling_weeks", "rolling_days", "run"}
	for n := range c.IntN(6) {
		t := naiveTrigger{id: fmt.Sprint("t", n), count: c.of("minutes", "sessions", "days", "lates"), window: windows[c.IntN(len(windows))], n: 1 + c.IntN(6), reach: 1 + c.IntN(8)}
		if t.count == "minutes" {
			t.reach = 1 + c.IntN(600)
		}
		if t.count == "lates" {
			t.window = windows[c.IntN(len(windows)-1)]
		}
		for t.count != "lates" && len(t.of) == 0 {
			for _, side := range []string{"excused", "unexcused", "medical", "excused_nonmedical"} {
				if c.once(3) {
					t.of = append(t.of, side)
				}
			}
		}
		p.triggers = append(p.triggers, t)
	}
	for n := range c.IntN(3) {
		l := naiveLadder{id: fmt.Sprint("l", n), per: c.of("class", "slot", "day", "school"), within: c.of("year", "term", "grading_period")}
		at := 1
		for range 1 + c.IntN(3) {
			from := at + c.IntN(3)
			to := from + c.IntN(2)
			l.steps = append(l.steps, naiveStep{from, to, []string{fmt.Sprint("do", from), "tell"}})
			at = to + 1
		}
		if c.once(2) {
			l.steps[len(l.steps)-1].to = 0
		}
		p.ladders = append(p.ladders, l)
	}
	return p
}

func (p naivePolicy) yaml() string {
	var b strings.Builder
	fmt.Fprintf(&b, "id: drawn\ntitle: drawn\nunit: %s\nbasis: %s\nday_absent_at: %s\nslots: %s\nmin_possible: %d\nthreshold: %s\ncodes:\n",
		p.unit, p.basis, p.absentAt, p.slots, p.minPossible, p.threshold)
	for _, c := range p.codes {
		fmt.Fprintf(&b, "  - {code: %s, counts: %s, late: %t, medical: %t, unexplained: %t", c.code, c.counts, c.late, c.medical, c.unexplained)
		if c.minutesAs != "" {
			fmt.Fprintf(&b, ", minutes_as: %s", c.minutesAs)
		}
		b.WriteString("}\n")
	}
	b.WriteString("bands:\n")
	for _, band := range p.bands {
		fmt.Fprintf(&b, "  - name: %s\n", band.name)
		if band.below != "" {
			fmt.Fprintf(&b, "    below: %s\n", band.below)
		}
	}
	b.WriteString("triggers:\n")
	for _, t := range p.triggers {
		window := t.window
		if strings.HasPrefix(window, "rolling") {
			window = fmt.Sprintf("{%s: %d}", t.window, t.n)
		}
		fmt.Fprintf(&b, "  - {id: %s, count: %s, reach: %d, window: %s", t.id, t.count, t.reach, window)
		if t.count != "lates" {
			fmt.Fprintf(&b, ", of: [%s]", strings.Join(t.of, ", "))
		}
		b.WriteString("}\n")
	}
	b.WriteString("ladders:\n")
	for _, l := range p.ladders {
		fmt.Fprintf(&b, "  - id: %s\n    per: %s\n    within: %s\n    steps:\n", l.id, l.per, l.within)
		for _, s := range l.steps {
			to := ""
			if s.to > 0 {
				to = fmt.Sprintf(", to: %d", s.to)
			}
			fmt.Fprintf(&b, "      - {from: %d%s, do: [%s]}\n", s.from, to, strings.Join(s.do, ", "))
		}
	}
	return b.String()
}

// files writes the school as the command reads it, with the rows in any order.
func (s *naiveSchool) files(c chance) fstest.MapFS {
	out := fstest.MapFS{}
	put := func(name, header string, rows []string) {
		c.Shuffle(len(rows), func(a, b int) {
			if name != "students.csv" && name != "enrolments.csv" { // the order of the output, and of the spans
				rows[a], rows[b] = rows[b], rows[a]
			}
		})
		end := c.of("\n", "\r\n")
		out[name] = &fstest.MapFile{Data: []byte(c.of("", "\ufeff") + header + end + strings.Join(rows, end) + c.of("", end, end+end))}
	}
	var rows []string
	for _, d := range s.dates {
		rows = append(rows, d.date+","+d.pattern+","+d.term+","+d.grading)
	}
	put("calendar.csv", "date,day,term,grading_period", rows)
	rows = nil
	for name, slots := range s.patterns {
		for _, slot := range slots {
			rows = append(rows, fmt.Sprintf("%s,%s,%s,%s,%s", slot.kind, day.Midnight.Add(day.Minutes(slot.end)), day.Midnight.Add(day.Minutes(slot.start)), slot.name, name))
		}
	}
	put("slots.csv", "kind,end,start,slot,day", rows)
	var schedule, enrolments, shares []string
	rows = nil
	for _, st := range s.students {
		rows = append(rows, fmt.Sprintf("%s,\"Fenn, \"\"O\"\"\",Odd,7,7 Reef,%s,%s,%s,%s,left out", st.id, st.from, st.to, st.here, st.elsewhere))
		for _, due := range st.schedule {
			weekday := ""
			if due.weekday > 0 {
				weekday = fmt.Sprint(due.weekday)
			}
			schedule = append(schedule, st.id+","+due.slot+","+weekday+","+due.from+","+due.to)
		}
		for _, e := range st.enrolments {
			enrolments = append(enrolments, st.id+","+e.from+","+e.to)
		}
		for _, x := range st.shares {
			shares = append(shares, strings.Join([]string{st.id, x.from, x.to, x.here, x.elsewhere}, ","))
		}
	}
	put("students.csv", "student,family_name,given_name,year,form,enrolled_from,enrolled_to,share_here,share_elsewhere,house", rows)
	if len(schedule) > 0 || c.once(2) {
		put("schedule.csv", "student,slot,weekday,from,to", schedule)
	}
	if len(enrolments) > 0 || c.once(2) {
		put("enrolments.csv", "student,from,to", enrolments)
	}
	if len(shares) > 0 || c.once(2) {
		put("shares.csv", "student,from,to,share_here,share_elsewhere", shares)
	}
	rows = nil
	for key, m := range s.marks {
		at := strings.Split(key, "|")
		rows = append(rows, strings.Join([]string{at[0], at[1], at[2], m.code, m.from, m.to, m.class}, ","))
	}
	put("marks.csv", "student,date,slot,code,from,to,class", rows)
	return out
}

// The core against the rules written a second time, on schools and policies that
// nobody has looked at: every cell of every table.
func TestAgainstTheRulesWrittenASecondTime(t *testing.T) {
	t.Parallel()
	for seed := range uint64(400) {
		c := chance{rand.New(rand.NewPCG(seed, 7))}
		s := c.school()
		if len(s.dates) == 0 {
			continue
		}
		p, err := policyfile.Parse([]byte(s.policy.yaml()), policyfile.ShippedCodes)
		require.NoError(t, err, s.policy.yaml())
		ledger, problems := assess.Read(s.files(c), p)
		require.Empty(t, problems, "seed %d", seed)
		asAt := day.MustDate(s.dates[0].date) + day.Date(c.IntN(75)) - 3
		got := assess.Measure(ledger, p, asAt)
		for name, want := range s.tables(asAt.String()) {
			require.Equal(t, want, string(got[name]), "seed %d, %s as at %s", seed, name, asAt)
		}
	}
}

// What is written of a ledger is read again as the same.
func TestWhatIsWrittenIsReadAgain(t *testing.T) {
	t.Parallel()
	for seed := range uint64(60) {
		c := chance{rand.New(rand.NewPCG(seed, 13))}
		s := c.school()
		if len(s.dates) == 0 {
			continue
		}
		p, err := policyfile.Parse([]byte(s.policy.yaml()), policyfile.ShippedCodes)
		require.NoError(t, err)
		ledger, problems := assess.Read(s.files(c), p)
		require.Empty(t, problems)
		folder := fstest.MapFS{}
		written, err := assess.Write(ledger, make([]assess.Person, ledger.Len()), day.Always).Files()
		require.NoError(t, err)
		for name, text := range written {
			folder[name] = &fstest.MapFile{Data: text}
		}
		again, problems := assess.Read(folder, p)
		require.Empty(t, problems, "seed %d", seed)
		asAt := day.MustDate("2025-10-01")
		require.Equal(t, assess.Measure(ledger, p, asAt), assess.Measure(again, p, asAt))
	}
}

// The order of the rows of any file but the students' does not matter.
func TestTheOrderOfRowsDoesNotMatter(t *testing.T) {
	t.Parallel()
	for seed := range uint64(40) {
		c := chance{rand.New(rand.NewPCG(seed, 11))}
		s := c.school()
		if len(s.dates) == 0 {
			continue
		}
		p, err := policyfile.Parse([]byte(s.policy.yaml()), policyfile.ShippedCodes)
		require.NoError(t, err)
		var before map[string][]byte
		for range 3 {
			ledger, problems := assess.Read(s.files(c), p)
			require.Empty(t, problems)
			got := assess.Measure(ledger, p, day.MustDate("2025-10-01"))
			if before != nil {
				require.Equal(t, before, map[string][]byte(got))
			}
			before = got
		}
	}
}

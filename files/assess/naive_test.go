package assess_test

import (
	"fmt"
	"math/big"
	"slices"
	"sort"
	"strings"
	"time"
)

// This is the calculation a second time, written from the rules alone and as
// plainly as they are: minute by minute, date by date, with nothing of the core.
// It is slow, and it is what the core is held against.

type naiveCode struct {
	code, counts, minutesAs string
	late, medical           bool
	unexplained             bool
}

type naiveTrigger struct {
	id, count, window string
	of                []string
	reach, n          int
}

type naiveStep struct {
	from, to int
	do       []string
}

type naiveLadder struct {
	id, per, within string
	steps           []naiveStep
}

type naiveBand struct {
	name, below string
}

type naivePolicy struct {
	unit, basis, absentAt, slots, threshold string
	minPossible                             int
	codes                                   []naiveCode
	bands                                   []naiveBand
	triggers                                []naiveTrigger
	ladders                                 []naiveLadder
}

type naiveSlot struct {
	name       string
	start, end int
	kind       string
}

type naiveDate struct {
	date, pattern, term, grading string
}

type naiveStudent struct {
	id, from, to, here, elsewhere string
	schedule                      []naiveDue
	enrolments                    []naiveSpan  // in place of from and to
	shares                        []naiveShare // in place of here and elsewhere, on their dates
}

type naiveSpan struct{ from, to string }

type naiveShare struct{ from, to, here, elsewhere string }

type naiveDue struct {
	slot     string
	weekday  int
	from, to string
}

// lies reports whether a date is in a span of which either end may be open.
func lies(date, from, to string) bool {
	return (from == "" || date >= from) && (to == "" || date <= to)
}

type naiveMark struct {
	code, from, to, class string
}

type naiveSchool struct {
	policy   naivePolicy
	dates    []naiveDate
	patterns map[string][]naiveSlot
	students []naiveStudent
	marks    map[string]naiveMark // by student, date, slot

	days  map[string]naiveDay // worked out once, by student and date
	weeks map[string]int
}

func rat(s string) *big.Rat {
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		panic(s)
	}
	return r
}

func (s *naiveSchool) code(name string) naiveCode {
	for _, c := range s.policy.codes {
		if c.code == name {
			return c
		}
	}
	panic("no code " + name)
}

// open returns the open dates in order.
func (s *naiveSchool) open() []naiveDate {
	var out []naiveDate
	for _, d := range s.dates {
		if d.pattern != "closed" {
			out = append(out, d)
		}
	}
	sort.Slice(out, func(a, b int) bool { return out[a].date < out[b].date })
	return out
}

// counted returns a date's counted slots in time order.
func (s *naiveSchool) counted(d naiveDate) []naiveSlot {
	var out []naiveSlot
	for _, slot := range s.patterns[d.pattern] {
		if s.policy.slots == "all" || slot.kind == "registration" {
			out = append(out, slot)
		}
	}
	sort.Slice(out, func(a, b int) bool { return out[a].start < out[b].start })
	return out
}

func weekday(date string) int {
	t, _ := time.Parse(time.DateOnly, date)
	return (int(t.Weekday())+6)%7 + 1
}

func (st naiveStudent) enrolled(date string) bool {
	for _, e := range st.enrolments {
		if lies(date, e.from, e.to) {
			return true
		}
	}
	return st.enrolments == nil && lies(date, st.from, st.to)
}

func (st naiveStudent) due(slot, date string) bool {
	if st.schedule == nil {
		return true
	}
	for _, r := range st.schedule {
		if r.slot == slot && (r.weekday == 0 || r.weekday == weekday(date)) && lies(date, r.from, r.to) {
			return true
		}
	}
	return false
}

// naiveMinute is what became of one due minute: "attended", "unexcused",
// "medical" or "nonmedical".
type naiveMinute string

// naiveDay is a student's day.
type naiveDay struct {
	date                               string
	minutes                            []naiveMinute // in time order
	session                            []naiveMinute // by marked, non-void slot
	void, unmarked, unexplained, lates int
	timed                              bool
	late                               []naiveLate
	full                               int // total length of the pattern's counted slots
}

type naiveLate struct{ slot, class string }

func clock(s string) int {
	var h, m int
	if _, err := fmt.Sscanf(s, "%d:%d", &h, &m); err != nil {
		panic(s)
	}
	return h*60 + m
}

func (s *naiveSchool) day(st naiveStudent, d naiveDate) naiveDay {
	key := st.id + "|" + d.date
	if _, ok := s.days[key]; !ok {
		s.days[key] = s.workOut(st, d)
	}
	return s.days[key]
}

func (s *naiveSchool) workOut(st naiveStudent, d naiveDate) naiveDay {
	out := naiveDay{date: d.date}
	for _, slot := range s.counted(d) {
		out.full += slot.end - slot.start
		if !st.enrolled(d.date) || !st.due(slot.name, d.date) {
			continue
		}
		mark, ok := s.marks[st.id+"|"+d.date+"|"+slot.name]
		if !ok {
			out.unmarked++
			continue
		}
		code := s.code(mark.code)
		if code.late {
			out.lates++
			out.late = append(out.late, naiveLate{slot.name, mark.class})
		}
		if code.unexplained {
			out.unexplained++
		}
		timed := mark.from != "" || mark.to != ""
		out.timed = out.timed || timed
		if code.counts == "void" {
			out.void++
			continue
		}
		side := naiveMinute("unexcused")
		if code.counts == "excused" || code.counts == "attended" && code.minutesAs == "excused" {
			side = "nonmedical"
			if code.medical {
				side = "medical"
			}
		}
		away := code.counts == "excused" || code.counts == "unexcused" || code.counts == "attended" && timed
		from, to := slot.start, slot.end
		if mark.from != "" {
			from = clock(mark.from)
		}
		if mark.to != "" {
			to = clock(mark.to)
		}
		for m := slot.start; m < slot.end; m++ {
			if away && m >= from && m < to {
				out.minutes = append(out.minutes, side)
			} else {
				out.minutes = append(out.minutes, "attended")
			}
		}
		session := naiveMinute("attended")
		if code.counts == "excused" || code.counts == "unexcused" {
			session = side
		}
		out.session = append(out.session, session)
	}
	return out
}

func count(list []naiveMinute, sides ...naiveMinute) int {
	n := 0
	for _, m := range list {
		if slices.Contains(sides, m) {
			n++
		}
	}
	return n
}

func (d naiveDay) missed() int  { return len(d.minutes) - count(d.minutes, "attended") }
func (d naiveDay) excused() int { return count(d.minutes, "medical", "nonmedical") }

// side returns the side of the day, "attended", or "" where it is not possible.
func (s *naiveSchool) side(d naiveDay) naiveMinute {
	if len(d.minutes) == 0 {
		return ""
	}
	line := new(big.Rat).Mul(rat(s.policy.absentAt), big.NewRat(int64(len(d.minutes)), 1))
	if big.NewRat(int64(d.missed()), 1).Cmp(line) < 0 {
		return "attended"
	}
	switch {
	case count(d.minutes, "unexcused") >= d.excused():
		return "unexcused"
	case count(d.minutes, "medical") == d.missed():
		return "medical"
	default:
		return "nonmedical"
	}
}

// fullCharge returns the charge of a day that is charged as a full one.
func (s *naiveSchool) fullCharge(st naiveStudent, d naiveDay) (minutes int, side naiveMinute, ok bool) {
	if s.policy.basis != "full_day" || len(d.minutes) == 0 || d.missed() < len(d.minutes) || d.timed || d.void > 0 || d.unmarked > 0 {
		return 0, "", false
	}
	here, elsewhere := st.here, st.elsewhere
	for _, x := range st.shares {
		if lies(d.date, x.from, x.to) {
			here, elsewhere = x.here, x.elsewhere
		}
	}
	if here == "" {
		here = "1"
	}
	if elsewhere == "" {
		elsewhere = "0"
	}
	exact := new(big.Rat).Mul(big.NewRat(int64(d.full), 1), new(big.Rat).Add(rat(here), rat(elsewhere)))
	exact.Add(exact, big.NewRat(1, 2))
	minutes = int(new(big.Int).Div(exact.Num(), exact.Denom()).Int64())
	minutes = max(minutes, d.missed())
	side = "nonmedical"
	if count(d.minutes, "unexcused") > 0 {
		side = "unexcused"
	} else if count(d.minutes, "medical") == d.missed() {
		side = "medical"
	}
	return minutes, side, true
}

func (s *naiveSchool) charged(st naiveStudent, d naiveDay, sides ...naiveMinute) int {
	if n, side, ok := s.fullCharge(st, d); ok {
		if slices.Contains(sides, side) {
			return n
		}
		return 0
	}
	return count(d.minutes, sides...)
}

func sidesOf(of []string) []naiveMinute {
	var out []naiveMinute
	for _, o := range of {
		switch o {
		case "excused":
			out = append(out, "medical", "nonmedical")
		case "excused_nonmedical":
			out = append(out, "nonmedical")
		default:
			out = append(out, naiveMinute(o))
		}
	}
	return out
}

// weekNumber counts the school weeks before the date's.
func (s *naiveSchool) weekNumber(date string) int {
	if n, ok := s.weeks[date]; ok {
		return n
	}
	monday := func(date string) string {
		t, _ := time.Parse(time.DateOnly, date)
		return t.AddDate(0, 0, 1-weekday(date)).Format(time.DateOnly)
	}
	before := map[string]bool{}
	for _, d := range s.open() {
		if m := monday(d.date); m < monday(date) {
			before[m] = true
		}
	}
	s.weeks[date] = len(before)
	return len(before)
}

// inWindow says whether d takes part in the window that ends on end.
func (s *naiveSchool) inWindow(t naiveTrigger, d, end naiveDate) bool {
	switch t.window {
	case "year":
		return true
	case "term":
		return d.term == end.term
	case "grading_period":
		return d.grading == end.grading
	case "month":
		return d.date[:7] == end.date[:7]
	case "four_weeks":
		return s.weekNumber(d.date)/4 == s.weekNumber(end.date)/4
	case "rolling_weeks":
		return s.weekNumber(end.date)-s.weekNumber(d.date) < t.n
	case "rolling_days":
		between := 0
		for _, o := range s.open() {
			if o.date > d.date && o.date <= end.date {
				between++
			}
		}
		return between < t.n
	}
	panic(t.window)
}

func (s *naiveSchool) adds(st naiveStudent, t naiveTrigger, d naiveDay) int {
	switch t.count {
	case "lates":
		return d.lates
	case "minutes":
		return s.charged(st, d, sidesOf(t.of)...)
	case "sessions":
		return count(d.session, sidesOf(t.of)...)
	}
	if slices.Contains(sidesOf(t.of), s.side(d)) {
		return 1
	}
	return 0
}

// runSteps returns what a day does to a run: a number to add, or −1 to begin anew.
func (s *naiveSchool) runSteps(st naiveStudent, t naiveTrigger, d naiveDay) []int {
	var units []naiveMinute
	size := 1
	switch t.count {
	case "days":
		if side := s.side(d); side != "" {
			units = []naiveMinute{side}
		}
	case "sessions":
		units = d.session
	default:
		units = d.minutes
		if n, side, ok := s.fullCharge(st, d); ok {
			units, size = []naiveMinute{side}, n
		}
	}
	var out []int
	for _, u := range units {
		if slices.Contains(sidesOf(t.of), u) {
			out = append(out, size)
		} else {
			out = append(out, -1)
		}
	}
	return out
}

func (s *naiveSchool) trigger(st naiveStudent, t naiveTrigger, asAt string) (now int, reachedOn string) {
	run := 0
	for _, end := range s.open() {
		if end.date > asAt {
			break
		}
		if t.window == "run" {
			for _, step := range s.runSteps(st, t, s.day(st, end)) {
				if step < 0 {
					run = 0
				} else {
					run += step
				}
				if run >= t.reach && reachedOn == "" {
					reachedOn = end.date
				}
			}
			now = run
			continue
		}
		now = 0
		for _, d := range s.open() {
			if d.date <= end.date {
				if n := s.adds(st, t, s.day(st, d)); n > 0 && s.inWindow(t, d, end) {
					now += n
				}
			}
		}
		if now >= t.reach && reachedOn == "" {
			reachedOn = end.date
		}
	}
	return now, reachedOn
}

// tables returns what must stand in students.csv, triggers.csv and steps.csv.
func (s *naiveSchool) tables(asAt string) map[string]string {
	students := "student,unit,possible,absent,excused,unexcused,unexplained,void,unmarked,lates,due_minutes,missed_minutes,charged_minutes,absence_rate,band,headroom,way_back\n"
	triggers := "student,trigger,now,reach,reached_on\n"
	steps := "student,ladder,scope,period,count,date,actions\n"
	for _, st := range s.students {
		students += s.student(st, asAt) + "\n"
		for _, t := range s.policy.triggers {
			now, on := s.trigger(st, t, asAt)
			triggers += fmt.Sprintf("%s,%s,%d,%d,%s\n", st.id, t.id, now, t.reach, on)
		}
		for _, l := range s.policy.ladders {
			for _, line := range s.steps(st, l, asAt) {
				steps += line + "\n"
			}
		}
	}
	return map[string]string{"students.csv": students, "triggers.csv": triggers, "steps.csv": steps}
}

func (s *naiveSchool) student(st naiveStudent, asAt string) string {
	var possible, excused, unexcused, unexplained, void, unmarked, lates, due, missed, charged, toCome int
	for _, d := range s.open() {
		one := s.day(st, d)
		if d.date > asAt {
			if !st.enrolled(d.date) {
				continue
			}
			slots := 0
			for _, slot := range s.counted(d) {
				if st.due(slot.name, d.date) {
					slots++
				}
			}
			if s.policy.unit == "day" {
				slots = min(slots, 1)
			}
			toCome += slots
			continue
		}
		unexplained, void, unmarked, lates = unexplained+one.unexplained, void+one.void, unmarked+one.unmarked, lates+one.lates
		due, missed = due+len(one.minutes), missed+one.missed()
		charged += s.charged(st, one, "unexcused", "medical", "nonmedical")
		switch s.policy.unit {
		case "session":
			possible += len(one.session)
			excused += count(one.session, "medical", "nonmedical")
			unexcused += count(one.session, "unexcused")
		case "minute":
			possible += len(one.minutes)
			excused += one.excused()
			unexcused += count(one.minutes, "unexcused")
		default:
			side := s.side(one)
			if side != "" {
				possible++
			}
			if side == "medical" || side == "nonmedical" {
				excused++
			}
			if side == "unexcused" {
				unexcused++
			}
		}
	}
	absent := excused + unexcused
	rate, band, headroom, wayBack := "", "", "", ""
	if possible > 0 {
		rate = big.NewRat(int64(100*absent), int64(possible)).FloatString(1)
		if possible >= s.policy.minPossible {
			for _, b := range s.policy.bands {
				if b.below == "" || big.NewRat(int64(absent), int64(possible)).Cmp(rat(b.below)) < 0 {
					band = b.name
					break
				}
			}
		}
	}
	threshold := rat(s.policy.threshold)
	if s.policy.unit != "minute" {
		if possible+toCome > 0 {
			headroom = "none"
			for x := range toCome + 1 {
				if big.NewRat(int64(absent+x), int64(possible+toCome)).Cmp(threshold) < 0 {
					headroom = fmt.Sprint(x)
				}
			}
		}
		m := 0
		for possible > 0 && big.NewRat(int64(absent), int64(possible+m)).Cmp(threshold) >= 0 {
			m++
		}
		wayBack = fmt.Sprint(m)
	}
	return strings.Join([]string{st.id, s.policy.unit, fmt.Sprint(possible), fmt.Sprint(absent), fmt.Sprint(excused), fmt.Sprint(unexcused),
		fmt.Sprint(unexplained), fmt.Sprint(void), fmt.Sprint(unmarked), fmt.Sprint(lates), fmt.Sprint(due), fmt.Sprint(missed), fmt.Sprint(charged),
		rate, band, headroom, wayBack}, ",")
}

func (s *naiveSchool) steps(st naiveStudent, l naiveLadder, asAt string) []string {
	counts := map[string]int{}
	var out []string
	for _, d := range s.open() {
		if d.date > asAt {
			break
		}
		for n, late := range s.day(st, d).late {
			if l.per == "day" && n > 0 {
				continue
			}
			scope := map[string]string{"day": "day", "school": "school", "slot": late.slot, "class": late.class}[l.per]
			if l.per == "class" && late.class == "" {
				scope = late.slot
			}
			period := map[string]string{"year": "year", "term": d.term, "grading_period": d.grading}[l.within]
			counts[scope+"|"+period]++
			k := counts[scope+"|"+period]
			for _, step := range l.steps {
				if k >= step.from && (step.to == 0 || k <= step.to) {
					out = append(out, strings.Join([]string{st.id, l.id, scope, period, fmt.Sprint(k), d.date, strings.Join(step.do, ";")}, ","))
				}
			}
		}
	}
	return out
}

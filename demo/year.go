package demo

import (
	"math"
	"math/rand/v2"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// mark is what a register will say of a student in a slot.
type mark struct {
	code     string
	from, to day.Minute // −1 for none
}

var present = mark{code: "P"}

// habit is how a student comes to school. Chances are per school day.
type habit struct {
	ill       float64 // an illness begins
	unexcused float64
	late      float64
	monday    float64 // how much worse Mondays are
	slide     float64 // how much worse it gets over the year; below 1 it gets better
	slideFrom int     // school day on which the slide begins
	skip      float64 // one lesson missed while on site
}

// dayPlan is one student's day, slot by slot, in the order of dayShape.
type dayPlan struct {
	slots  [8]mark
	reason string     // where the whole day is missed
	comes  day.Minute // when the student arrives, where late; −1 else
}

// habits draws a habit for each student; most are well, a few are not.
func (p *people) habits() []habit {
	r := rand.New(rand.NewPCG(seed, 2))
	out := make([]habit, len(p.school.Students))
	for i := range out {
		level := math.Exp(r.NormFloat64()*0.62) * 0.8
		out[i] = habit{ill: 0.0125 * level, unexcused: 0.0028 * level * level, late: 0.013 * level, monday: 1.3, slide: 1, skip: 0.0012 * level}
		switch r.IntN(40) {
		case 0:
			out[i].unexcused, out[i].slide, out[i].slideFrom = 0.012, 6, 70
		case 1:
			out[i].ill, out[i].unexcused, out[i].slide, out[i].slideFrom = 0.03, 0.05, 0.15, 60
		case 2:
			out[i].unexcused, out[i].late = 0.05, 0.12
		}
	}
	for name, h := range map[string]habit{
		"Mika Ulvar":      {ill: 0.006, unexcused: 0.008, late: 0.03, monday: 2, slide: 1},
		"Oona Harle":      {ill: 0.003, late: 0.01, slide: 5, slideFrom: 70, skip: 0.08, monday: 1},
		"Tavi Lund":       {ill: 0.03, late: 0.02, slide: 1, monday: 1},
		"Perran Hask":     {ill: 0, unexcused: 0, late: 0.01, slide: 1, monday: 1},
		"Della Fairhurst": {ill: 0.02, unexcused: 0.02, slide: 1, monday: 1},
		"Elis Merrow":     {ill: 0.01, unexcused: 0.02, slide: 1, monday: 2},
		"Ansa Merrow":     {ill: 0.02, unexcused: 0.05, slide: 1, monday: 2},
		"Cato Vane":       {ill: 0.004, unexcused: 0.03, slide: 4, slideFrom: 75, monday: 1},
		"Idris Quell":     {ill: 0.03, unexcused: 0.03, slide: 1, monday: 2},
	} {
		out[p.named(name).ID-1] = h
	}
	return out
}

// ferryLate are the days on which a ferry came late, and by how much.
var ferryLate = map[string]map[string]day.Minutes{
	"2025-09-23": {"Skua": 25}, "2025-10-14": {"Petrel": 40}, "2025-11-06": {"Dunlin": 30, "Skua": 55}, "2025-11-27": {"Petrel": 20},
	"2025-12-09": {"Skua": 70}, "2026-01-15": {"Petrel": 35, "Dunlin": 35}, "2026-02-05": {"Skua": 30}, "2026-02-26": {"Petrel": 45},
}

// wave is how much illness is about: a wave before Christmas, a smaller one in February.
func wave(number int) float64 {
	bump := func(at, width, height float64) float64 {
		x := (float64(number) - at) / width
		return height * math.Exp(-x*x)
	}
	return 0.75 + bump(62, 9, 1.7) + bump(96, 7, 1.0)
}

// year plans every student's days up to and including the n-th school day.
func (p *people) year(days []day.Date) [][]dayPlan {
	habits := p.habits()
	out := make([][]dayPlan, len(p.school.Students))
	for i := range p.school.Students {
		r := rand.New(rand.NewPCG(seed, uint64(1000+i)))
		out[i] = make([]dayPlan, len(days))
		illFor := 0
		for n, d := range days {
			out[i][n], illFor = planDay(r, habits[i], n, d, illFor, p.school.Students[i].Travels, shapeOf(sectionNamed(p.school.Students[i].Year)))
		}
	}
	p.storyDays(days, out)
	return out
}

func planDay(r *rand.Rand, h habit, n int, d day.Date, illFor int, travels string, shape []store.PatternSlot) (dayPlan, int) {
	plan := dayPlan{}
	for k := range plan.slots {
		plan.slots[k] = present
	}
	worse := 1.0
	if h.slide != 0 && n >= h.slideFrom {
		worse = h.slide
	}
	weekday := 1.0
	if d.Weekday() == 1 {
		weekday = max(1, h.monday)
	}
	rolls := [6]float64{r.Float64(), r.Float64(), r.Float64(), r.Float64(), r.Float64(), r.Float64()}
	length := 1 + int(r.ExpFloat64()*1.6)
	switch {
	case illFor > 0:
		illFor--
		plan.whole("M", "ill")
	case rolls[0] < h.ill*wave(n)*weekday*min(worse, 2):
		illFor = min(length, 7) - 1
		plan.whole("M", "ill")
	case rolls[1] < h.unexcused*worse*weekday:
		plan.whole("U", "")
	case rolls[2] < 0.004:
		plan.whole("X", "family")
	default:
		plan.parts(r, h, worse, rolls, ferryLate[d.String()][travels], shape)
	}
	return plan, illFor
}

func (p *dayPlan) whole(code, reason string) {
	p.reason = reason
	for k := range p.slots {
		p.slots[k] = mark{code: code}
	}
}

// parts plans lates, appointments, early departures and single lessons missed.
func (p *dayPlan) parts(r *rand.Rand, h habit, worse float64, rolls [6]float64, ferry day.Minutes, shape []store.PatternSlot) {
	switch {
	case ferry > 0:
		p.lateBy(shape, ferry, "X", "LX")
	case rolls[3] < h.late*min(worse, 3):
		p.lateBy(shape, day.Minutes(4+int(r.ExpFloat64()*9)), "U", "L")
	case rolls[4] < 0.009:
		p.lateBy(shape, day.Minutes(60+r.IntN(150)), "X", "LX") // an appointment in the morning
	case rolls[4] > 0.993:
		p.leave(shape, day.MustMinute("11:40").Add(day.Minutes(r.IntN(180))), "D", "X")
	}
	if rolls[5] < h.skip*worse {
		p.slots[[]int{2, 3, 4, 6, 6, 7}[r.IntN(6)]] = mark{code: "U"}
	}
}

// lateBy has the student arrive so many minutes after the first slot began.
func (p *dayPlan) lateBy(shape []store.PatternSlot, minutes day.Minutes, missed, late string) {
	at := shape[0].Start.Add(min(minutes, 300))
	p.comes = at
	for k, s := range shape {
		switch {
		case !s.End.After(at):
			p.slots[k] = mark{code: missed}
		case s.Start.Before(at):
			p.slots[k] = mark{code: late, to: at}
		}
	}
}

// lateReason is what a latecomer says at the desk.
func (p *dayPlan) lateReason(ferry bool) string {
	switch {
	case ferry:
		return "ferry"
	case p.slots[0].code == "X" || p.slots[0].code == "LX":
		return "appointment"
	default:
		return "overslept"
	}
}

func (p *dayPlan) leave(shape []store.PatternSlot, at day.Minute, early, after string) {
	for k, s := range shape {
		switch {
		case !s.Start.Before(at):
			p.slots[k] = mark{code: after}
		case s.End.After(at):
			p.slots[k] = mark{code: early, from: at}
		}
	}
}

// storyDays writes what the planted stories need, whatever was drawn.
func (p *people) storyDays(days []day.Date, out [][]dayPlan) {
	set := func(name string, code, reason string, numbers ...int) {
		for _, n := range numbers {
			if n-1 < len(days) {
				plan := dayPlan{}
				plan.whole(code, reason)
				out[p.named(name).ID-1][n-1] = plan
			}
		}
	}
	clear := func(name string, from, to int) {
		for n := from; n <= to && n-1 < len(days); n++ {
			plan := dayPlan{}
			for k := range plan.slots {
				plan.slots[k] = present
			}
			out[p.named(name).ID-1][n-1] = plan
		}
	}
	// Nearly back under ten per cent: ill in the autumn, in for every day since.
	clear("Perran Hask", 1, 113)
	set("Perran Hask", "M", "ill", 12, 13, 14, 15, 16, 40, 41, 42, 43, 58, 59, 60)
	// A home that nobody reaches.
	set("Elis Merrow", "U", "", 92, 99, 104, 110)
	set("Ansa Merrow", "U", "", 92, 99, 104, 110)
	// Sliding since the move.
	set("Mika Ulvar", "U", "", 88, 93, 97, 98, 103, 107, 111, 112)
	clear("Mika Ulvar", 113, 113)
	// One who nobody missed: away two days running, on no list.
	set("Della Fairhurst", "N", "", 112, 113)
	// Part-time: mornings only, a week of illness looks like much.
	set("Tavi Lund", "M", "ill", 61, 62, 63, 64, 65)
	// Single lessons missed while on site.
	oona := out[p.named("Oona Harle").ID-1]
	for _, n := range []int{84, 87, 91, 95, 98, 102, 105, 108, 111} {
		clear("Oona Harle", n, n)
		if n-1 < len(oona) {
			oona[n-1].slots[6] = mark{code: "U"}
		}
	}
	clear("Oona Harle", 112, 113)
	p.neverSaidWhy(out)
}

// neverSaidWhy has the homes of a few students leave a day's absence without a reason.
func (p *people) neverSaidWhy(out [][]dayPlan) {
	for i := 20; i < len(out); i += 37 {
		if p.isPlanted(&p.school.Students[i]) {
			continue
		}
		for n := 96; n < 109 && n < len(out[i]); n++ {
			first, last := out[i][n].slots[0].code, out[i][n].slots[7].code
			if first == last && (first == "M" || first == "X" || first == "U") {
				out[i][n].whole("N", "")
				break
			}
		}
	}
}

// timetableOf returns, for each student and weekday, the class of each slot; 0
// where the student is not due.
func (p *people) timetableOf() [][5][8]ids.Class {
	out := make([][5][8]ids.Class, len(p.school.Students))
	meets := map[ids.Class][]store.Meeting{}
	for _, m := range p.school.Timetable {
		if m.To == nil {
			meets[m.ClassID] = append(meets[m.ClassID], m)
		}
	}
	place := map[string]int{}
	for k, s := range dayShape {
		place[s.Slot] = k
	}
	due := map[ids.Student]map[[2]int]bool{}
	for _, s := range p.school.Slots {
		if due[s.StudentID] == nil {
			due[s.StudentID] = map[[2]int]bool{}
		}
		due[s.StudentID][[2]int{s.Weekday, place[s.Slot]}] = true
	}
	for _, e := range p.school.Enrollments {
		if e.To != nil {
			continue // of an earlier year
		}
		for _, m := range meets[e.ClassID] {
			for w := 1; w <= 5; w++ {
				k := place[m.Slot]
				own := due[e.StudentID]
				if (m.Weekday == 0 || m.Weekday == w) && (own == nil || own[[2]int{0, k}] || own[[2]int{w, k}]) {
					out[e.StudentID-1][w-1][k] = e.ClassID
				}
			}
		}
	}
	return out
}

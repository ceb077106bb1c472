package school

import (
	"slices"

	"meldung/core/absence"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/work"
)

// BandMove is who stands in one band under one policy and in one under another.
type BandMove struct {
	From string `json:"from" doc:"The band under the policy before; empty for none"`
	To   string `json:"to" doc:"The band under the policy after; empty for none"`
	Who  Names  `json:"who" doc:"Named where the bands differ"`
}

// LineUnder is a line of one policy or both: who came to it this year.
type LineUnder struct {
	Title    string `json:"title"`
	Sentence string `json:"sentence" doc:"When it is reached; empty for steps at lates"`
	Had      bool   `json:"had" doc:"The policy before has it"`
	Has      bool   `json:"has" doc:"The policy after has it"`
	Before   int    `json:"before" doc:"Students who came to it under the policy before"`
	After    int    `json:"after" doc:"Students who came to it under the policy after"`
	Only     Names  `json:"only" doc:"Who comes to it under the policy after alone"`
	Never    Names  `json:"never" doc:"Who came to it under the policy before alone"`
	Other    Names  `json:"other" doc:"Who comes to it under both, on another date"`
}

// Names are students behind a number.
type Names struct {
	Count    int       `json:"count"`
	Students []Touched `json:"students" doc:"The first of them"`
}

// Touched is a student for whom another policy makes a difference.
type Touched struct {
	ID   ids.Student `json:"id"`
	Name string      `json:"name"`
	Form string      `json:"form"`
	When string      `json:"when" doc:"The date on which a line was reached; empty for bands"`
}

// mostTouched bounds each list of names.
const mostTouched = 300

// compare says whom a policy in place of another makes a difference for in a section, up to
// yesterday; either may be nil. What several sections say adds up, by the names of bands and
// lines.
func (out *PolicyPlan) compare(s work.Section, before, after *policy.Policy) {
	if s.Ledger == nil {
		return
	}
	c := absence.Compare(s.Ledger, before, after, onRoll(s), s.Ledger.YearTo(s.On-1).To)
	touched := func(row, on int) Touched {
		t := Touched{ID: s.Students[row].ID, Name: s.Students[row].Name(), Form: s.School.Form(s.Students[row].ID, s.On)}
		if on >= 0 {
			t.When = s.Ledger.Calendar().Day(on).Date.Spoken()
		}
		return t
	}
	for _, m := range c.Moves {
		to := out.move(bandName(before, m.From), bandName(after, m.To))
		if to.From == to.To {
			to.Who.Count += len(m.Students)
			out.Stay += len(m.Students)
			continue
		}
		out.Moved += len(m.Students)
		for _, row := range m.Students {
			to.Who.add(touched(row, -1))
		}
	}
	for _, l := range c.Lines {
		to := out.line(l)
		to.Before += len(l.Before)
		to.After += len(l.After)
		was := map[int]int{}
		for _, r := range l.Before {
			was[r.Student] = r.On
		}
		for _, r := range l.After {
			on, both := was[r.Student]
			delete(was, r.Student)
			switch {
			case !both:
				to.Only.add(touched(r.Student, r.On))
			case on != r.On:
				to.Other.add(touched(r.Student, r.On))
			}
		}
		for _, r := range l.Before {
			if _, alone := was[r.Student]; alone {
				to.Never.add(touched(r.Student, r.On))
			}
		}
	}
}

func none() Names { return Names{Students: []Touched{}} }

func (n *Names) add(t Touched) {
	n.Count++
	if len(n.Students) < mostTouched {
		n.Students = append(n.Students, t)
	}
}

func bandName(p *policy.Policy, place int) string {
	if p == nil || place < 0 {
		return ""
	}
	return p.Bands[place].Name
}

func (out *PolicyPlan) move(from, to string) *BandMove {
	i := slices.IndexFunc(out.Moves, func(m BandMove) bool { return m.From == from && m.To == to })
	if i < 0 {
		out.Moves = append(out.Moves, BandMove{From: from, To: to, Who: none()})
		i = len(out.Moves) - 1
	}
	return &out.Moves[i]
}

func (out *PolicyPlan) line(l absence.LineUnder) *LineUnder {
	i := slices.IndexFunc(out.Lines, func(x LineUnder) bool { return x.Title == l.Title && x.Sentence == l.Sentence })
	if i < 0 {
		out.Lines = append(out.Lines, LineUnder{Title: l.Title, Sentence: l.Sentence, Had: l.Had, Has: l.Has, Only: none(), Never: none(), Other: none()})
		i = len(out.Lines) - 1
	}
	return &out.Lines[i]
}

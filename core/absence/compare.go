package absence

import (
	"slices"

	"meldung/core/policy"
)

// Comparison is what measuring by one policy in place of another makes of some students, for the
// year up to a day.
type Comparison struct {
	Moves []Move // by band before, then after
	Lines []LineUnder
}

// Move is who stands in one band under the one policy and in one under the other. A place is −1
// for no band.
type Move struct {
	From, To int
	Students []int
}

// LineUnder is a trigger or a ladder under both policies, told by its id: who came to it, and
// on which open day first. One that only one of them has is reached by nobody under the other.
type LineUnder struct {
	ID, Title     string
	Sentence      string // when it is reached under the policy after, or before where only that has it
	Had, Has      bool   // whether the policy before, and after, has it
	Before, After []FirstReached
}

// FirstReached is a student who came to a line, and the open day on which that was so first.
type FirstReached struct{ Student, On int }

// Compare measures students by two policies over the year up to the open day asAt. Either may be
// nil: then it says nothing of anybody.
func Compare(l *Ledger, before, after *policy.Policy, students []int, asAt int) Comparison {
	var both []*policy.Policy
	for _, p := range []*policy.Policy{before, after} {
		if p != nil {
			both = append(both, p)
		}
	}
	panel := NewPanel(l, both...)
	out := Comparison{Lines: linesOf(before, after)}
	at := map[string]int{}
	for n, line := range out.Lines {
		at[line.ID] = n
	}
	moves := map[[2]int][]int{}
	for _, i := range students {
		results := panel.Student(i, asAt)
		bands := [2]int{-1, -1}
		for n, r := range results {
			isAfter := n == 1 || before == nil
			side := 0
			if isAfter {
				side = 1
			}
			bands[side] = r.Figures.Band
			for id, on := range firsts(r) {
				line := &out.Lines[at[id]]
				to := &line.Before
				if isAfter {
					to = &line.After
				}
				*to = append(*to, FirstReached{i, on})
			}
		}
		moves[bands] = append(moves[bands], i)
	}
	for bands, who := range moves {
		out.Moves = append(out.Moves, Move{bands[0], bands[1], who})
	}
	slices.SortFunc(out.Moves, func(a, b Move) int {
		return slices.Compare([]int{a.From, a.To}, []int{b.From, b.To})
	})
	return out
}

// firsts returns, by id, the open day on which each line was first reached.
func firsts(r Result) map[string]int {
	out := map[string]int{}
	for _, t := range r.Triggers {
		if t.Ever {
			out[t.Trigger.ID] = t.On
		}
	}
	for _, s := range r.Steps {
		id := ladderLine + s.Ladder.ID
		if on, known := out[id]; !known || s.Day < on {
			out[id] = s.Day
		}
	}
	return out
}

// ladderLine tells a ladder's id from a trigger's.
const ladderLine = "ladder "

// linesOf lists the lines of the policy after, and then those that only the one before has.
func linesOf(before, after *policy.Policy) []LineUnder {
	var out []LineUnder
	add := func(id, title, sentence string, has bool) {
		n := slices.IndexFunc(out, func(l LineUnder) bool { return l.ID == id })
		if n < 0 {
			out = append(out, LineUnder{ID: id, Title: title, Sentence: sentence})
			n = len(out) - 1
		}
		out[n].Has = out[n].Has || has
		out[n].Had = out[n].Had || !has
	}
	for n, p := range []*policy.Policy{after, before} {
		if p == nil {
			continue
		}
		for _, t := range p.Triggers {
			add(t.ID, t.Name(), t.Sentence(), n == 0)
		}
		for _, l := range p.Ladders {
			add(ladderLine+l.ID, l.Name(), "", n == 0)
		}
	}
	return out
}

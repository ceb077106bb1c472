package schoolpage

import (
	"meldung/held"
	"meldung/pages"
	"meldung/work"
	"meldung/work/steps"
)

// RuledPolicy is a policy with what it can make due.
type RuledPolicy struct {
	ID      string      `json:"id"`
	Title   string      `json:"title"`
	Lines   []RuledLine `json:"lines" doc:"Its triggers; a policy without any and without ladders makes nothing due"`
	Ladders []string    `json:"ladders" doc:"Its ladders in words; each names its own actions"`
}

// RuledLine is a line of a policy with the action that it asks for.
type RuledLine struct {
	ID     string `json:"id"`
	Title  string `json:"title"`
	Action string `json:"action" doc:"The key of an action; empty where nothing is done there"`
}

// StepsSet is on which policies a section acts, and how.
type StepsSet struct {
	Follows  []held.Followed `json:"follows"`
	Actions  []held.Action   `json:"actions"`
	Policies []RuledPolicy   `json:"policies"`
	Address  string          `json:"address" doc:"The school's, in lines, on its letters"`
	Phone    string          `json:"phone" doc:"To be called about a letter"`
	Seen     string          `json:"seen" doc:"The stamp of these rules, to send along with a change"`
	Today    string          `json:"today" doc:"From which a policy is followed that is chosen now"`
}

func stepsSet(s work.Section) (StepsSet, error) {
	rules := s.Settings.Steps
	out := StepsSet{Follows: append([]held.Followed{}, rules.Follows...), Actions: append([]held.Action{}, rules.All()...), Policies: []RuledPolicy{}, Address: rules.Address, Phone: rules.Phone, Seen: steps.Stamp(rules), Today: s.On.String()}
	list, err := s.PoliciesOn(s.On)
	if err != nil {
		return out, err
	}
	for _, p := range list {
		if len(p.Triggers)+len(p.Ladders) == 0 {
			continue
		}
		one := RuledPolicy{ID: p.ID, Title: p.Title, Lines: []RuledLine{}, Ladders: []string{}}
		for i := range p.Triggers {
			t := &p.Triggers[i]
			line := RuledLine{ID: t.ID, Title: pages.TitleOr(t.Title, steps.Line(t))}
			if a, asked := rules.OfLine(p.ID, t); asked {
				line.Action = a.Key
			}
			one.Lines = append(one.Lines, line)
		}
		for _, l := range p.Ladders {
			one.Ladders = append(one.Ladders, pages.TitleOr(l.Title, l.ID))
		}
		out.Policies = append(out.Policies, one)
	}
	return out, nil
}

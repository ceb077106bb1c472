package policy

import (
	"fmt"
	"strings"
)

// Matter is what a policy says of one matter, in sentences.
type Matter struct {
	About string   `json:"about"`
	Lines []string `json:"lines"`
}

// Plainly says the whole policy in sentences, by matter: what is counted, the bands, the lines,
// the lates. What the policy leaves out is left out.
func (p *Policy) Plainly() []Matter {
	out := []Matter{{"What is counted", p.counted()}}
	for _, part := range []Matter{{"Bands", p.bandLines()}, {"Lines", p.triggerLines()}, {"Lates", p.ladderLines()}} {
		if len(part.Lines) > 0 {
			out = append(out, part)
		}
	}
	return out
}

func (p *Policy) counted() []string {
	half := "at least " + Share(p.DayAbsentAt) + " of what was due on it was"
	if p.DayAbsentAt.Cmp(1, 1) == 0 {
		half = "all that was due on it was"
	}
	out := []string{map[Unit]string{
		Day:     "Days are counted. A day is missed when " + half + " missed.",
		Session: "Sessions are counted. A session is missed when the code of its mark is one of absence.",
		Minutes: "Minutes are counted: of each slot those that were missed.",
	}[p.Unit]}
	if p.Unit != Day {
		out = append(out, "Where lines count days, a day is missed when "+half+" missed.")
	}
	if p.RegistrationOnly {
		out = append(out, "Registrations alone enter the figures; lessons do not.")
	} else {
		out = append(out, "Registrations and lessons enter the figures.")
	}
	if p.Basis == FullDay {
		out = append(out, "In lines that count time, a day missed wholly is charged as a full school day, by the student's share of full time.")
	} else {
		out = append(out, "In lines that count time, a day missed wholly is charged with what was due of the student here.")
	}
	if p.MinPossible > 0 {
		out = append(out, fmt.Sprintf("Nobody is placed in a band before %s were possible.", p.Unit.Of(p.MinPossible)))
	}
	out = append(out, "Whoever missed "+Share(p.Threshold)+" or more is over the line that the pages show room to.")
	if p.UnexplainedAfter > 0 {
		out = append(out, fmt.Sprintf("An absence without a reason is to be settled within %s.", plural(p.UnexplainedAfter, "school day")))
	}
	if p.Codes != nil {
		out = append(out, fmt.Sprintf("Marks count by their codes: those of the set %s.", p.Codes.ID))
	}
	return out
}

func (p *Policy) bandLines() []string {
	var out []string
	from := ""
	for _, b := range p.Bands {
		switch {
		case b.Below == nil && from == "":
			out = append(out, b.Name+": everyone.")
		case b.Below == nil:
			out = append(out, fmt.Sprintf("%s: missed %s or more.", b.Name, from))
		case from == "":
			out = append(out, fmt.Sprintf("%s: missed less than %s.", b.Name, Share(*b.Below)))
		default:
			out = append(out, fmt.Sprintf("%s: missed %s or more, less than %s.", b.Name, from, Share(*b.Below)))
		}
		if b.Below != nil {
			from = Share(*b.Below)
		}
	}
	return out
}

func (p *Policy) triggerLines() []string {
	var out []string
	for _, t := range p.Triggers {
		out = append(out, t.Name()+": "+t.Sentence())
	}
	return out
}

// Name returns the trigger's title, or its id where it has none.
func (t Trigger) Name() string { return named(t.Title, t.ID) }

// Sentence says when the trigger's line is reached: "reached at 3 days unexcused in the month.".
func (t Trigger) Sentence() string {
	words := []string{"reached at", t.Count.Of(t.Reach)}
	if t.Count != CountLates {
		words = append(words, t.Of.Words())
	}
	return strings.Join(append(words, t.Window.Words()), " ") + "."
}

func (p *Policy) ladderLines() []string {
	var out []string
	for _, l := range p.Ladders {
		per := []string{"for each class apart", "for each slot apart", "once a day", "all together"}[l.Per]
		out = append(out, fmt.Sprintf("%s: lates are counted %s, %s.", l.Name(), per, Window{Kind: l.Within}.Words()))
		for _, s := range l.Steps {
			out = append(out, s.at()+": "+strings.Join(s.Do, ", ")+".")
		}
	}
	return out
}

// Name returns the ladder's title, or its id where it has none.
func (l Ladder) Name() string { return named(l.Title, l.ID) }

// at says at which lates a step is due.
func (s Step) at() string {
	switch {
	case s.To == s.From:
		return "At late " + fmt.Sprint(s.From)
	case s.To == 0:
		return fmt.Sprintf("At late %d and each one after", s.From)
	default:
		return fmt.Sprintf("At each of lates %d to %d", s.From, s.To)
	}
}

func named(title, id string) string {
	if title != "" {
		return title
	}
	return id
}

// Of says so many of the unit: "10 days", "1 session", "12 h".
func (u Unit) Of(n int) string {
	if u == Minutes {
		return CountMinutes.Of(n)
	}
	return plural(n, u.String())
}

func plural(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return fmt.Sprintf("%d %ss", n, of)
}

// Share writes a share of a whole: "10 %", "12.5 %", and "1/3" where per cent have no end.
func Share(f Fraction) string {
	if text, ok := f.Scaled(100, 1).Decimal(); ok {
		return text + " %"
	}
	return f.String()
}

// ParseShare reads what Share writes, and a share as policy files have it: "10 %", "1/10", "0.1".
func ParseShare(s string) (Fraction, error) {
	text, percent := strings.CutSuffix(strings.TrimSpace(s), "%")
	if !percent {
		return ParseFraction(text)
	}
	f, err := ParseDecimal(strings.TrimSpace(text))
	if err != nil {
		return Fraction{}, fmt.Errorf("%q is not a share such as 10 %%", s)
	}
	return f.Scaled(1, 100), nil
}

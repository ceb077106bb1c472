package policyfile

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/policy"
)

// PolicyForm is a policy as it is filled in: every value is text as somebody wrote it, right or wrong.
// Text writes it as a file, and Parse says what is wrong there. Shares may be written in per
// cent, times in hours and minutes.
type PolicyForm struct {
	ID               string        `json:"id" maxLength:"60"`
	Title            string        `json:"title" maxLength:"200"`
	Source           string        `json:"source" maxLength:"400"`
	Codes            string        `json:"codes" maxLength:"20000" doc:"The name of a code set, or the lines of a list of the policy's own"`
	Unit             string        `json:"unit" maxLength:"20" doc:"day, session or minute"`
	Basis            string        `json:"basis" maxLength:"20" doc:"scheduled or full_day"`
	Slots            string        `json:"slots" maxLength:"20" doc:"all or registration"`
	DayAbsentAt      string        `json:"dayAbsentAt" maxLength:"60" doc:"A share of what was due on a day"`
	MinPossible      string        `json:"minPossible" maxLength:"60" doc:"Units that must have been possible before anybody is in a band"`
	Threshold        string        `json:"threshold" maxLength:"60" doc:"The share that is over the line"`
	UnexplainedAfter string        `json:"unexplainedAfter" maxLength:"60" doc:"School days; 0 for never"`
	Bands            []BandForm    `json:"bands" maxItems:"50"`
	Triggers         []TriggerForm `json:"triggers" maxItems:"100"`
	Ladders          []LadderForm  `json:"ladders" maxItems:"50"`
}

// BandForm is a band as it is filled in; the last has nothing that it is below.
type BandForm struct {
	Name  string `json:"name" maxLength:"100"`
	Below string `json:"below" maxLength:"60"`
}

// TriggerForm is a line as it is filled in.
type TriggerForm struct {
	ID     string   `json:"id" maxLength:"60"`
	Title  string   `json:"title" maxLength:"200"`
	Count  string   `json:"count" maxLength:"20" doc:"minutes, sessions, days or lates"`
	Of     []string `json:"of" maxItems:"4" doc:"excused, unexcused, medical, excused_nonmedical; none for lates"`
	Reach  string   `json:"reach" maxLength:"60"`
	Window string   `json:"window" maxLength:"20"`
	N      string   `json:"n" maxLength:"20" doc:"Over how many a window rolls"`
}

// LadderForm answers repeated lateness, as it is filled in.
type LadderForm struct {
	ID     string     `json:"id" maxLength:"60"`
	Title  string     `json:"title" maxLength:"200"`
	Per    string     `json:"per" maxLength:"20" doc:"class, slot, day or school"`
	Within string     `json:"within" maxLength:"20" doc:"grading_period, term or year"`
	Steps  []StepForm `json:"steps" maxItems:"50"`
}

// StepForm is a rung of a ladder as it is filled in.
type StepForm struct {
	From string `json:"from" maxLength:"20"`
	To   string `json:"to" maxLength:"20" doc:"Empty for open"`
	Do   string `json:"do" maxLength:"400" doc:"Actions, with commas between them"`
}

// sideWords are the sides of absence as policy files have them, in their order.
var sideWords = []struct {
	word string
	side policy.Side
}{{"excused", policy.SideExcused}, {"unexcused", policy.SideUnexcused}, {"medical", policy.SideMedical}, {"excused_nonmedical", policy.SideExcusedNonmedical}}

// SideOf returns the side of a word; 0 where it is none.
func SideOf(word string) policy.Side {
	for _, s := range sideWords {
		if s.word == word {
			return s.side
		}
	}
	return 0
}

// withinWords are the spans of ladders as policy files have them.
var withinWords = map[policy.WindowKind]string{policy.GradingPeriod: "grading_period", policy.Term: "term", policy.Year: "year"}

// FormOf returns a policy filled in.
func FormOf(p *policy.Policy) PolicyForm {
	f := PolicyForm{ID: p.ID, Title: p.Title, Source: p.Source, Codes: p.Codes.ID, Unit: p.Unit.String(), Basis: p.Basis.String(), Slots: "all",
		DayAbsentAt: policy.Share(p.DayAbsentAt), MinPossible: strconv.Itoa(p.MinPossible), Threshold: policy.Share(p.Threshold),
		UnexplainedAfter: strconv.Itoa(p.UnexplainedAfter), Bands: []BandForm{}, Triggers: []TriggerForm{}, Ladders: []LadderForm{}}
	if p.RegistrationOnly {
		f.Slots = "registration"
	}
	if p.Codes.ID == ownCodes {
		f.Codes = codeLines(p.Codes)
	}
	for _, b := range p.Bands {
		one := BandForm{Name: b.Name}
		if b.Below != nil {
			one.Below = policy.Share(*b.Below)
		}
		f.Bands = append(f.Bands, one)
	}
	for _, t := range p.Triggers {
		f.Triggers = append(f.Triggers, triggerForm(t))
	}
	for _, l := range p.Ladders {
		one := LadderForm{ID: l.ID, Title: l.Title, Per: []string{"class", "slot", "day", "school"}[l.Per], Within: withinWords[l.Within], Steps: []StepForm{}}
		for _, s := range l.Steps {
			step := StepForm{From: strconv.Itoa(s.From), Do: strings.Join(s.Do, ", ")}
			if s.To != 0 {
				step.To = strconv.Itoa(s.To)
			}
			one.Steps = append(one.Steps, step)
		}
		f.Ladders = append(f.Ladders, one)
	}
	return f
}

func triggerForm(t policy.Trigger) TriggerForm {
	out := TriggerForm{ID: t.ID, Title: t.Title, Count: t.Count.String(), Of: []string{}, Reach: t.Count.Bare(t.Reach), Window: windowWords[t.Window.Kind]}
	if t.Window.N > 0 {
		out.N = strconv.Itoa(t.Window.N)
	}
	out.Of = append(out.Of, SideWords(t.Of)...)
	return out
}

// SideWords are sides as files have them, the widest that fit.
func SideWords(of policy.Side) []string {
	var out []string
	told := policy.Side(0)
	for _, s := range sideWords {
		if of&s.side == s.side && told&s.side == 0 {
			out, told = append(out, s.word), told|s.side
		}
	}
	return out
}

// WindowWord is a kind of window as files have it.
func WindowWord(k policy.WindowKind) string { return windowWords[k] }

// Text writes the policy as a file.
func (f PolicyForm) Text() []byte {
	w := &writer{}
	w.line("id: ", Quoted(f.ID))
	w.line("title: ", Quoted(f.Title))
	if f.Source != "" {
		w.line("source: ", Quoted(f.Source))
	}
	if strings.Contains(f.Codes, "\n") {
		w.line("codes:\n", strings.TrimRight(f.Codes, "\n"))
	} else {
		w.line("codes: ", Quoted(f.Codes))
	}
	w.line("unit: ", Quoted(f.Unit))
	w.line("basis: ", Quoted(f.Basis))
	w.line("day_absent_at: ", shareText(f.DayAbsentAt))
	w.line("slots: ", Quoted(f.Slots))
	w.line("min_possible: ", Quoted(amountText(f.MinPossible, f.Unit == "minute")))
	w.line("threshold: ", shareText(f.Threshold))
	if f.UnexplainedAfter != "" && f.UnexplainedAfter != "0" {
		w.line("unexplained_after: ", Quoted(f.UnexplainedAfter))
	}
	w.list("bands", len(f.Bands), func(i int) []string {
		b := f.Bands[i]
		if i == len(f.Bands)-1 && b.Below == "" {
			return []string{"name: " + Quoted(b.Name)}
		}
		return []string{"name: " + Quoted(b.Name), "below: " + shareText(b.Below)}
	})
	w.list("triggers", len(f.Triggers), func(i int) []string { return f.Triggers[i].fields() })
	if len(f.Ladders) > 0 {
		w.line("ladders:", "")
	}
	for _, l := range f.Ladders {
		w.line("  - id: ", Quoted(l.ID))
		if l.Title != "" {
			w.line("    title: ", Quoted(l.Title))
		}
		w.line("    per: ", Quoted(l.Per))
		w.line("    within: ", Quoted(l.Within))
		w.line("    steps:", "")
		for _, s := range l.Steps {
			w.line("      - ", flow(s.fields()))
		}
	}
	return []byte(w.String())
}

func (t TriggerForm) fields() []string {
	out := []string{"id: " + Quoted(t.ID)}
	if t.Title != "" {
		out = append(out, "title: "+Quoted(t.Title))
	}
	out = append(out, "count: "+Quoted(t.Count))
	if t.Count != "lates" {
		var sides []string
		for _, s := range t.Of {
			sides = append(sides, Quoted(s))
		}
		out = append(out, "of: ["+strings.Join(sides, ", ")+"]")
	}
	out = append(out, "reach: "+Quoted(amountText(t.Reach, t.Count == "minutes")))
	if t.Window == "rolling_weeks" || t.Window == "rolling_days" {
		return append(out, "window: {"+t.Window+": "+Quoted(t.N)+"}")
	}
	return append(out, "window: "+Quoted(t.Window))
}

func (s StepForm) fields() []string {
	out := []string{"from: " + Quoted(s.From)}
	if s.To != "" {
		out = append(out, "to: "+Quoted(s.To))
	}
	var do []string
	for _, a := range strings.Split(s.Do, ",") {
		if a = strings.TrimSpace(a); a != "" {
			do = append(do, Quoted(a))
		}
	}
	return append(out, "do: ["+strings.Join(do, ", ")+"]")
}

type writer struct{ strings.Builder }

func (w *writer) line(key, value string) { fmt.Fprintf(w, "%s%s\n", key, value) }

func (w *writer) list(key string, n int, fields func(i int) []string) {
	if n > 0 {
		w.line(key+":", "")
	}
	for i := range n {
		w.line("  - ", flow(fields(i)))
	}
}

func flow(fields []string) string { return "{" + strings.Join(fields, ", ") + "}" }

// bare are texts that need no quotes wherever they stand.
var bareText = regexp.MustCompile(`^[\pL\pN]([\pL\pN ._/()%+-]*[\pL\pN.)%])?$`)

// quoted writes a text as a YAML scalar.
// Quoted writes a text as a YAML scalar that reads as that text.
func Quoted(s string) string {
	if bareText.MatchString(s) {
		return s
	}
	text, err := json.Marshal(s) // JSON's strings are YAML's
	if err != nil {
		return `""`
	}
	return string(text)
}

// shareText writes a share as files have it; what is none stays as it was written. A number above
// one is in per cent.
func shareText(s string) string {
	f, err := policy.ParseShare(s)
	switch {
	case err != nil:
		return Quoted(s)
	case f.Cmp(1, 1) < 0 && !strings.ContainsAny(s, "%/"):
		return f.Scaled(1, 100).String()
	default:
		return f.String()
	}
}

// amountText writes a time as files have it, in minutes; what is none stays as it was written.
func amountText(s string, time bool) string {
	if minutes, err := day.ParseDuration(s); time && err == nil {
		return strconv.Itoa(minutes)
	}
	return s
}

// codeLines writes the codes of a set, a line each.
func codeLines(set *policy.CodeSet) string {
	return strings.TrimPrefix(string(CodesFile(set)), "codes:\n")
}

// CodesFile writes a code set as a file.
func CodesFile(set *policy.CodeSet) []byte { return CodesOf(CodeForms(set)) }

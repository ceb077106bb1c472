package followuppage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"

	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
)

// CaseStep is something that became of a case.
type CaseStep struct {
	Kind  string `json:"kind" enum:"opened,changed,closed,reopened"`
	Owner string `json:"owner"`
	Text  string `json:"text"`
	Next  string `json:"next" doc:"In words; empty for none"`
	Waits bool   `json:"waits" doc:"Until then"`
	End   string `json:"end" doc:"How it ended"`
	By    string `json:"by"`
	On    string `json:"on"`
}

// Figure is one of a student's figures when a case was opened, and now.
type Figure struct {
	Name string `json:"name"`
	Then string `json:"was"`
	Now  string `json:"now"`
}

// CaseView is a case.
type CaseView struct {
	ID      ids.Case            `json:"id"`
	Student pages.StudentRef    `json:"student"`
	Open    bool                `json:"open"`
	Waits   bool                `json:"waits" doc:"Until its next date"`
	Weekly  bool                `json:"weekly" doc:"The student is to have a session each week"`
	Kept    string              `json:"kept" enum:"office,leads,owner"`
	KeptFor string              `json:"keptFor" doc:"In words; empty for the office"`
	MayRead bool                `json:"mayRead"`
	From    string              `json:"from" enum:"review,concern,step,hand"`
	End     string              `json:"end" doc:"How it ended; empty while it is open"`
	Owner   string              `json:"owner"`
	OwnerID ids.Account         `json:"ownerId"`
	Mine    bool                `json:"mine"`
	Opened  string              `json:"opened"`
	Days    int                 `json:"days" doc:"Calendar days since it was opened, or that it was open"`
	Next    string              `json:"next"`
	NextDay string              `json:"nextDay"`
	Overdue bool                `json:"overdue"`
	Seen    ids.CaseChange      `json:"seen" doc:"Its last change"`
	Then    []pages.ConcernView `json:"found" doc:"What the rules found when it was opened"`
	Now     []pages.ConcernView `json:"now" doc:"What they find now"`
	Figures []Figure            `json:"figures"`
	Planned int                 `json:"planned" doc:"Steps of the plan that are not done"`
	Said    CaseStep            `json:"said" doc:"What was said last"`
}

// CasesView is the list of cases: those that are open by their next date, then the closed ones, the last first.
type CasesView struct {
	Scope     string           `json:"scope"`
	Group     string           `json:"group"`
	Groups    []pages.Choice   `json:"groups"`
	Cases     []CaseView       `json:"cases"`
	Open      int              `json:"open"`
	Overdue   int              `json:"overdue"`
	Waiting   int              `json:"waiting"`
	Owners    []pages.OwnerRef `json:"owners"`
	Ends      []SupportChoice  `json:"ends"`
	MayChange bool             `json:"mayChange"`
}

// SupportChoice is one of the school's own.
type SupportChoice struct {
	ID      ids.SupportWord `json:"id"`
	Name    string          `json:"name"`
	Belongs string          `json:"belongs" enum:"in,outside,either," doc:"Of a kind of session"`
}

// offered are the words of a list that are not retired.
func (g *gathered) offered(list string) []SupportChoice {
	out := []SupportChoice{}
	for _, w := range g.words.List(list) {
		if !w.Retired {
			out = append(out, SupportChoice{w.ID, w.Name, w.Belongs})
		}
	}
	return out
}

// Cases lists the cases as at a moment.
func Cases(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (CasesView, error) {
	out := CasesView{Cases: []CaseView{}, Groups: []pages.Choice{}, Owners: []pages.OwnerRef{}, Ends: []SupportChoice{}}
	err := reading(ctx, o, p, asAt, of, func(g *gathered) error {
		on, words, err := g.asked(ask)
		if err != nil {
			return err
		}
		out.Scope, out.Group, out.Groups, out.Ends = g.v.ScopeText(g.m.Scope), words, pages.GroupChoices(g.v, g.m.Scope), g.offered(caseload.Ends)
		out.MayChange = g.m.Live && p.May(work.MayChangeCase)
		if out.Owners, err = pages.Owners(ctx, g.v, p); err != nil {
			return err
		}
		for _, c := range g.cases {
			if !g.m.Scope.Has(g.v.School.SectionOf(c.StudentID).ID) || ask.Owner != 0 && c.Last().OwnerID != ask.Owner || ask.Group != "" && !on[c.StudentID] || !c.Open() && !ask.Closed {
				continue
			}
			view, err := g.caseView(c, false)
			if err != nil {
				return err
			}
			if ask.Overdue && !view.Overdue || view.Days < ask.Days {
				continue
			}
			out.take(view)
		}
		return nil
	})
	slices.SortStableFunc(out.Cases, func(a, b CaseView) int {
		switch {
		case a.Open != b.Open:
			return map[bool]int{true: -1, false: 1}[a.Open]
		case !a.Open:
			return cmp.Compare(b.Seen, a.Seen)
		}
		return cmp.Or(cmp.Compare(a.NextDay, b.NextDay), cmp.Compare(a.Student.Sorted, b.Student.Sorted))
	})
	return out, err
}

func (out *CasesView) take(c CaseView) {
	out.Cases = append(out.Cases, c)
	if c.Open {
		out.Open++
	}
	if c.Overdue {
		out.Overdue++
	}
	if c.Waits {
		out.Waiting++
	}
}

// caseView makes a case; its words are there on its own page alone where it is kept to fewer than all.
func (g *gathered) caseView(c caseload.Case, own bool) (CaseView, error) {
	then, err := concerns.FoundOf(c.StudentID, c.Found)
	if err != nil {
		return CaseView{}, err
	}
	last, end := c.Last(), g.m.Date
	if !c.Open() {
		end = last.Known.Date()
	}
	out := CaseView{ID: c.ID, Student: pages.Student(g.v, g.v.School.StudentOf(c.StudentID), g.m.Date), Open: c.Open(), Waits: c.WaitsOn(g.m.Date), Weekly: last.Weekly && c.Open(), Kept: last.Kept, MayRead: g.readers.May(last.Kept, last.OwnerID), From: c.From, End: g.words.Name(last.End),
		Owner: last.Owner, OwnerID: last.OwnerID, Mine: last.OwnerID == g.p.Account, Opened: pages.SpokenBy(c.Known.Date(), g.m.Date), Days: int(end - c.Known.Date()), Seen: last.ID, Then: pages.Concerns(then, true)}
	out.KeptFor = map[string]string{caseload.ForLeads: "pastoral leads", caseload.ForOwner: last.Owner}[last.Kept]
	if last.NextDate != nil && c.Open() {
		out.Next, out.NextDay, out.Overdue = last.NextDate.Spoken(), last.NextDate.String(), *last.NextDate < g.m.Date
	}
	now := g.found(c.StudentID)
	out.Now = pages.Concerns(now, true)
	out.Figures = figuresOf(then, now)
	for _, s := range g.steps {
		if _, ended := g.ends[s.ID]; s.CaseID == c.ID && !ended {
			out.Planned++
		}
	}
	for _, x := range slices.Backward(c.Changes) {
		if x.Text != "" {
			out.Said = g.caseStep(c, x, own)
			break
		}
	}
	return out, nil
}

func figuresOf(then, now concerns.Found) []Figure {
	number := func(f concerns.Found, n int) string {
		if f.Possible == 0 {
			return ""
		}
		return strconv.Itoa(n)
	}
	percent := func(f concerns.Found) string {
		if f.Rate == "" {
			return ""
		}
		return f.Rate + " %"
	}
	return []Figure{
		{"school missed", percent(then), percent(now)},
		{"unexcused", number(then, then.Unexcused), number(now, now.Unexcused)},
		{"lates", number(then, then.Lates), number(now, now.Lates)},
		{"rules that find them", strconv.Itoa(len(then.Rules)), strconv.Itoa(len(now.Rules))},
	}
}

func (g *gathered) caseStep(c caseload.Case, x store.CaseChange, own bool) CaseStep {
	text := c.Shown(x.Text)
	if own {
		text = x.Text
	}
	out := CaseStep{Kind: x.Kind, Owner: x.Owner, Text: text, Waits: x.Waits, End: g.words.Name(x.End), By: x.By, On: pages.SpokenAt(x.Known, g.m.Date)}
	if x.NextDate != nil {
		out.Next = x.NextDate.Spoken()
	}
	return out
}

// KeepCases writes the cases as a file.
func KeepCases(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Cases(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Cases", About: []string{fmt.Sprintf("%d open, %d overdue, %d waiting", v.Open, v.Overdue, v.Waiting), work.Join(", ", v.Scope, v.Group), ofStudents, "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "State", Width: 18}, {Heading: "Owner", Width: 20}, {Heading: "Opened", Width: 18}, {Heading: "Days", Width: 8, Number: true}, {Heading: "Next", Width: 12, Date: true}, {Heading: "A session each week", Width: 10},
			{Heading: "Why it was opened", Width: 60}, {Heading: "What the rules find now", Width: 60}, {Heading: "School missed then", Width: 12}, {Heading: "Now", Width: 12}, {Heading: "Said last", Width: 50}}}
	for _, c := range v.Cases {
		state := map[bool]string{true: "open", false: work.Join(": ", "closed", c.End)}[c.Open]
		if c.Waits {
			state = "waits until"
		}
		list.Rows = append(list.Rows, []string{c.Student.Name, c.Student.Number, c.Student.Form, state, c.Owner, c.Opened, strconv.Itoa(c.Days), c.NextDay, map[bool]string{true: "yes"}[c.Weekly], pages.Whys(c.Then), pages.Whys(c.Now), c.Figures[0].Then, c.Figures[0].Now, c.Said.Text})
	}
	return pages.ListFile("cases-"+pages.Slug(work.Join(" ", v.Scope, v.Group)), list, format)
}

package followuppage

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/core/whereabouts"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
)

// NextRow is a student on the work list.
type NextRow struct {
	Student  pages.StudentRef   `json:"student"`
	Part     string             `json:"part" enum:"due,unmet,ahead"`
	Why      string             `json:"why" doc:"Why the student is here, in one sentence"`
	Figures  string             `json:"figures" doc:"What the rules find, and what was when the case was opened"`
	Contacts []pages.ContactRef `json:"contacts" doc:"In call order"`
	Warnings []string           `json:"warnings" doc:"What to know when dealing with the student"`
	Case     ids.Case           `json:"case" doc:"0 for none"`
	Owner    string             `json:"owner" doc:"In whose hands; empty for nobody's"`
	Mine     bool               `json:"mine"`
	Last     string             `json:"last" doc:"When somebody was last reached; never in words"`
	LastDays int                `json:"lastDays" doc:"Calendar days since; -1 for never"`
	Tried    string             `json:"tried" doc:"What was tried since; empty for nothing"`
	Met      string             `json:"met" doc:"When the student was last met; empty for never"`
	Away     string             `json:"away" doc:"Since when the student has not been at school; empty where they were on the last school day or today"`
	Agreed   string             `json:"agreed" doc:"What was said last"`
	AgreedBy string             `json:"agreedBy" doc:"By whom and when"`
	Note     ids.Followup       `json:"note" doc:"That is kept to fewer, and the person may read; 0 for none"`
	Planned  []PlannedNow       `json:"planned" doc:"Steps of the plan whose date has come; empty where the person may not read the case"`
	Next     string             `json:"next" doc:"In words; empty for no date"`
	NextDay  string             `json:"nextDay"`
	Overdue  bool               `json:"overdue"`
	Today    bool               `json:"today"`
}

// PlannedNow is a step of a plan whose date has come.
type PlannedNow struct {
	ID    ids.CaseStep `json:"id"`
	Text  string       `json:"text"`
	Owner string       `json:"owner"`
	Due   string       `json:"due" doc:"In words"`
}

// NextView is the work list.
type NextView struct {
	Scope    string           `json:"scope"`
	Label    string           `json:"label" doc:"The last school day that the figures hold, in words"`
	Today    string           `json:"today" doc:"YYYY-MM-DD"`
	Group    string           `json:"group"`
	Groups   []pages.Choice   `json:"groups"`
	Due      int              `json:"due"`
	Unmet    int              `json:"unmet"`
	Rows     []NextRow        `json:"rows"`
	Outcomes []string         `json:"outcomes"`
	Owners   []pages.OwnerRef `json:"owners"`
	MayLog   bool             `json:"mayLog"`
}

// Next lists whom to contact next, in the order of the work.
func Next(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (NextView, error) {
	out := NextView{Rows: []NextRow{}, Groups: []pages.Choice{}, Outcomes: caseload.Outcomes, Owners: []pages.OwnerRef{}}
	err := reading(ctx, o, p, asAt, of, func(g *gathered) error {
		on, words, err := g.asked(ask)
		if err != nil {
			return err
		}
		out.Scope, out.Today, out.Group, out.Groups = g.v.ScopeText(g.m.Scope), g.m.Date.String(), words, pages.GroupChoices(g.v, g.m.Scope)
		out.MayLog = g.m.Live && p.May(work.MayFollowUp)
		asAt := day.NoStart
		for _, l := range g.looks {
			asAt = max(asAt, l.AsAt)
		}
		if asAt != day.NoStart {
			out.Label = asAt.Spoken()
		}
		if out.Owners, err = pages.Owners(ctx, g.v, p); err != nil {
			return err
		}
		n := nexting{gathered: g, unmet: g.unmetNow()}
		if n.today, err = g.v.Day(ctx, g.m.Date); err != nil {
			return err
		}
		n.rows(on, ask, &out)
		return nil
	})
	return out, err
}

// nexting is the work list that is being made.
type nexting struct {
	*gathered
	unmet map[ids.Student]bool
	today *work.Day
}

// unmetNow are those of the caseload who were in no session of this week, for no reason that was given.
func (g *gathered) unmetNow() map[ids.Student]bool {
	out := map[ids.Student]bool{}
	now := slices.DeleteFunc(g.stays(), func(s support.Stay) bool { return s.To < g.m.Date })
	for _, s := range g.v.In(g.m.Scope) {
		if s.Calendar == nil {
			continue
		}
		here := func(id ids.Student) bool { return g.v.School.SectionOf(id).ID == s.ID }
		held := g.held(here)
		weeks := support.Weeks(s.Calendar, g.m.Date, g.m.Date, nil)
		c := support.Cover(weeks, held, now, g.reasonsOf())
		for student, cells := range c.Cells {
			if id := ids.Student(student); len(cells) > 0 && here(id) && cells[0].Unmet(weeks[0]) {
				out[id] = true
			}
		}
	}
	return out
}

// away says since when a student has not been at school; empty for who was on the last school day, or has come today.
func (n nexting) away(id ids.Student) string {
	look := n.look(id)
	if look == nil || n.today != nil && slices.Contains(cameToday, n.v.Position(n.today, id, n.m).State) {
		return ""
	}
	last := look.Ledger.LastAttended(look.Section.Place(id), look.Upto)
	switch d := int(last[len(last)-1]); {
	case d >= look.Upto:
		return ""
	case d >= 0:
		return "not at school since " + pages.SpokenBy(look.Date(d), n.m.Date)
	}
	return "not at school this year"
}

// cameToday are the states of those who have been at school today, or are somewhere for it.
var cameToday = []whereabouts.State{whereabouts.In, whereabouts.InLate, whereabouts.Left, whereabouts.Elsewhere}

func (n nexting) rows(on map[ids.Student]bool, ask Ask, out *NextView) {
	waiting := map[int]NextRow{}
	var list []support.Waiting
	for id := range n.candidates() {
		s := n.v.School.StudentOf(id)
		if !on[id] || !s.EnrolledOn(n.m.Date) {
			continue
		}
		row, w := n.row(s)
		if ask.Owner != 0 && (row.Case == 0 || caseload.OpenCaseOf(n.cases, id).Last().OwnerID != ask.Owner) || ask.Overdue && !row.Overdue {
			continue
		}
		waiting[w.Student], list = row, append(list, w)
		switch row.Part {
		case "due":
			out.Due++
		case "unmet":
			out.Unmet++
		}
	}
	slices.SortFunc(list, support.Order(n.m.Date))
	for _, w := range list {
		out.Rows = append(out.Rows, waiting[w.Student])
	}
}

// candidates are those who are in an open case that does not wait, and those with a next date.
func (n nexting) candidates() map[ids.Student]bool {
	out := map[ids.Student]bool{}
	for i := range n.cases {
		if c := &n.cases[i]; c.Open() && (!c.WaitsOn(n.m.Date) || n.unmet[c.StudentID]) {
			out[c.StudentID] = true
		}
	}
	for id := range n.followed() {
		out[id] = true
	}
	return out
}

// followed are the next dates that contacts have set, of students who are in no case: a case has the date itself.
func (n nexting) followed() map[ids.Student]day.Date {
	out := map[ids.Student]day.Date{}
	for id, d := range n.nextDates() {
		if caseload.OpenCaseOf(n.cases, id) == nil {
			out[id] = d
		}
	}
	return out
}

// row makes a student's row, with what puts it in order.
func (n nexting) row(s store.Student) (NextRow, support.Waiting) {
	found := n.found(s.ID)
	r := NextRow{Student: pages.Student(n.v, s, n.m.Date), Contacts: []pages.ContactRef{}, Planned: []PlannedNow{}, Warnings: []string{}, LastDays: -1}
	w := support.Waiting{Student: int(s.ID), Name: r.Student.Sorted, Next: day.NoEnd, Unmet: n.unmet[s.ID], Last: day.NoStart, Concerns: len(found.Rules), Since: day.NoEnd}
	if len(found.Rules) > 0 {
		w.Since = found.Since()
	}
	if n.p.May(work.MaySeeContacts) {
		r.Contacts = pages.Contacts(n.v.School.ContactsOf(s.ID))
		r.Warnings = pages.Warnings(n.v.School.WarningsOf(s.ID))
	}
	why := n.date(s.ID, &r, &w)
	if last := n.last(s.ID); last != nil {
		w.Last = last.Date
		r.Last, r.LastDays = lastWords(*last, n.m.Date), n.days(last.Date)
	}
	r.Tried = triedWords(n.tried(s.ID))
	if on, how := n.met(s.ID); on != day.NoStart {
		r.Met = how + " " + pages.SpokenBy(on, n.m.Date)
	}
	r.Away = n.away(s.ID)
	n.agreed(s.ID, &r)
	r.Part = map[support.Part]string{support.Due: "due", support.Unmet: "unmet", support.Ahead: "ahead"}[w.Part(n.m.Date)]
	if w.Unmet {
		why = append(why, "in no session this week")
	}
	r.Why = strings.Join(why, "; ")
	r.Figures = n.figures(s.ID, found)
	return r, w
}

// date finds the next date and why it is one.
func (n nexting) date(id ids.Student, r *NextRow, w *support.Waiting) (why []string) {
	take := func(d day.Date, words string) {
		if d <= n.m.Date || d < w.Next {
			why = append(why, words)
		}
		w.Next = min(w.Next, d)
	}
	if c := caseload.OpenCaseOf(n.cases, id); c != nil {
		last := c.Last()
		r.Case, r.Owner, r.Mine = c.ID, last.Owner, last.OwnerID == n.p.Account
		if last.NextDate != nil {
			take(*last.NextDate, "case opened "+pages.SpokenBy(c.Known.Date(), n.m.Date))
		}
		for _, s := range n.steps {
			if _, ended := n.ends[s.ID]; s.CaseID == c.ID && !ended && s.Due != nil && *s.Due <= n.m.Date {
				take(*s.Due, work.Join(", ", "planned: "+c.Shown(s.Text), s.Owner))
				if last.Kept == caseload.ForOffice {
					r.Planned = append(r.Planned, PlannedNow{s.ID, s.Text, s.Owner, pages.SpokenBy(*s.Due, n.m.Date)})
				}
			}
		}
	} else if d, any := n.nextDates()[id]; any {
		take(d, map[bool]string{true: "call was due", false: "call agreed"}[d <= n.m.Date])
	}
	if w.Next != day.NoEnd {
		r.Next, r.NextDay, r.Overdue, r.Today = w.Next.Spoken(), w.Next.String(), w.Next < n.m.Date, w.Next == n.m.Date
	}
	return why
}

// agreed adds what was said last, by a contact or about the case.
func (n nexting) agreed(id ids.Student, r *NextRow) {
	list := n.contacts[id]
	for i := range slices.Backward(list) {
		if c := list[i]; c.Note != "" || c.Said != "" {
			r.Agreed, r.AgreedBy = work.Join(", ", c.Said, c.Note), work.Join(", ", c.By, pages.SpokenBy(c.Date, n.m.Date))
			if c.Kept != caseload.ForOffice && n.mayRead(id, c) {
				r.Note = c.ID
			}
			return
		}
	}
	if c := caseload.OpenCaseOf(n.cases, id); c != nil {
		for _, x := range slices.Backward(c.Changes) {
			if x.Text != "" {
				r.Agreed, r.AgreedBy = c.Shown(x.Text), work.Join(", ", x.By, pages.SpokenBy(x.Known.Date(), n.m.Date))
				return
			}
		}
	}
}

// figures says what the rules find now, and what was when the case was opened.
func (n nexting) figures(id ids.Student, found concerns.Found) string {
	var out []string
	then := ""
	if c := caseload.OpenCaseOf(n.cases, id); c != nil {
		if f, err := concerns.FoundOf(id, c.Found); err == nil && f.Rate != "" {
			then = ", " + f.Rate + " when the case was opened"
		}
	}
	if found.Rate != "" {
		out = append(out, found.Rate+" % missed"+then)
	}
	for _, x := range found.Rules {
		if x.Why != x.Title && x.Area != "absence" || len(out) == 0 {
			out = append(out, x.Why)
		}
	}
	return strings.Join(out[:min(len(out), 3)], "; ")
}

func lastWords(c contact, from day.Date) string {
	what := c.Outcome
	if c.With == caseload.WithOutside {
		what += " with " + c.Who
	}
	return what + " " + pages.SpokenBy(c.Date, from)
}

// triedWords say what was tried since somebody was reached: 4 calls, message left.
func triedWords(list []contact) string {
	if len(list) == 0 {
		return ""
	}
	calls, message := 0, false
	for _, c := range list {
		if c.Outcome == "left a message" || c.Outcome == "message" || c.Outcome == "text" {
			message = true
		} else {
			calls++
		}
	}
	var out []string
	if calls > 0 {
		out = append(out, work.Count(calls, "call")+" unanswered")
	}
	if message {
		out = append(out, "message left")
	}
	return fmt.Sprintf("%s since %s", strings.Join(out, ", "), list[len(list)-1].Date.Spoken())
}

// KeepNext writes the work list as a file.
func KeepNext(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Next(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Whom to contact next", About: []string{fmt.Sprintf("As at %s: %d due, %d in no session this week", v.Today, v.Due, v.Unmet), work.Join(", ", v.Scope, v.Group), ofStudents, "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Next", Width: 12, Date: true}, {Heading: "Why", Width: 44}, {Heading: "Figures", Width: 50}, {Heading: "Last reached", Width: 26}, {Heading: "Days since", Width: 10, Number: true},
			{Heading: "Tried since", Width: 30}, {Heading: "Last met", Width: 24}, {Heading: "In the hands of", Width: 18}, {Heading: "Ring", Width: 40}, {Heading: "Said last", Width: 50}}}
	for _, r := range v.Rows {
		days := ""
		if r.LastDays >= 0 {
			days = fmt.Sprint(r.LastDays)
		}
		var ring []string
		for _, c := range r.Contacts {
			if !c.DoNotCall {
				ring = append(ring, work.Join(" ", c.Name, c.Relation, c.Phone))
			}
		}
		list.Rows = append(list.Rows, []string{r.Student.Name, r.Student.Number, r.Student.Form, r.NextDay, work.Join("; ", r.Why, r.Away), r.Figures, orNever(r.Last), days, r.Tried, orNever(r.Met), r.Owner, strings.Join(ring, "; "), r.Agreed})
	}
	return pages.ListFile("follow-up-"+v.Today, list, format)
}

// ofStudents stands on every file.
const ofStudents = "Holds data of students: keep it where nobody else can read it"

func orNever(words string) string {
	if words == "" {
		return "never"
	}
	return words
}

// Package stepspage shows what policies say is due: the list to work from, the letters that go out,
// and the letters' wordings.
package stepspage

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	core "meldung/core/steps"
	"meldung/files/sheet"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/steps"
)

// StepView is a step in a list.
type StepView struct {
	Ref      steps.Ref          `json:"ref" doc:"By which it is named when something is done about it"`
	Student  pages.StudentRef   `json:"student"`
	Action   string             `json:"action"`
	Kind     string             `json:"kind" enum:"letter,call,conversation,referral,detention,placement,conference,other"`
	Title    string             `json:"title" doc:"The line, or which late: 5 unexcused days"`
	Count    string             `json:"count" doc:"What came to the line; empty where a correction took it away"`
	Dates    string             `json:"dates" doc:"The dates that were counted"`
	Policy   string             `json:"policy" doc:"The policy's title"`
	When     string             `json:"when" doc:"The date on which it fell due, in words"`
	Fresh    bool               `json:"fresh" doc:"New since the school day before the last"`
	PartTime bool               `json:"partTime" doc:"The student has an own timetable or spends a part of the time elsewhere"`
	Letters  string             `json:"letters" doc:"The letters that went before by the same policy; empty for none"`
	Blocked  string             `json:"blocked" doc:"Of a letter: why it cannot be written or posted; empty where it can"`
	Owner    string             `json:"owner" doc:"Whom it was handed to; empty for nobody"`
	Mine     bool               `json:"mine" doc:"It was handed to whoever looks"`
	State    string             `json:"state" enum:"due,waiting,done,set aside,taken back"`
	Until    string             `json:"until" doc:"Where put off: when it is due again, in words"`
	Said     string             `json:"said" doc:"The last outcome or reason"`
	By       string             `json:"by" doc:"Who did that and when; empty where nobody has done anything"`
	Contacts []pages.ContactRef `json:"contacts" doc:"Of a call or a meeting: whom to call, in order"`
}

// StepGroup is what is due of one action.
type StepGroup struct {
	Action string     `json:"action"`
	Kind   string     `json:"kind"`
	place  int        // among the school's actions
	Fresh  int        `json:"fresh" doc:"How many are new"`
	Steps  []StepView `json:"steps"`
}

// FollowedView is a policy on which the school acts.
type FollowedView struct {
	Policy string `json:"policy"`
	Title  string `json:"title"`
	Since  string `json:"since" doc:"From when, in words"`
}

// StepsView is the list of what is due.
type StepsView struct {
	Scope     string         `json:"scope"`
	Label     string         `json:"label" doc:"Up to which day is measured, in words; empty before the first is over"`
	Follows   []FollowedView `json:"follows"`
	Gone      []string       `json:"gone" doc:"Policies that are followed and by which no section measures any more"`
	Due       int            `json:"due"`
	Groups    []StepGroup    `json:"groups" doc:"By action, what is new first"`
	Early     []StepView     `json:"early" doc:"Fell due before the school began, and nobody has done anything about it"`
	EarlyText string         `json:"earlyText" doc:"From when to when these fell due"`
	Waiting   []StepView     `json:"waiting" doc:"Put off, the next first"`
	TakenBack []StepView     `json:"takenBack" doc:"Something was done, and a correction took the cause away; or it was due within the last school days and is no more"`
	Closed    []StepView     `json:"closed" doc:"Done or set aside within the last seven days, the last first"`
	People    []pages.Choice `json:"people" doc:"To whom a step can be handed"`
	MayAny    bool           `json:"mayAny" doc:"Whoever looks may act on any step"`
	All       bool           `json:"all" doc:"Whoever looks sees every step; else those that were handed to them"`
}

// Show lists what is due in some sections at a moment. Those who may not see every step see what was
// handed to them.
func Show(ctx context.Context, o *work.Office, p work.Person, asAt string, of ...ids.Section) (StepsView, error) {
	out := StepsView{Follows: []FollowedView{}, Gone: []string{}, Groups: []StepGroup{}, Early: []StepView{}, Waiting: []StepView{}, TakenBack: []StepView{}, Closed: []StepView{}, People: []pages.Choice{}, MayAny: p.May(work.MayDoAnyStep), All: p.May(work.MaySeeAllSteps)}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		what := fmt.Sprint("steps ", p.Account, p.Role)
		if !m.Live {
			what += fmt.Sprint(" known ", m.Known)
		}
		key, follows := pages.Kept(v, m, what)
		out, err = work.Remember(v, key, append(follows, "step", "step_act", "account"), func() (StepsView, error) { return show(ctx, v, out, m, p) })
		return err
	})
	return out, err
}

func show(ctx context.Context, v work.Snapshot, out StepsView, m work.Moment, p work.Person) (StepsView, error) {
	out.Scope = v.ScopeText(m.Scope)
	for _, s := range v.In(m.Scope) {
		if err := out.section(ctx, s, m, p); err != nil {
			return out, err
		}
	}
	out.order()
	var err error
	out.People, err = people(ctx, v)
	return out, err
}

// section adds what is due in a section.
func (out *StepsView) section(ctx context.Context, s work.Section, m work.Moment, p work.Person) error {
	if s.Ledger == nil {
		return nil
	}
	follows, gone, err := steps.Follows(s)
	if err != nil {
		return err
	}
	for _, id := range gone {
		if !slices.Contains(out.Gone, id) {
			out.Gone = append(out.Gone, id)
		}
	}
	for _, f := range follows {
		pol := f.Measure.Policy()
		if !slices.ContainsFunc(out.Follows, func(x FollowedView) bool { return x.Policy == pol.ID }) {
			out.Follows = append(out.Follows, FollowedView{pol.ID, pol.Title, f.From.Spoken()})
		}
	}
	last := s.Calendar.EndedBy(m.Date, m.Minute)
	if last < 0 {
		return nil
	}
	out.Label = s.Calendar.Day(last).Date.Spoken()
	items, err := steps.Of(ctx, s, m, steps.Students(s))
	if err != nil {
		return err
	}
	gonePending, err := takenBack(ctx, s, m, items)
	if err != nil {
		return err
	}
	names, err := accounts(ctx, s)
	if err != nil {
		return err
	}
	l := lister{s, m, p, last, names, lettersBefore(items)}
	for _, i := range items {
		if !out.All && i.Owner != p.Account {
			continue
		}
		out.add(l, i)
	}
	if out.All {
		for _, g := range gonePending {
			out.TakenBack = append(out.TakenBack, l.gone(g))
		}
	}
	return nil
}

// lister makes lines of a list of a section.
type lister struct {
	work.Section
	m       work.Moment
	p       work.Person
	last    int
	names   map[ids.Account]string
	letters map[letterKey]int
}

type letterKey struct {
	student ids.Student
	policy  string
}

// lettersBefore counts the letters that were written to each student's home by each policy.
func lettersBefore(items []steps.Item) map[letterKey]int {
	out := map[letterKey]int{}
	for _, i := range items {
		if i.Action.Kind == "letter" && i.State == core.Finished {
			out[letterKey{i.Student.ID, i.Measure.Policy().ID}]++
		}
	}
	return out
}

func accounts(ctx context.Context, s work.Section) (map[ids.Account]string, error) {
	list, err := store.Accounts(ctx, s.Store())
	out := map[ids.Account]string{}
	for _, a := range list {
		out[a.ID] = a.Name
	}
	return out, err
}

// people are those to whom a step can be handed.
func people(ctx context.Context, v work.Snapshot) ([]pages.Choice, error) {
	list, err := store.Accounts(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	out := []pages.Choice{}
	for _, a := range list {
		if a.EndedBy == nil && work.Role(a.Role).May(work.MaySeeSteps) {
			out = append(out, pages.Choice{Value: fmt.Sprint(a.ID), Label: a.Name, Kind: a.Role})
		}
	}
	slices.SortStableFunc(out, func(a, b pages.Choice) int { return cmp.Compare(a.Label, b.Label) })
	return out, nil
}

// closedDays is for how many days what was closed stays on the list.
const closedDays = 7

func (out *StepsView) add(l lister, i steps.Item) {
	line := l.line(i)
	last, done := i.Last()
	switch {
	case i.State == core.TakenBack:
		if done && last.Kind != string(core.SetAside) && last.Kind != string(core.Noted) {
			out.TakenBack = append(out.TakenBack, line)
		}
	case i.State == core.Waiting:
		out.Waiting = append(out.Waiting, line)
	case i.State == core.Finished || i.State == core.Left:
		if last.Known.Date() > l.m.Date-closedDays && i.State == core.Finished {
			out.Closed = append(out.Closed, line)
		}
	case i.Early && !done:
		out.Early = append(out.Early, line)
	default:
		out.Due++
		n := slices.IndexFunc(out.Groups, func(g StepGroup) bool { return g.Action == line.Action && g.Kind == line.Kind })
		if n < 0 {
			n = len(out.Groups)
			out.Groups = append(out.Groups, StepGroup{Action: line.Action, Kind: line.Kind, place: slices.IndexFunc(l.Settings.Steps.All(), func(a held.Action) bool { return a.Name == line.Action })})
		}
		g := &out.Groups[n]
		g.Steps = append(g.Steps, line)
		if line.Fresh {
			g.Fresh++
		}
	}
}

func (l lister) line(i steps.Item) StepView {
	count, dates := i.Counted(l.Section)
	out := StepView{Ref: steps.RefOf(i), Student: pages.Student(l.Snapshot, i.Student, l.m.Date), Action: i.Action.Name, Kind: string(cmp.Or(i.Action.Kind, "other")), Count: count, Dates: day.ListDates(dates),
		Policy: i.Measure.Policy().Title, When: i.On.Spoken(), State: string(i.State), Owner: l.names[i.Owner], Mine: i.Owner != 0 && i.Owner == l.p.Account}
	out.PartTime = l.School.ScheduleOf(i.Student.ID, l.m.Date) != nil || i.Student.ShareHere != "1"
	if t := i.Trigger(); t != nil && i.Rule().Do == "" {
		out.Title = steps.Line(t)
	} else {
		out.Title = steps.LateText(i)
	}
	out.Fresh = i.Cause != nil && i.Cause.On >= l.last
	if n := l.letters[letterKey{i.Student.ID, i.Measure.Policy().ID}]; n > 0 && i.State == core.Due {
		out.Letters = map[bool]string{true: "a letter went before", false: fmt.Sprintf("%d letters went before", n)}[n == 1]
	}
	if i.State == core.Due && i.Action.Kind == "letter" {
		to := steps.RecipientsOf(l.Snapshot, i.Student.ID)
		switch {
		case len(to) == 0:
			out.Blocked = "nobody to write to"
		case slices.ContainsFunc(to, func(r steps.Recipient) bool { return r.Address == "" }):
			out.Blocked = "no address"
		}
	}
	out.Contacts = []pages.ContactRef{}
	if k := i.Action.Kind; i.State == core.Due && (k == "call" || k == "conference") {
		out.Contacts = pages.Contacts(l.School.ContactsOf(i.Student.ID))
	}
	if i.Until != 0 {
		out.Until = i.Until.Spoken()
	}
	if last, ok := i.Last(); ok {
		out.Said, out.By = last.Text, last.By+" "+last.Known.Date().Spoken()
	}
	return out
}

// kindPlace is where a kind of action stands in a list.
func kindPlace(kind string) int {
	return slices.Index(held.ActionKinds, held.ActionKind(kind))
}

// order puts the list in order: by kind of action, what is new first, then the oldest.
func (out *StepsView) order() {
	slices.SortStableFunc(out.Groups, func(a, b StepGroup) int {
		return cmp.Or(cmp.Compare(kindPlace(a.Kind), kindPlace(b.Kind)), cmp.Compare(a.place, b.place), cmp.Compare(a.Action, b.Action))
	})
	byDate := func(a, b StepView) int {
		return cmp.Or(cmp.Compare(a.Ref.Reached, b.Ref.Reached), cmp.Compare(a.Student.Sorted, b.Student.Sorted))
	}
	for _, g := range out.Groups {
		slices.SortStableFunc(g.Steps, func(a, b StepView) int {
			if a.Fresh != b.Fresh {
				return map[bool]int{true: -1, false: 1}[a.Fresh]
			}
			return byDate(a, b)
		})
	}
	slices.SortStableFunc(out.Early, byDate)
	slices.SortStableFunc(out.Closed, func(a, b StepView) int { return byDate(b, a) })
	if n := len(out.Early); n > 0 {
		out.EarlyText = out.Early[0].When + " to " + out.Early[n-1].When
	}
}

// KeepFile writes the list of what is due as a file.
func KeepFile(ctx context.Context, o *work.Office, p work.Person, asAt, format string, of ...ids.Section) (pages.File, error) {
	v, err := Show(ctx, o, p, asAt, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Steps due", About: []string{"Up to " + v.Label, cmp.Or(v.Scope, "The whole school"), "Holds data of students: keep it where nobody else can read it"},
		Columns: []sheet.Column{{Heading: "Student", Width: 24}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Action", Width: 24}, {Heading: "Line", Width: 34}, {Heading: "Counted", Width: 14}, {Heading: "On", Width: 40},
			{Heading: "Fell due", Width: 12}, {Heading: "Policy", Width: 24}, {Heading: "State", Width: 12}, {Heading: "With", Width: 16}, {Heading: "Said", Width: 30}, {Heading: "By", Width: 24}}}
	add := func(lines []StepView) {
		for _, x := range lines {
			list.Rows = append(list.Rows, []string{x.Student.Name, x.Student.Number, x.Student.Form, x.Action, x.Title, x.Count, x.Dates, x.Ref.Reached, x.Policy, x.State, x.Owner, x.Said, x.By})
		}
	}
	for _, g := range v.Groups {
		add(g.Steps)
	}
	add(v.Waiting)
	add(v.TakenBack)
	add(v.Closed)
	return pages.ListFile("steps-"+o.Now().Date().String(), list, format)
}

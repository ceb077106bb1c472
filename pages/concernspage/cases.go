package concernspage

import (
	"cmp"
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// CaseStep is something that became of a case.
type CaseStep struct {
	Kind  string `json:"kind" enum:"opened,changed,closed,reopened"`
	Owner string `json:"owner"`
	Text  string `json:"text"`
	Next  string `json:"next" doc:"In words; empty for none"`
	By    string `json:"by"`
	On    string `json:"on"`
}

// CaseView is a case.
type CaseView struct {
	ID      ids.Case         `json:"id"`
	Student pages.StudentRef `json:"student"`
	Open    bool             `json:"open"`
	Owner   string           `json:"owner"`
	OwnerID ids.Account      `json:"ownerId"`
	Mine    bool             `json:"mine"`
	Opened  string           `json:"opened"`
	Days    int              `json:"days" doc:"Calendar days since it was opened, or that it was open"`
	Next    string           `json:"next"`
	NextDay string           `json:"nextDay"`
	Overdue bool             `json:"overdue"`
	Seen    ids.CaseChange   `json:"seen" doc:"Its last change"`
	Then    []ConcernView    `json:"found" doc:"What the rules found when it was opened"`
	Rate    string           `json:"rate" doc:"Per cent of the days missed, then"`
	Now     []ConcernView    `json:"now" doc:"What they find now"`
	RateNow string           `json:"rateNow"`
	Steps   []CaseStep       `json:"steps" doc:"The newest first"`
}

// CasesView is the list of cases: those that are open by their next date, then the closed ones, the last first.
type CasesView struct {
	Scope     string     `json:"scope"`
	Cases     []CaseView `json:"cases"`
	Open      int        `json:"open"`
	Overdue   int        `json:"overdue"`
	Owners    []OwnerRef `json:"owners"`
	MayChange bool       `json:"mayChange"`
}

// Cases lists the cases as at a moment; of one student where one is named.
func Cases(ctx context.Context, o *work.Office, p work.Person, asAt string, owner ids.Account, student ids.Student, of ...ids.Section) (CasesView, error) {
	out := CasesView{Cases: []CaseView{}, Owners: []OwnerRef{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	out.MayChange = m.Live && p.May(work.MayChangeCase)
	if err := outlooks.Warm(ctx, o); err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		out.Scope = v.ScopeText(m.Scope)
		all, err := concerns.Cases(ctx, v.Store(), m.Known)
		if err != nil {
			return err
		}
		owners, err := concerns.Owners(ctx, v.Store())
		if err != nil {
			return err
		}
		for _, a := range owners {
			out.Owners = append(out.Owners, OwnerRef{a.ID, a.Name, a.ID == p.Account})
		}
		looks, _, err := concerns.Find(ctx, v, m)
		if err != nil {
			return err
		}
		for _, c := range all {
			if !m.Scope.Has(v.School.SectionOf(c.StudentID).ID) || owner != 0 && c.Last().OwnerID != owner || student != 0 && c.StudentID != student {
				continue
			}
			view, err := caseView(v, p, m, c, looks)
			if err != nil {
				return err
			}
			out.Cases = append(out.Cases, view)
			if view.Open {
				out.Open++
			}
			if view.Overdue {
				out.Overdue++
			}
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

func caseView(v work.Snapshot, p work.Person, m work.Moment, c concerns.Case, looks []concerns.Look) (CaseView, error) {
	then, err := concerns.FoundOf(c.StudentID, c.Found)
	if err != nil {
		return CaseView{}, err
	}
	last := c.Last()
	end := m.Date
	if !c.Open() {
		end = last.Known.Date()
	}
	out := CaseView{ID: c.ID, Student: pages.Student(v, v.School.StudentOf(c.StudentID), m.Date), Open: c.Open(), Owner: last.Owner, OwnerID: last.OwnerID, Mine: last.OwnerID == p.Account,
		Opened: spokenBy(c.Known.Date(), m.Date), Days: int(end - c.Known.Date()), Seen: last.ID, Then: views(then, true), Rate: then.Rate, Now: []ConcernView{}, Steps: []CaseStep{}}
	if last.NextDate != nil && c.Open() {
		out.Next, out.NextDay, out.Overdue = last.NextDate.Spoken(), last.NextDate.String(), *last.NextDate < m.Date
	}
	for _, l := range looks {
		if f, ok := l.FiguresOf(c.StudentID); ok {
			out.Now, out.RateNow = views(l.Found[c.StudentID], true), f.Rate
		}
	}
	for _, x := range slices.Backward(c.Changes) {
		one := CaseStep{Kind: x.Kind, Owner: x.Owner, Text: x.Text, By: x.By, On: spoken(x.Known, m.Date)}
		if x.NextDate != nil {
			one.Next = x.NextDate.Spoken()
		}
		out.Steps = append(out.Steps, one)
	}
	return out, nil
}

// Package concernspage holds the Concerns page: who needs a look, why, and what was done.
package concernspage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"sort"
	"strings"

	"meldung/core/absence"
	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/concerns"
)

// ConcernCount is a rule with how many students it finds.
type ConcernCount struct {
	Kind  string `json:"kind" doc:"The rule by its id"`
	Title string `json:"title"`
	Area  string `json:"area" doc:"absence, punctuality, conduct, courses; empty for anything else"`
	N     int    `json:"n"`
}

// ConcernView is one reason to look at a student.
type ConcernView struct {
	Kind   string `json:"kind" doc:"The rule by its id"`
	Area   string `json:"area"`
	Figure string `json:"figure" doc:"The rule by its title"`
	Why    string `json:"why"`
	Since  string `json:"since"`
}

// FollowupView is the last follow-up of a student.
type FollowupView struct {
	Date    string `json:"date"`
	Outcome string `json:"outcome"`
	Note    string `json:"note"`
	By      string `json:"by"`
	Next    string `json:"next" doc:"Date in words; empty for none"`
	NextDay string `json:"nextDay"`
	Overdue bool   `json:"overdue"`
}

// ConcernRow is a student with concerns.
type ConcernRow struct {
	Student  pages.StudentRef     `json:"student"`
	New      bool                 `json:"new"`
	Since    string               `json:"since"`
	Concerns []ConcernView        `json:"concerns"`
	Figures  pages.AbsenceFigures `json:"figures"`
	Contacts []pages.ContactRef   `json:"contacts"`
	Last     *FollowupView        `json:"last,omitempty"`
}

// CallDue is a follow-up call that was put off to a date.
type CallDue struct {
	Student pages.StudentRef `json:"student"`
	Last    FollowupView     `json:"last"`
}

// ConcernsView is the Concerns page.
type ConcernsView struct {
	Scope    string         `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	AsAt     string         `json:"asAt"`
	Label    string         `json:"label"`
	Students int            `json:"students" doc:"On the roll, in scope"`
	Any      int            `json:"any"`
	Kinds    []ConcernCount `json:"kinds"`
	Rows     []ConcernRow   `json:"rows"`
	Due      []CallDue      `json:"due"`
	Outcomes []string       `json:"outcomes"`
}

// Show finds the students who need a look, as at a moment. A teacher sees
// their own students.
func Show(ctx context.Context, o *work.Office, p work.Person, asAt string, of ...ids.Section) (ConcernsView, error) {
	out := ConcernsView{Kinds: []ConcernCount{}, Rows: []ConcernRow{}, Due: []CallDue{}, Outcomes: concerns.Outcomes}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		return find(ctx, v, &out, p, m)
	})
	return out, err
}

// recent is within how many calendar days a student who has come to be found is new.
const recent = 7

// find puts those who need a look together: whom the school's rules match.
func find(ctx context.Context, v work.Snapshot, out *ConcernsView, p work.Person, m work.Moment) error {
	out.Scope = v.ScopeText(m.Scope)
	schools, err := concerns.Read(ctx, v, m)
	if err != nil {
		return err
	}
	policies, err := concerns.Policies(v)
	if err != nil {
		return err
	}
	held, err := concerns.Rules(ctx, v.Store(), policies)
	if err != nil {
		return err
	}
	var rules []*attention.Rule
	for _, h := range held {
		if h.On && h.Problem == "" {
			rules = append(rules, &h.Rule.Rule)
			out.Kinds = append(out.Kinds, ConcernCount{Kind: h.ID, Title: h.Title, Area: areaOf(&h.Rule.Rule)})
		}
	}
	followed, err := lastFollowups(ctx, v, m)
	if err != nil {
		return err
	}
	f := &finding{v: v, p: p, m: m, rules: rules, names: concerns.Names(policies), followed: followed, out: out}
	asAt := day.NoStart
	for _, s := range schools {
		asAt = max(asAt, s.Date(s.Upto))
		if err := f.in(s); err != nil {
			return err
		}
	}
	if asAt != day.NoStart {
		out.AsAt, out.Label = asAt.String(), asAt.Spoken()
	}
	slices.SortStableFunc(f.rows, func(a, b row) int {
		return cmp.Or(-compare(a.New, b.New), cmp.Compare(len(b.Concerns), len(a.Concerns)), cmp.Compare(a.oldest, b.oldest), strings.Compare(a.Student.Sorted, b.Student.Sorted))
	})
	for _, r := range f.rows {
		out.Rows = append(out.Rows, r.ConcernRow)
	}
	out.Any = len(out.Rows)
	for id, f := range followed {
		if f.NextDay != "" && f.NextDay <= (m.Date+7).String() && m.Scope.Has(v.School.StudentOf(id).Section) && v.MaySee(p, id) == nil {
			s := v.School.StudentOf(id)
			out.Due = append(out.Due, CallDue{pages.Student(v, s, m.Date), *f})
		}
	}
	sort.Slice(out.Due, func(a, b int) bool {
		if out.Due[a].Last.NextDay != out.Due[b].Last.NextDay {
			return out.Due[a].Last.NextDay < out.Due[b].Last.NextDay
		}
		return out.Due[a].Student.Sorted < out.Due[b].Student.Sorted
	})
	return nil
}

func compare(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	}
	return -1
}

// areaOf is what a rule is about, by its first condition.
func areaOf(r *attention.Rule) string { return r.If.Conditions()[0].Indicator.Area() }

// row is a student with what it is put in order by.
type row struct {
	ConcernRow
	oldest day.Date
}

// finding is the list that is being made.
type finding struct {
	v        work.Snapshot
	p        work.Person
	m        work.Moment
	rules    []*attention.Rule
	names    attention.Names
	followed map[ids.Student]*FollowupView
	out      *ConcernsView
	rows     []row
}

// in adds those of a section whom the person may see.
func (f *finding) in(s *concerns.School) error {
	measure, err := s.Section.EverySlot()
	if err != nil {
		return err
	}
	for i, id := range s.IDs {
		if s.Ledger.Enrolled(i, s.Upto) && f.v.MaySee(f.p, id) == nil {
			f.out.Students++
		}
	}
	standings, err := work.Remember(s.Section.Snapshot, fmt.Sprint("standings ", s.Section.ID, f.m.Date, s.Upto), append([]string{"attention_rule"}, s.Follows...), func() ([]attention.Standing, error) {
		return s.Standings(f.rules, s.Upto), nil
	})
	if err != nil {
		return err
	}
	for _, st := range standings {
		id := s.IDs[st.Student]
		if f.v.MaySee(f.p, id) != nil {
			continue
		}
		student := f.v.School.StudentOf(id)
		one := row{ConcernRow: ConcernRow{Student: pages.Student(f.v, student, f.m.Date), Contacts: []pages.ContactRef{}, Concerns: []ConcernView{}, Last: f.followed[id],
			Figures: pages.Figures(measure, measure.Student(st.Student, absence.Span{From: 0, To: s.Upto}))}, oldest: s.Date(st.Since)}
		if f.p.May(work.MaySeeContacts) {
			one.Contacts = pages.Contacts(f.v.School.ContactsOf(id))
		}
		newest, told := day.NoStart, map[string]bool{}
		for _, m := range st.Rules {
			r := f.rules[m.Rule]
			f.out.Kinds[m.Rule].N++
			since := s.Date(m.Since)
			newest = max(newest, since)
			one.Concerns = append(one.Concerns, ConcernView{Kind: r.ID, Area: areaOf(r), Figure: f.out.Kinds[m.Rule].Title, Why: f.why(s, st.Student, m, told), Since: since.Spoken()})
		}
		one.Since, one.New = newest.Spoken(), f.m.Date-newest < recent
		f.rows = append(f.rows, one)
	}
	return nil
}

// why says which conditions of a rule hold, with their figures; by its title alone where a rule before has
// told them. Which courses fail is for whoever may see them all.
func (f *finding) why(s *concerns.School, i int, m attention.RuleMatch, told map[string]bool) string {
	var out []string
	fresh := false
	for _, h := range m.Held {
		words := h.Told(f.names)
		if h.Condition.Indicator.ID == "failing" && h.Condition.Indicator.Period == "" && f.p.Role != work.Teacher {
			words += ": " + attention.Join(s.Failing(i, s.Upto), "and")
		}
		fresh = fresh || !told[words]
		told[words] = true
		if !slices.Contains(out, words) {
			out = append(out, words)
		}
	}
	if !fresh {
		return f.rules[m.Rule].Title
	}
	return strings.Join(out, "; ")
}

// lastFollowups returns each student's last follow-up that was known.
func lastFollowups(ctx context.Context, v work.Snapshot, m work.Moment) (map[ids.Student]*FollowupView, error) {
	all, err := store.Followups(ctx, v.Store(), m.Known)
	if err != nil {
		return nil, err
	}
	out := map[ids.Student]*FollowupView{}
	for _, f := range all {
		fv := &FollowupView{Date: f.Date.Spoken(), Outcome: f.Outcome, Note: f.Note, By: f.By}
		if f.NextDate != nil {
			fv.Next, fv.NextDay, fv.Overdue = f.NextDate.Spoken(), f.NextDate.String(), *f.NextDate < m.Date
		}
		out[f.StudentID] = fv
	}
	return out, nil
}

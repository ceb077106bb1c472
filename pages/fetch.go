package pages

import (
	"slices"
	"strings"

	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/home"
)

// FetchView is a student to be collected: whom to ring, who comes.
type FetchView struct {
	ID        ids.Fetch     `json:"id"`
	Student   StudentRef    `json:"student"`
	Since     string        `json:"since"`
	Reason    string        `json:"reason"`
	Place     string        `json:"place"`
	By        string        `json:"by"`
	Warnings  []string      `json:"warnings"`
	Contacts  []ContactRef  `json:"contacts" doc:"Those who may be called, in call order"`
	Next      int           `json:"next" doc:"Place of the contact to ring now; -1 for none"`
	NotCalled []string      `json:"notCalled" doc:"Contacts who must not be called"`
	Attempts  []AttemptView `json:"attempts"`
	Collector ids.Contact   `json:"collector" doc:"The contact who comes; 0 for nobody or somebody else"`
	Comes     string        `json:"comes" doc:"Who comes, by name; empty while nobody has agreed"`
	Note      string        `json:"note" doc:"What was noted about whoever comes"`
	Expected  string        `json:"expected"`
	Overdue   bool          `json:"overdue"`
}

// Fetches lists the students to be collected at a moment: first those for whom nobody
// comes yet, then by when somebody is expected.
func Fetches(v work.Snapshot, x *work.Day, m work.Moment) []FetchView {
	out := []FetchView{}
	for i := range x.Fetches {
		f := x.Fetches[i]
		if open := x.OpenFetch(f.StudentID, m); open != nil && open.ID == f.ID {
			out = append(out, Fetch(v, x, f, m))
		}
	}
	slices.SortStableFunc(out, func(a, b FetchView) int { return strings.Compare(a.Expected, b.Expected) })
	return out
}

// Fetch returns a student to be collected as pages show them.
func Fetch(v work.Snapshot, x *work.Day, f store.Fetch, m work.Moment) FetchView {
	s := v.School.StudentOf(f.StudentID)
	about := followup.Missing{Contacts: v.School.ContactsOf(s.ID)}
	out := FetchView{ID: f.ID, Student: Student(v, s, m.Date), Since: f.Minute.String(), Reason: f.Reason, Place: f.Place, By: f.By,
		Warnings: Warnings(v.School.WarningsOf(s.ID)), NotCalled: []string{}, Attempts: []AttemptView{}}
	for _, c := range about.Contacts {
		if c.DoNotCall {
			out.NotCalled = append(out.NotCalled, c.Name)
		}
	}
	for _, c := range x.Calls {
		if c.FetchID == nil || *c.FetchID != f.ID || c.Known > m.Known || c.Minute.After(m.Minute) {
			continue
		}
		a := home.AttemptOf(c)
		about.Attempts = append(about.Attempts, a.Attempt)
		out.Attempts = append(out.Attempts, Attempt(v, a))
		if c.Collector != "" {
			out.Collector, out.Comes, out.Note, out.Expected, out.Overdue = 0, c.Collector, c.Note, "", false
			if c.CollectorID != nil {
				out.Collector = *c.CollectorID
			}
			if !c.Expected.IsZero() {
				out.Expected, out.Overdue = c.Expected.String(), (c.Expected).Before(m.Minute)
			}
		}
	}
	asked := followup.Households([]followup.Missing{about}, m.Minute)[0]
	out.Contacts, out.Next = Contacts(asked.Contacts), asked.Next
	return out
}

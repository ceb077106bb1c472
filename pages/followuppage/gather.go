// Package followuppage holds the place Follow-up: whom to contact next, the cases with their plans, support by week
// and what came of it.
package followuppage

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// gathered is what is known of students who are followed up, as at a moment.
type gathered struct {
	v       work.Snapshot
	p       work.Person
	m       work.Moment
	readers caseload.Readers

	words    caseload.Vocabulary
	cases    []caseload.Case
	steps    []store.CaseStep
	ends     map[ids.CaseStep]store.CaseStepEnd
	contacts map[ids.Student][]contact // in time
	sessions []store.SupportSession
	meetings []store.StudentMeeting
	reasons  []store.WeekReason
	looks    map[ids.Section]concerns.Look
	next     map[ids.Student]day.Date
}

// contact is one with a home, a student or somebody outside, wherever it was written down.
type contact struct {
	Date    day.Date
	Minute  day.Minute
	Way     string
	With    string
	Who     string // by name
	Outcome string
	Note    string // as lists show it
	Said    string // of a call of the morning: what they said
	By      string
	Morning bool // a call of the morning
	ID      ids.Followup
	Kept    string
	Next    *day.Date
	Account ids.Account // who wrote it
}

// reading reads what is known at a moment and does something with it.
func reading(ctx context.Context, o *work.Office, p work.Person, asAt string, of []ids.Section, f func(g *gathered) error) error {
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return err
	}
	if err := outlooks.Warm(ctx, o); err != nil {
		return err
	}
	return o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		g := &gathered{v: v, p: p, m: m, looks: map[ids.Section]concerns.Look{}}
		for _, step := range []func(context.Context) error{g.people, g.caseload, g.support, g.concerns, g.reached} {
			if err := step(ctx); err != nil {
				return err
			}
		}
		return f(g)
	})
}

func (g *gathered) people(ctx context.Context) (err error) {
	if g.readers, err = caseload.ReadersFor(ctx, g.v.Store(), g.p); err != nil {
		return err
	}
	g.words, err = caseload.Words(ctx, g.v.Store())
	return err
}

func (g *gathered) caseload(ctx context.Context) (err error) {
	if g.cases, err = caseload.Cases(ctx, g.v.Store(), g.m.Known); err != nil {
		return err
	}
	g.steps, g.ends, err = store.CaseSteps(ctx, g.v.Store(), g.m.Known)
	return err
}

func (g *gathered) support(ctx context.Context) (err error) {
	q := g.v.Store()
	if g.sessions, err = store.SupportSessions(ctx, q, day.NoStart, g.m.Known); err != nil {
		return err
	}
	if g.meetings, err = store.StudentMeetings(ctx, q, g.m.Known); err != nil {
		return err
	}
	g.reasons, err = store.WeekReasons(ctx, q, g.m.Known)
	return err
}

func (g *gathered) concerns(ctx context.Context) error {
	looks, _, err := concerns.Find(ctx, g.v, g.m)
	for _, l := range looks {
		g.looks[l.Section.ID] = l
	}
	return err
}

// reached puts the contacts together: calls of the morning and those that were logged, of this school year.
func (g *gathered) reached(ctx context.Context) error {
	g.contacts = map[ids.Student][]contact{}
	rows, err := store.Followups(ctx, g.v.Store(), g.m.Known)
	if err != nil {
		return err
	}
	for _, f := range rows {
		c := contact{Date: f.Date, Minute: f.Minute, Way: f.Way, With: f.With, Who: f.Who, Outcome: f.Outcome, Note: caseload.Shown(f.Kept, f.Note), By: f.By, ID: f.ID, Kept: f.Kept, Next: f.NextDate, Account: f.AccountID}
		if f.ContactID != nil {
			c.Who = g.v.School.ContactOf(*f.ContactID).Name()
		}
		g.contacts[f.StudentID] = append(g.contacts[f.StudentID], c)
	}
	calls, err := g.calls(ctx)
	for _, x := range calls {
		c := contact{Date: x.Date, Minute: x.Minute, Way: "call", With: caseload.WithHome, Outcome: x.Outcome, Note: x.Note, Said: x.Said, By: x.By, Morning: true, Kept: caseload.ForOffice}
		if x.ContactID != 0 {
			c.Who = g.v.School.ContactOf(x.ContactID).Name()
		}
		g.contacts[x.StudentID] = append(g.contacts[x.StudentID], c)
	}
	for _, list := range g.contacts {
		slices.SortStableFunc(list, func(a, b contact) int {
			return int(day.At(a.Date, a.Minute) - day.At(b.Date, b.Minute))
		})
	}
	return err
}

// calls are those of the morning, of this school year.
func (g *gathered) calls(ctx context.Context) ([]store.Tried, error) {
	from := day.NoEnd
	for _, s := range g.v.In(g.m.Scope) {
		if s.Calendar != nil {
			first, _ := s.Calendar.Span()
			from = min(from, first)
		}
	}
	if !g.m.Live {
		return store.CallsFrom(ctx, g.v.Store(), from, g.m.Known)
	}
	return work.Remember(g.v, fmt.Sprint("calls from ", from), []string{"call"}, func() ([]store.Tried, error) {
		return store.CallsFrom(ctx, g.v.Store(), from, g.m.Known)
	})
}

// found is what the rules find of a student, and the figures.
func (g *gathered) found(id ids.Student) concerns.Found {
	look, any := g.looks[g.v.School.SectionOf(id).ID]
	if !any {
		return concerns.Found{Student: id}
	}
	if f, any := look.Found[id]; any {
		return f
	}
	f, _ := look.FiguresOf(id)
	return f
}

// look is what is known of the section of a student; nil where no school day is over there.
func (g *gathered) look(id ids.Student) *concerns.Look {
	if l, any := g.looks[g.v.School.SectionOf(id).ID]; any {
		return &l
	}
	return nil
}

// last is the last contact at which somebody was reached; nil for never.
func (g *gathered) last(id ids.Student) *contact {
	list := g.contacts[id]
	for i := range slices.Backward(list) {
		if caseload.Reached(list[i].Outcome) && list[i].Date <= g.m.Date {
			return &list[i]
		}
	}
	return nil
}

// tried are the contacts since somebody was reached, at which nobody was.
func (g *gathered) tried(id ids.Student) (out []contact) {
	for _, c := range slices.Backward(g.contacts[id]) {
		if caseload.Reached(c.Outcome) {
			break
		}
		if c.Date <= g.m.Date {
			out = append(out, c)
		}
	}
	return out
}

// met is when the student was last met: in a support session, or by a contact with the student.
func (g *gathered) met(id ids.Student) (on day.Date, how string) {
	on = day.NoStart
	for _, s := range g.sessions {
		if s.StudentID == id && s.Date <= g.m.Date && s.Date >= on {
			on, how = s.Date, g.words.Name(&s.Kind)
		}
	}
	for _, c := range g.contacts[id] {
		if c.With == caseload.WithStudent && caseload.Reached(c.Outcome) && c.Date <= g.m.Date && c.Date >= on {
			on, how = c.Date, "met"
		}
	}
	return on, how
}

// stays are for which dates students are on the caseload: while their case is open, says so and waits for nothing.
func (g *gathered) stays() []support.Stay {
	var out []support.Stay
	for _, c := range g.cases {
		from := day.NoEnd
		for _, x := range c.Changes {
			on := x.Weekly && !x.Waits && x.Kind != caseload.CaseClosed
			switch d := x.Known.Date(); {
			case on && from == day.NoEnd:
				from = d
			case !on && from != day.NoEnd:
				out, from = append(out, support.Stay{Student: int(c.StudentID), From: from, To: max(from, d-1)}), day.NoEnd
			}
		}
		if from != day.NoEnd {
			out = append(out, support.Stay{Student: int(c.StudentID), From: from, To: day.NoEnd})
		}
	}
	return out
}

// held are the sessions whose day has come, as they are counted.
func (g *gathered) held(keep func(ids.Student) bool) []support.Session {
	var out []support.Session
	for _, s := range g.sessions {
		if s.Date <= g.m.Date && keep(s.StudentID) {
			out = append(out, support.Session{Student: int(s.StudentID), Date: s.Date, Kind: int(s.Kind), Minutes: s.Minutes})
		}
	}
	return out
}

func (g *gathered) reasonsOf() []support.Reason {
	out := make([]support.Reason, len(g.reasons))
	for i, r := range g.reasons {
		out[i] = support.Reason{Student: int(r.StudentID), Week: r.Week, Text: r.Text}
	}
	return out
}

// Ask is of whom a list is.
type Ask struct {
	Group   string // as pages.GroupOf takes it; empty for everyone
	Owner   ids.Account
	Overdue bool
	Closed  bool // closed cases too
	Days    int  // opened so many days ago or longer; 0 for any
}

// asked is who is asked for: of a group and in whose hands.
func (g *gathered) asked(ask Ask) (on map[ids.Student]bool, words string, err error) {
	students, words, err := pages.GroupOf(g.v, g.m.Scope, g.m.Date, ask.Group)
	on = map[ids.Student]bool{}
	for _, s := range students {
		on[s.ID] = true
	}
	return on, words, err
}

// nextDates are the dates that the last contact with a next date has set, unless somebody was reached since.
func (g *gathered) nextDates() map[ids.Student]day.Date {
	if g.next == nil {
		g.next = map[ids.Student]day.Date{}
		for id, list := range g.contacts {
			for _, c := range list {
				switch {
				case c.Next != nil:
					g.next[id] = *c.Next
				case caseload.Reached(c.Outcome) && !c.Morning:
					delete(g.next, id)
				}
			}
		}
	}
	return g.next
}

// mayRead reports whether the person may read what was written of a contact.
func (g *gathered) mayRead(id ids.Student, c contact) bool {
	return g.readers.MayOf(g.cases, id, c.Kept, c.Account)
}

// days says how many calendar days ago a date is; −1 for never.
func (g *gathered) days(d day.Date) int {
	if d == day.NoStart {
		return -1
	}
	return int(g.m.Date - d)
}

func joinPeople(lines string) string { return strings.ReplaceAll(lines, "\n", ", ") }

package work

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/whereabouts"
	"meldung/store"
)

// NewFetch says that a student is to be fetched.
type NewFetch struct {
	Student int64  `json:"student"`
	Reason  string `json:"reason" maxLength:"100"`
	Place   string `json:"place,omitempty" maxLength:"100" doc:"Where the student waits"`
}

// StartFetch stores that a student who is here must be fetched.
func (o *Office) StartFetch(ctx context.Context, p Person, key string, f NewFetch) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "fetch", &out, func(w *writing, v view, x *Day) error {
		s, err := v.school.Student(f.Student)
		if err != nil {
			return err
		}
		m := Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true}
		if here := v.position(x, s.ID, m); !onPremises(here) {
			return refused("%s is not on the premises: %s; nobody is to fetch them", s.Name(), placeOf(here).Words)
		}
		if open := x.openFetch(s.ID, m); open != nil {
			return conflict("%s is to be fetched already, since %s", s.Name(), open.Minute)
		}
		if f.Reason = strings.TrimSpace(f.Reason); f.Reason == "" {
			return wrong("say why %s is to be fetched; nothing was stored", s.Name())
		}
		id, err := store.AddFetch(ctx, w.tx, store.Fetch{StudentID: s.ID, Date: x.Date, Minute: w.now.Minute(), Reason: f.Reason, Place: strings.TrimSpace(f.Place), Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: s.Name() + " is to be fetched: " + f.Reason, IDs: []int64{id}}
		return err
	})
	return out, err
}

// onPremises reports whether a student is somewhere in the building.
func onPremises(p whereabouts.Position) bool {
	return p.State == whereabouts.In || p.State == whereabouts.InLate || p.OnSite
}

// EndFetch stores that a student stays after all.
func (o *Office) EndFetch(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "fetch ended", &out, func(w *writing, v view, x *Day) error {
		i := slices.IndexFunc(x.fetches, func(f store.Fetch) bool { return f.ID == id })
		if i < 0 {
			return notFound("nobody is to be fetched under that number today")
		}
		done, err := store.EndFetch(ctx, w.tx, id, w.journal.ID)
		if err == nil && !done {
			err = conflict("that was ended already")
		}
		out = Receipt{Seq: w.journal.ID, Words: v.names([]int64{x.fetches[i].StudentID}) + " stays", IDs: []int64{id}}
		return err
	})
	return out, err
}

// openFetch returns the student's fetch that was neither ended nor over by a moment: it
// is over when the student has left since.
func (x *Day) openFetch(student int64, m Moment) *store.Fetch {
	var open *store.Fetch
	for i := range x.fetches {
		if f := &x.fetches[i]; f.StudentID == student && f.Known <= m.Known && f.Minute <= m.Minute && (f.EndedAt == nil || *f.EndedAt > m.Known) {
			open = f
		}
	}
	if open == nil {
		return nil
	}
	for _, mv := range x.movements {
		gone := mv.StudentID == student && mv.Kind == "departed" && mv.Minute >= open.Minute && mv.Minute <= m.Minute && mv.Journal > open.Journal
		if gone && mv.Known <= m.Known && (mv.UndoneAt == nil || *mv.UndoneAt > m.Known) {
			return nil
		}
	}
	return open
}

// collector reads who collects a student: a contact who may, or anyone else with a note.
func (v view) collector(s store.Student, contact int64, other, note string) (id *int64, name string, err error) {
	if contact == 0 {
		if name = strings.TrimSpace(other); name != "" && strings.TrimSpace(note) == "" {
			return nil, "", refused("%s is not among those who may collect %s: a note has to say who allowed it; nothing was stored", name, s.Name())
		}
		return nil, name, nil
	}
	for _, c := range v.school.ContactsOf(s.ID) {
		if c.ID != contact {
			continue
		}
		if !c.MayCollect && strings.TrimSpace(note) == "" {
			return nil, "", refused("%s is not among those who may collect %s: a note has to say who allowed it; nothing was stored", c.Name, s.Name())
		}
		return &contact, c.Name, nil
	}
	return nil, "", wrong("that is no contact of %s; nothing was stored", s.Name())
}

// fetchCall reads what a call about a student to be fetched came to, into its row, and
// says it in words.
func (v view) fetchCall(x *Day, c Call, row *store.Call, now day.Instant) (string, error) {
	i := slices.IndexFunc(x.fetches, func(f store.Fetch) bool { return f.ID == c.Fetch })
	if i < 0 || !slices.Equal(c.Students, []int64{x.fetches[i].StudentID}) {
		return "", notFound("nobody is to be fetched under that number today; nothing was stored")
	}
	s, err := v.school.Student(x.fetches[i].StudentID)
	if err != nil {
		return "", err
	}
	if x.openFetch(s.ID, Moment{Date: x.Date, Minute: now.Minute(), Known: now}) == nil {
		return "", conflict("%s is not to be fetched any more; nothing was stored", s.Name())
	}
	if c.Said != "" {
		return "", wrong("a call about fetching %s says who comes, not why somebody is absent; nothing was stored", s.Name())
	}
	row.FetchID = &c.Fetch
	if row.CollectorID, row.Collector, err = v.collector(s, c.Collector, c.Collects, c.Note); err != nil || row.Collector == "" {
		return "", err
	}
	if followup.Outcome(c.Outcome) != followup.Spoke {
		return "", wrong("nobody was spoken to who could say that %s comes; nothing was stored", row.Collector)
	}
	words := row.Collector + " comes"
	if strings.TrimSpace(c.Until) != "" {
		at, err := day.ParseTyped(c.Until)
		if err != nil {
			return "", wrong("expected when? %v; nothing was stored", err)
		}
		if at < now.Minute() {
			return "", wrong("expected %s has passed, it is %s; nothing was stored", at, now.Minute())
		}
		row.Expected = &at
		words += " by " + at.String()
	}
	return words, nil
}

// FetchView is a student to be fetched: whom to ring, who comes.
type FetchView struct {
	ID        int64         `json:"id"`
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
	Collector int64         `json:"collector" doc:"The contact who comes; 0 for nobody or somebody else"`
	Comes     string        `json:"comes" doc:"Who comes, by name; empty while nobody has agreed"`
	Note      string        `json:"note" doc:"What was noted about whoever comes"`
	Expected  string        `json:"expected"`
	Overdue   bool          `json:"overdue"`
}

// fetches lists the students to be fetched at a moment: first those for whom nobody
// comes yet, then by when somebody is expected.
func (v view) fetches(x *Day, m Moment) []FetchView {
	out := []FetchView{}
	for i := range x.fetches {
		f := x.fetches[i]
		if open := x.openFetch(f.StudentID, m); open != nil && open.ID == f.ID {
			out = append(out, v.fetchView(x, f, m))
		}
	}
	slices.SortStableFunc(out, func(a, b FetchView) int { return strings.Compare(a.Expected, b.Expected) })
	return out
}

func (v view) fetchView(x *Day, f store.Fetch, m Moment) FetchView {
	s := v.school.Students[v.school.student[f.StudentID]]
	about := followup.Missing{Contacts: v.school.ContactsOf(s.ID)}
	out := FetchView{ID: f.ID, Student: v.ref(s, m.Date), Since: f.Minute.String(), Reason: f.Reason, Place: f.Place, By: f.By,
		Warnings: warningWords(v.school.warnings[s.ID]), NotCalled: []string{}, Attempts: []AttemptView{}}
	for _, c := range about.Contacts {
		if c.DoNotCall {
			out.NotCalled = append(out.NotCalled, c.Name)
		}
	}
	for _, c := range x.calls {
		if c.FetchID == nil || *c.FetchID != f.ID || c.Known > m.Known || c.Minute > m.Minute {
			continue
		}
		a := attemptOf(c)
		about.Attempts = append(about.Attempts, a.Attempt)
		out.Attempts = append(out.Attempts, v.attemptView(a))
		if c.Collector != "" {
			out.Collector, out.Comes, out.Note, out.Expected, out.Overdue = 0, c.Collector, c.Note, "", false
			if c.CollectorID != nil {
				out.Collector = *c.CollectorID
			}
			if c.Expected != nil {
				out.Expected, out.Overdue = c.Expected.String(), *c.Expected < m.Minute
			}
		}
	}
	home := followup.Households([]followup.Missing{about}, m.Minute)[0]
	out.Contacts, out.Next = contactRefs(home.Contacts), home.Next
	return out
}

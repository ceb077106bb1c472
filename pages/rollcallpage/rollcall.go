// Package rollcallpage holds what is shown of roll calls: who is to be found, who was met, what
// came of it, and the same on paper; and who signed in.
package rollcallpage

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	core "meldung/core/rollcall"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/rollcall"
)

// Running is the roll call that runs, for every page.
type Running struct {
	ID    ids.RollCall `json:"id" doc:"0 for none"`
	Kind  string       `json:"kind" doc:"drill or real; empty for none"`
	Began string       `json:"began" doc:"HH:MM"`
	By    string       `json:"by"`
}

// ShowRunning returns the roll call that runs.
func ShowRunning(ctx context.Context, o *work.Office) (Running, error) {
	var out Running
	err := o.Read(ctx, func(v work.Snapshot) error {
		r, err := store.RollCallRunning(ctx, v.Store())
		if r != nil {
			out = running(*r)
		}
		return err
	})
	return out, err
}

func running(r store.RollCall) Running {
	return Running{ID: r.ID, Kind: r.Kind, Began: r.Minute.String(), By: r.By}
}

// PersonView is somebody who is to be found.
type PersonView struct {
	Kind   string `json:"kind" enum:"student,staff,visitor"`
	Person int64  `json:"person" doc:"Id of a student, of a member of staff, of a visit"`
	Name   string `json:"name"`
	Sorted string `json:"sorted" doc:"Family, Given of students and staff"`
	Form   string `json:"form" doc:"Of a student; staff or visitor for others"`
	Number string `json:"number" doc:"Of a student, as typed"`
	Card   string `json:"card" doc:"What a student's card says"`
	Why    string `json:"why" enum:"on-site,missing,unknown,signed-in,expected,found,not-here" doc:"Why they are on the list; not-here for those who are not"`
	Point  string `json:"point" doc:"The meeting point, or the form"`
	Place  string `json:"place" doc:"Where they should be; empty for unknown"`
	Photo  bool   `json:"photo" doc:"There is a photo"`
	Seen   string `json:"seen" doc:"The last that shows where they were, as it was known when the roll call began"`
}

// RollCallView is everything a phone needs to go on without a line.
type RollCallView struct {
	Running Running      `json:"running"`
	AsAt    string       `json:"asAt" doc:"The minute of which the list is: YYYY-MM-DDTHH:MM"`
	Label   string       `json:"label" doc:"The date in words"`
	School  string       `json:"school"`
	People  []PersonView `json:"people" doc:"By meeting point, form and name"`
	Others  []PersonView `json:"others" doc:"Everyone else on the roll and of the staff, to be found by name, number or card"`
	Account ids.Account  `json:"account"`
	Seq     ids.Entry    `json:"seq" doc:"The journal's entry up to which ticks are in the list"`
}

// Show returns the list of the roll call that runs, or else as it would be now for those who may
// begin one: to others nothing of it is told while none runs.
func Show(ctx context.Context, o *work.Office, p work.Person) (RollCallView, error) {
	out := RollCallView{People: []PersonView{}, Others: []PersonView{}, Account: p.Account}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		r, err := store.RollCallRunning(ctx, v.Store())
		if err != nil {
			return err
		}
		photos, err := store.WithPhoto(ctx, v.Store())
		if err != nil {
			return err
		}
		out.AsAt, out.Label, out.School = m.At().String(), m.Date.Spoken(), v.SchoolName()
		if r == nil {
			if !p.May(work.MaySeeRollAhead) {
				return nil
			}
			out.list(v, x, m, rollcall.People(v, x, m), x.Visits, photos)
			return nil
		}
		out.Running = running(*r)
		people, visits, err := peopleOf(ctx, v, r.ID)
		if err != nil {
			return err
		}
		out.list(v, x, m, people, visits, photos)
		return nil
	})
	return out, err
}

// peopleOf returns the list of a roll call as it is stored, with the visits that it names.
func peopleOf(ctx context.Context, v work.Snapshot, id ids.RollCall) ([]rollcall.Person, []store.Visit, error) {
	rows, err := store.RollPersons(ctx, v.Store(), id)
	if err != nil {
		return nil, nil, err
	}
	visits, err := store.VisitsWith(ctx, v.Store(), id)
	people := make([]rollcall.Person, len(rows))
	for i, r := range rows {
		people[i] = rollcall.Person{Key: rollcall.KeyOf(r), Why: core.Why(r.Why), Point: r.Point, Place: r.Place, Seen: r.Seen}
	}
	return people, visits, err
}

func (out *RollCallView) list(v work.Snapshot, x *work.Day, m work.Moment, people []rollcall.Person, visits []store.Visit, photos map[ids.Student]bool) {
	on := map[core.Key]bool{}
	for _, one := range people {
		on[one.Key] = true
		view := person(v, x, visits, one)
		view.Photo = one.Kind == core.Student && photos[ids.Student(one.ID)]
		out.People = append(out.People, view)
	}
	sortPeople(out.People)
	for _, s := range x.Roll {
		if k := (core.Key{Kind: core.Student, ID: int64(s.ID)}); !on[k] {
			one := person(v, x, nil, rollcall.Person{Key: k, Why: notHere, Seen: work.Whereabouts(v.Position(x, s.ID, m))})
			out.Others = append(out.Others, one)
		}
	}
	for _, s := range v.School.Records().Rows.Staff {
		if k := (core.Key{Kind: core.Staff, ID: int64(s.ID)}); !on[k] && !s.Ended {
			out.Others = append(out.Others, person(v, x, nil, rollcall.Person{Key: k, Why: notHere}))
		}
	}
}

const notHere core.Why = "not-here"

func person(v work.Snapshot, x *work.Day, visits []store.Visit, one rollcall.Person) PersonView {
	out := PersonView{Kind: string(one.Kind), Person: one.ID, Name: rollcall.Name(v, visits, one.Key), Form: string(one.Kind), Why: string(one.Why), Point: one.Point, Place: one.Place, Seen: one.Seen}
	out.Sorted = out.Name
	switch one.Kind {
	case core.Student:
		if s, ok := v.School.Student(ids.Student(one.ID)); ok {
			out.Sorted, out.Form, out.Number, out.Card = s.Family+", "+s.Given, v.School.Form(s.ID, x.Date), s.Number, s.Card
		}
	case core.Staff:
		if s, ok := v.School.StaffMember(ids.Staff(one.ID)); ok {
			out.Sorted = s.Family + ", " + s.Given
		}
	}
	return out
}

// sortPeople orders a list as it is called out: by meeting point, form and name.
func sortPeople(list []PersonView) {
	slices.SortStableFunc(list, func(a, b PersonView) int {
		return cmp.Or(pages.ByNumber(a.Point, b.Point), cmp.Compare(order(a), order(b)), pages.ByNumber(a.Form, b.Form), cmp.Compare(a.Sorted, b.Sorted), cmp.Compare(a.Person, b.Person))
	})
}

// order puts students before staff, and staff before visitors.
func order(p PersonView) int { return slices.Index([]string{"student", "staff", "visitor"}, p.Kind) }

// TickView is a tick as phones show it.
type TickView struct {
	Token  string `json:"token"`
	Kind   string `json:"kind" enum:"student,staff,visitor"`
	Person int64  `json:"person"`
	At     string `json:"at" doc:"HH:MM:SS"`
	Here   bool   `json:"here"`
	Place  string `json:"place"`
	By     string `json:"by"`
	Undone bool   `json:"undone"`
}

// NowView is what has become known since of somebody who is still to be found.
type NowView struct {
	Person int64  `json:"person" doc:"Id of a student"`
	Text   string `json:"text"`
}

// TicksView is what has come in since a phone last asked.
type TicksView struct {
	Kind  string     `json:"kind" enum:"drill,real"`
	Ended string     `json:"ended" doc:"When the roll call ended; empty while it runs"`
	Seq   ids.Entry  `json:"seq" doc:"To ask with the next time"`
	Ticks []TickView `json:"ticks" doc:"Stored or taken back since, in the order in which they came in"`
	Added int        `json:"added" doc:"How many are on the list now: another number than one has means to fetch it again"`
	Now   []NowView  `json:"now" doc:"Of the last to be found: what is known of them by now"`
}

// mostNow is of how many of the last to be found it is looked up what is known of them by now.
const mostNow = 100

// ShowTicks returns the ticks of a roll call that came in after an entry of the journal.
func ShowTicks(ctx context.Context, o *work.Office, p work.Person, id ids.RollCall, after ids.Entry) (TicksView, error) {
	out := TicksView{Ticks: []TickView{}, Now: []NowView{}}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Seq = o.LastEntry()
		r, err := rollCall(ctx, v, p, id)
		if err != nil {
			return err
		}
		out.Kind = r.Kind
		if r.EndedAt != nil {
			out.Ended = r.EndedAt.Minute().String()
		}
		ticks, err := store.RollTicks(ctx, v.Store(), id, after)
		if err != nil {
			return err
		}
		for _, t := range ticks {
			out.Ticks = append(out.Ticks, tickView(t))
		}
		people, ticked, err := store.RollCallCount(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		out.Added = people
		if r.EndedAt == nil && people-ticked <= mostNow {
			out.Now, err = knownNow(ctx, v, x, m, id)
			return err
		}
		return nil
	})
	return out, err
}

func tickView(t store.RollTick) TickView {
	return TickView{Token: t.Token, Kind: t.Kind, Person: t.Person, At: fmt.Sprintf("%s:%02d", t.At.Minute(), t.Second), Here: t.Here, Place: t.Place, By: t.By, Undone: t.UndoneBy != nil}
}

// knownNow says of those still to be found who they are that by what is known now would not be on
// the list: signed out at the desk, explained by a home.
func knownNow(ctx context.Context, v work.Snapshot, x *work.Day, m work.Moment, id ids.RollCall) ([]NowView, error) {
	out := []NowView{}
	persons, err := store.RollPersons(ctx, v.Store(), id)
	if err != nil {
		return out, err
	}
	ticks, err := store.RollTicks(ctx, v.Store(), id, 0)
	if err != nil {
		return out, err
	}
	standing := core.Standing(rollcall.CoreTicks(ticks))
	for _, one := range persons {
		if _, ticked := standing[rollcall.KeyOf(one)]; ticked || one.Kind != string(core.Student) {
			continue
		}
		p := v.Position(x, ids.Student(one.Person), m)
		if _, on := core.Expects(p); !on {
			out = append(out, NowView{one.Person, work.Whereabouts(p) + " · ask the desk"})
		}
	}
	return out, nil
}

// rollCall returns a roll call that a person may look at: those who may not see what came of
// others see the one that runs.
func rollCall(ctx context.Context, v work.Snapshot, p work.Person, id ids.RollCall) (*store.RollCall, error) {
	r, err := store.RollCallWith(ctx, v.Store(), id)
	switch {
	case err != nil:
		return nil, err
	case r == nil:
		return nil, work.NotFoundf("there is no such roll call")
	case r.EndedAt != nil && !p.May(work.MaySeeRollRecord):
		return r, ended(*r)
	}
	return r, nil
}

func ended(r store.RollCall) error {
	return work.Conflictf("the roll call was ended at %s%s", r.EndedAt.Minute(), work.By(r.Ender))
}

// minutes writes a number of minutes; empty for never.
func minutes(m *day.Minutes) string {
	if m == nil {
		return ""
	}
	return fmt.Sprint(*m, " min")
}

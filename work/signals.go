package work

import (
	"context"
	"sort"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/signals"
	"meldung/files/policyfile"
	"meldung/store"
)

// SignalCount is a kind of signal with how many students have it.
type SignalCount struct {
	Kind  string `json:"kind"`
	Title string `json:"title"`
	N     int    `json:"n"`
}

// SignalView is one reason to look at a student.
type SignalView struct {
	Kind   string `json:"kind"`
	Figure string `json:"figure"`
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

// SignalRow is a student with signals.
type SignalRow struct {
	Student  StudentRef     `json:"student"`
	New      bool           `json:"new"`
	Since    string         `json:"since"`
	Signals  []SignalView   `json:"signals"`
	Figures  AbsenceFigures `json:"figures"`
	Contacts []ContactRef   `json:"contacts"`
	Last     *FollowupView  `json:"last,omitempty"`
}

// CallDue is a follow-up call that was put off to a date.
type CallDue struct {
	Student StudentRef   `json:"student"`
	Last    FollowupView `json:"last"`
}

// SignalsView is the Signals page.
type SignalsView struct {
	AsAt     string        `json:"asAt"`
	Words    string        `json:"words"`
	Students int           `json:"students" doc:"On the roll, in scope"`
	Any      int           `json:"any"`
	Kinds    []SignalCount `json:"kinds"`
	Rows     []SignalRow   `json:"rows"`
	Due      []CallDue     `json:"due"`
	Outcomes []string      `json:"outcomes"`
}

// followupOutcomes are how a follow-up call can end.
var followupOutcomes = []string{"spoke", "left a message", "no answer", "met"}

// Signals finds the students who need a look, as at a moment. A teacher sees
// their own students.
func (o *Office) Signals(ctx context.Context, p Person, asAt string) (SignalsView, error) {
	out := SignalsView{Kinds: []SignalCount{}, Rows: []SignalRow{}, Due: []CallDue{}, Outcomes: followupOutcomes}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.look(func(v view) error {
		return v.signals(ctx, &out, p, m)
	})
	return out, err
}

// signalPolicy is the ten-per-cent policy with the trigger that the signals use.
func signalPolicy() (*policy.Policy, error) {
	p, err := policyfile.Shipped("ten-percent")
	if err != nil {
		return nil, err
	}
	p.Triggers = []policy.Trigger{{ID: "unexcused-days", Count: policy.CountDays, Of: policy.SideUnexcused, Reach: signals.Usual.UnexcusedDays,
		Window: policy.Window{Kind: policy.RollingDays, N: 10}}}
	return p, nil
}

func (v view) signals(ctx context.Context, out *SignalsView, p Person, m Moment) error {
	measure, err := v.signalMeasure()
	if err != nil {
		return err
	}
	last := v.endedBy(m)
	if last >= 0 {
		out.AsAt, out.Words = v.school.Calendar.Day(last).Date.String(), v.school.Calendar.Day(last).Date.Words()
	}
	inputs, figures, err := v.signalInputs(ctx, measure, p, m, last)
	if err != nil {
		return err
	}
	out.Students = len(inputs)
	byKind := map[signals.Kind]int{}
	followed, err := v.lastFollowups(ctx, m)
	if err != nil {
		return err
	}
	for _, f := range signals.Find(inputs, signals.Usual, m.Date) {
		id, _ := strconv.ParseInt(f.Student, 10, 64)
		s := v.school.Students[v.school.student[id]]
		row := SignalRow{Student: v.ref(s, m.Date), New: f.New, Since: f.Since.Words(), Figures: v.figures(measure, figures[id]), Contacts: []ContactRef{}, Last: followed[id]}
		if p.Role != Teacher {
			row.Contacts = contactRefs(v.school.ContactsOf(id))
		}
		for _, one := range f.Signals {
			byKind[one.Kind]++
			row.Signals = append(row.Signals, SignalView{string(one.Kind), one.Figure, one.Why, one.Since.Words()})
		}
		out.Rows = append(out.Rows, row)
	}
	out.Any = len(out.Rows)
	for _, k := range signals.Kinds {
		out.Kinds = append(out.Kinds, SignalCount{string(k.Kind), k.Title, byKind[k.Kind]})
	}
	for id, f := range followed {
		if f.NextDay != "" && f.NextDay <= (m.Date+7).String() && v.school.maySee(p, id) == nil {
			s := v.school.Students[v.school.student[id]]
			out.Due = append(out.Due, CallDue{v.ref(s, m.Date), *f})
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

func (v view) signalInputs(ctx context.Context, measure *absence.Measure, p Person, m Moment, last int) ([]signals.Input, map[int64]absence.Figures, error) {
	q := v.o.store.Read()
	incidents, err := store.Incidents(ctx, q, m.Date-day.Date(signals.Usual.IncidentDays)+1, m.Date)
	if err != nil {
		return nil, nil, err
	}
	did := map[int64][]signals.Incident{}
	for _, i := range incidents {
		if i.Role == "did it" {
			did[i.StudentID] = append(did[i.StudentID], signals.Incident{Date: i.Date, Words: i.Kind + ", " + i.Place})
		}
	}
	failing, err := v.failing(ctx, m)
	if err != nil {
		return nil, nil, err
	}
	var out []signals.Input
	figures := map[int64]absence.Figures{}
	c := v.school.Calendar
	for _, s := range v.school.Students {
		if !s.EnrolledOn(m.Date) || v.school.maySee(p, s.ID) != nil {
			continue
		}
		place := v.school.placeOf[s.ID]
		f := measure.Student(place, absence.Span{From: 0, To: last})
		figures[s.ID] = f
		in := signals.Input{Student: strconv.FormatInt(s.ID, 10), Band: f.Band, Rate: f.Rate(), Absent: f.Absent, Possible: f.Possible, Incidents: did[s.ID], Failing: failing[s.ID]}
		if f.Band >= 0 {
			in.BandName = measure.Policy().Bands[f.Band].Name
		}
		if since, ok := measure.BandSince(place, last, signals.Usual.BandFrom); ok {
			in.BandSince = c.Day(since).Date
		}
		if last >= 0 {
			in.UnexcusedDays = measure.Triggers(place, last)[0].Now
			if since, ok := measure.HeldSince(place, 0, last); ok {
				in.UnexcusedOn = c.Day(since).Date
			}
		}
		out = append(out, in)
	}
	return out, figures, nil
}

// failing returns each student's courses whose latest grade is an F.
func (v view) failing(ctx context.Context, m Moment) (map[int64][]signals.Failing, error) {
	grades, err := store.GradesBy(ctx, v.o.store.Read(), m.Date)
	if err != nil {
		return nil, err
	}
	type key struct{ student, course int64 }
	latest := map[key]store.Grade{}
	var order []key
	for _, g := range grades {
		k := key{g.StudentID, g.CourseID}
		before, seen := latest[k]
		if !seen {
			order = append(order, k)
		}
		if seen && before.Grade == "F" && g.Grade == "F" {
			g.Given = before.Given // failing since then
		}
		latest[k] = g
	}
	out := map[int64][]signals.Failing{}
	for _, k := range order {
		if g := latest[k]; g.Grade == "F" {
			out[k.student] = append(out[k.student], signals.Failing{Course: v.school.courses[k.course].Title, Grade: g.Grade, Since: g.Given})
		}
	}
	return out, nil
}

func (v view) lastFollowups(ctx context.Context, m Moment) (map[int64]*FollowupView, error) {
	all, err := store.Followups(ctx, v.o.store.Read(), m.Known)
	if err != nil {
		return nil, err
	}
	out := map[int64]*FollowupView{}
	for _, f := range all {
		fv := &FollowupView{Date: f.Date.Words(), Outcome: f.Outcome, Note: f.Note, By: f.By}
		if f.NextDate != nil {
			fv.Next, fv.NextDay, fv.Overdue = f.NextDate.Words(), f.NextDate.String(), *f.NextDate < m.Date
		}
		out[f.StudentID] = fv
	}
	return out, nil
}

// Followup is a call about a student's signals.
type Followup struct {
	Student int64  `json:"student"`
	Contact int64  `json:"contact,omitempty"`
	Outcome string `json:"outcome"`
	Note    string `json:"note,omitempty"`
	Next    string `json:"next,omitempty" doc:"Date of the next contact, YYYY-MM-DD; empty for none"`
}

// LogFollowup stores a follow-up; it stands in the student's history and, with a
// next date, on the list of calls due.
func (o *Office) LogFollowup(ctx context.Context, p Person, key string, f Followup) (Receipt, error) {
	var out Receipt
	err := o.write(ctx, p, key, "follow-up", &out, func(w *writing) error {
		return o.look(func(v view) error {
			s, err := v.school.Student(f.Student)
			if err != nil {
				return err
			}
			known := false
			for _, one := range followupOutcomes {
				known = known || one == f.Outcome
			}
			if !known {
				return wrong("%q is no outcome; choose one of %s", f.Outcome, strings.Join(followupOutcomes, ", "))
			}
			row := store.Followup{StudentID: s.ID, Date: w.now.Date(), Minute: w.now.Minute(), Outcome: f.Outcome, Note: f.Note, Origin: store.Origin{Journal: w.journal.ID}}
			if f.Contact != 0 {
				if _, ok := v.school.contacts[f.Contact]; !ok {
					return notFound("there is no contact %d", f.Contact)
				}
				row.ContactID = &f.Contact
			}
			if f.Next != "" {
				next, err := day.ParseDate(f.Next)
				if err != nil {
					return wrong("%v; nothing was stored", err)
				}
				if next < w.now.Date() {
					return wrong("the next date %s has passed; nothing was stored", next.Words())
				}
				row.NextDate = &next
			}
			id, err := store.AddFollowup(ctx, w.tx, row)
			out = Receipt{Seq: w.journal.ID, Words: s.Name() + ": " + f.Outcome, IDs: []int64{id}}
			return err
		})
	})
	return out, err
}

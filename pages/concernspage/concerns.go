// Package concernspage holds the Concerns page: who needs a look, why, and what was done.
package concernspage

import (
	"context"
	"fmt"
	"sort"

	"meldung/core/absence"
	"meldung/core/concerns"
	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	followup "meldung/work/concerns"
	"meldung/work/coursework"
	"meldung/work/incidents"
)

// ConcernCount is a kind of concern with how many students have it.
type ConcernCount struct {
	Kind  string `json:"kind"`
	Title string `json:"title"`
	N     int    `json:"n"`
}

// ConcernView is one reason to look at a student.
type ConcernView struct {
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
	out := ConcernsView{Kinds: []ConcernCount{}, Rows: []ConcernRow{}, Due: []CallDue{}, Outcomes: followup.Outcomes}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		return find(ctx, v, &out, p, m)
	})
	return out, err
}

// find puts those who need a look together.
func find(ctx context.Context, v work.Snapshot, out *ConcernsView, p work.Person, m work.Moment) error {
	out.Scope = v.ScopeText(m.Scope)
	found, figures, err := inputs(ctx, v, p, m)
	if err != nil {
		return err
	}
	asAt := day.NoStart
	for _, s := range v.In(m.Scope) {
		if last := pages.EndedBy(s, m); last >= 0 {
			asAt = max(asAt, s.Calendar.Day(last).Date)
		}
	}
	if asAt != day.NoStart {
		out.AsAt, out.Label = asAt.String(), asAt.Spoken()
	}
	out.Students = len(found)
	byKind := map[concerns.Kind]int{}
	followed, err := lastFollowups(ctx, v, m)
	if err != nil {
		return err
	}
	for _, f := range concerns.Find(found, concerns.Usual, m.Date) {
		id := f.Student
		s := v.School.StudentOf(id)
		row := ConcernRow{Student: pages.Student(v, s, m.Date), New: f.New, Since: f.Since.Spoken(), Figures: figures[id], Contacts: []pages.ContactRef{}, Last: followed[id]}
		if p.May(work.MaySeeContacts) {
			row.Contacts = pages.Contacts(v.School.ContactsOf(id))
		}
		for _, one := range f.Concerns {
			byKind[one.Kind]++
			row.Concerns = append(row.Concerns, ConcernView{string(one.Kind), one.Figure, one.Why, one.Since.Spoken()})
		}
		out.Rows = append(out.Rows, row)
	}
	out.Any = len(out.Rows)
	for _, k := range concerns.Kinds {
		out.Kinds = append(out.Kinds, ConcernCount{string(k.Kind), k.Title, byKind[k.Kind]})
	}
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

// didIt returns what each student did in a span.
func didIt(ctx context.Context, v work.Snapshot, from, to day.Date) (map[ids.Student][]concerns.Incident, error) {
	told, err := incidents.Between(ctx, v, from, to)
	if err != nil {
		return nil, err
	}
	lists, err := incidents.ReadLists(ctx, v.Store())
	out := map[ids.Student][]concerns.Incident{}
	for _, t := range told {
		for _, p := range t.People {
			if p.Role == conduct.Did {
				out[p.Student] = append(out[p.Student], concerns.Incident{Date: t.Date, Text: work.Join(", ", lists.Name(t.Kind), lists.Name(t.Place))})
			}
		}
	}
	return out, err
}

// inputs returns what is looked at for each student whom the person may see, with their
// figures.
func inputs(ctx context.Context, v work.Snapshot, p work.Person, m work.Moment) ([]concerns.Input, map[ids.Student]pages.AbsenceFigures, error) {
	did, err := didIt(ctx, v, m.Date-day.Date(concerns.Usual.IncidentDays)+1, m.Date)
	if err != nil {
		return nil, nil, err
	}
	fails, err := work.Remember(v, fmt.Sprint("failing grades ", m.Date), []string{"student", "student_detail", "result", "result_rule", "result_period", "graded_course"}, func() (map[ids.Student][]concerns.Failing, error) { return failing(ctx, v, m) })
	if err != nil {
		return nil, nil, err
	}
	var out []concerns.Input
	figures := map[ids.Student]pages.AbsenceFigures{}
	measured := 0
	for _, section := range v.In(m.Scope) {
		measure, err := section.ConcernMeasure()
		if err != nil {
			continue // it has no calendar
		}
		measured++
		said, err := ledgerSays(section, measure, m)
		if err != nil {
			return nil, nil, err
		}
		for _, one := range said {
			in := one.Input
			if v.MaySee(p, in.Student) != nil {
				continue
			}
			in.Incidents, in.Failing = did[in.Student], fails[in.Student]
			figures[in.Student] = one.figures
			out = append(out, in)
		}
	}
	if measured == 0 {
		return nil, nil, work.NoCalendar()
	}
	return out, figures, nil
}

// said is what the ledger says of a student.
type said struct {
	concerns.Input
	figures pages.AbsenceFigures
}

// ledgerSays returns what the ledger says of everyone on a section's roll. While the day of the
// moment is not over it is not measured, and nothing of that day changes it.
func ledgerSays(section work.Section, measure *absence.Measure, m work.Moment) ([]said, error) {
	last := pages.EndedBy(section, m)
	follows := work.PastMarks
	if last >= 0 && section.Calendar.Day(last).Date >= section.Now.Date() {
		follows = "mark"
	}
	return work.Remember(section.Snapshot, fmt.Sprint("concerns ", section.ID, m.Date, last), []string{follows, work.PastMarks}, func() ([]said, error) {
		var out []said
		for _, s := range section.Students {
			if s.Section == section.ID && s.EnrolledOn(m.Date) {
				in, f := inputOf(section, measure, s, m)
				out = append(out, said{in, pages.Figures(measure, f)})
			}
		}
		return out, nil
	})
}

// inputOf returns what the ledger says of a student.
func inputOf(v work.Section, measure *absence.Measure, s store.Student, m work.Moment) (concerns.Input, absence.Figures) {
	c, place, last := v.Calendar, v.Place(s.ID), pages.EndedBy(v, m)
	f := measure.Student(place, absence.Span{From: 0, To: last})
	in := concerns.Input{Student: s.ID, Band: f.Band, Rate: f.Rate(), Absent: f.Absent, Possible: f.Possible}
	if f.Band >= 0 {
		in.BandName = measure.Policy().Bands[f.Band].Name
	}
	if since, ok := measure.BandSince(place, last, concerns.Usual.BandFrom); ok {
		in.BandSince = c.Day(since).Date
	}
	if last >= 0 {
		in.UnexcusedDays = measure.Triggers(place, last)[0].Now
		if since, ok := measure.HeldSince(place, 0, last); ok {
			in.UnexcusedOn = c.Day(since).Date
		}
	}
	return in, f
}

// failing returns each student's courses whose latest grade fails.
func failing(ctx context.Context, v work.Snapshot, m work.Moment) (map[ids.Student][]concerns.Failing, error) {
	out := map[ids.Student][]concerns.Failing{}
	shelf, err := coursework.Read(ctx, v, m.Date)
	if err != nil || !shelf.Any {
		return out, err
	}
	for i, s := range v.School.Students {
		for _, f := range shelf.Failing(i, shelf.At) {
			out[s.ID] = append(out[s.ID], concerns.Failing{Course: shelf.Courses[f.Course].Title, Grade: f.Grade.Written, Since: shelf.Given(s.ID, f.Course, f.Since)})
		}
	}
	return out, nil
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

package todaypage

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// Task is something about the books that the office has to put right.
type Task struct {
	Key      string             `json:"key"`
	Kind     string             `json:"kind" enum:"no contact,wrong number"`
	Students []pages.StudentRef `json:"students"`
	Text     string             `json:"text"`
	Since    string             `json:"since" doc:"When it came up; empty for not known"`
	Missing  bool               `json:"missing" doc:"One of these students is unaccounted for now"`
	Call     ids.Call           `json:"call" doc:"The call that reached a wrong number; 0 for others"`
	Contact  ids.Contact        `json:"contact" doc:"Whose number it was; 0 for others"`
}

// ShowTasks lists what the office has to put right as at now: students whom nobody may be rung
// about, and numbers that turned out to be wrong. A student goes off the list when a
// contact is on file, a number when the file has another or someone says it is right.
func ShowTasks(ctx context.Context, o *work.Office, of ...ids.Section) ([]Task, error) {
	out := []Task{}
	m, err := o.Moment("", of...)
	if err != nil {
		return out, err
	}
	wrongNumbers, err := store.WrongNumbers(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out = tasks(v, x, wrongNumbers, m)
		return nil
	})
	return out, err
}

// tasks puts first what concerns somebody who is missing now.
func tasks(v work.Snapshot, x *work.Day, wrongNumbers []store.WrongNumber, m work.Moment) []Task {
	out := []Task{}
	for _, s := range x.Roll {
		contacts := v.School.ContactsOf(s.ID)
		if len(followup.Callable(contacts)) > 0 {
			continue
		}
		words := "no contact on file"
		if len(contacts) > 0 {
			words = "nobody on file may be called"
		}
		out = append(out, Task{Key: fmt.Sprint("no contact ", s.ID), Kind: "no contact", Students: []pages.StudentRef{pages.Student(v, s, m.Date)}, Text: words})
	}
	for _, n := range wrongNumbers {
		c, ok := v.School.Contact(n.ContactID)
		if !ok || c.Ended || c.Phone != n.Phone {
			continue
		}
		task := Task{Key: fmt.Sprint("wrong number ", n.CallID), Kind: "wrong number", Text: c.Name() + " · " + n.Phone, Since: work.When(day.At(n.Date, n.Minute), m.Date) + work.By(n.By), Call: n.CallID, Contact: c.ID, Students: []pages.StudentRef{}}
		for _, id := range v.School.StudentsOfContact(c.ID) {
			if s, err := v.Student(id); err == nil && s.EnrolledOn(m.Date) && m.Scope.Has(s.Section) {
				task.Students = append(task.Students, pages.Student(v, s, m.Date))
			}
		}
		if len(task.Students) > 0 {
			out = append(out, task)
		}
	}
	for i := range out {
		out[i].Missing = slices.ContainsFunc(out[i].Students, func(s pages.StudentRef) bool { return v.Position(x, s.ID, m).State == whereabouts.Unaccounted })
	}
	slices.SortStableFunc(out, func(a, b Task) int {
		if a.Missing == b.Missing {
			return 0
		}
		if a.Missing {
			return -1
		}
		return 1
	})
	return out
}

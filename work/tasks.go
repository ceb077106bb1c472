package work

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/whereabouts"
	"meldung/store"
)

// Task is something about the books that the office has to mend.
type Task struct {
	Key      string       `json:"key"`
	Kind     string       `json:"kind" enum:"no contact,wrong number"`
	Students []StudentRef `json:"students"`
	Words    string       `json:"words"`
	Since    string       `json:"since" doc:"When it came up; empty for not known"`
	Missing  bool         `json:"missing" doc:"One of these students is unaccounted for now"`
	Call     int64        `json:"call" doc:"The call that reached a wrong number; 0 for others"`
}

// Tasks lists what the office has to mend as at now: students whom nobody may be rung
// about, and numbers that turned out to be wrong. A student goes off the list when a
// contact is on file, a number when the file has another or someone says it is mended.
func (o *Office) Tasks(ctx context.Context) ([]Task, error) {
	out := []Task{}
	m, err := o.moment("")
	if err != nil {
		return out, err
	}
	wrongNumbers, err := store.WrongNumbers(ctx, o.store.Read())
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		out = v.tasks(x, wrongNumbers, m)
		return nil
	})
	return out, err
}

func (v view) tasks(x *Day, wrongNumbers []store.WrongNumber, m Moment) []Task {
	out := []Task{}
	for _, s := range x.Roll {
		contacts := v.school.ContactsOf(s.ID)
		if len(followup.Callable(contacts)) > 0 {
			continue
		}
		words := "no contact on file"
		if len(contacts) > 0 {
			words = "nobody on file may be called"
		}
		out = append(out, Task{Key: "no contact " + strconv.FormatInt(s.ID, 10), Kind: "no contact", Students: []StudentRef{v.ref(s, m.Date)}, Words: words})
	}
	for _, n := range wrongNumbers {
		c, ok := v.school.contacts[n.ContactID]
		if !ok || c.Ended || c.Phone != n.Phone {
			continue
		}
		task := Task{Key: fmt.Sprint("wrong number ", n.CallID), Kind: "wrong number", Words: c.Name() + " · " + n.Phone, Since: instantWords(day.At(n.Date, n.Minute), m.Date) + by(n.By), Call: n.CallID, Students: []StudentRef{}}
		for _, id := range v.school.ofContact[c.ID] {
			if s, err := v.school.Student(id); err == nil && s.EnrolledOn(m.Date) {
				task.Students = append(task.Students, v.ref(s, m.Date))
			}
		}
		if len(task.Students) > 0 {
			out = append(out, task)
		}
	}
	for i := range out {
		out[i].Missing = slices.ContainsFunc(out[i].Students, func(s StudentRef) bool { return v.position(x, s.ID, m).State == whereabouts.Unaccounted })
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

// Mend stores that a wrong number was dealt with, and how.
func (o *Office) Mend(ctx context.Context, p Person, key string, call int64, note string) (Receipt, error) {
	var out Receipt
	err := o.write(ctx, p, key, "mended", &out, func(w *writing) error {
		open, err := store.WrongNumbers(ctx, w.tx)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(open, func(n store.WrongNumber) bool { return n.CallID == call }) {
			return conflict("that was mended already, or the number is not wrong")
		}
		out = Receipt{Seq: w.journal.ID, Words: "Mended", IDs: []int64{call}}
		return store.AddMended(ctx, w.tx, store.Mended{CallID: call, Note: strings.TrimSpace(note), Origin: store.Origin{Journal: w.journal.ID}})
	})
	return out, err
}

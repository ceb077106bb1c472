// Package home holds what is said with homes: calls, texts and their answers, notices,
// homes that are held, students to be collected, and numbers that turned out to be wrong.
package home

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Call is a call home as it was made.
type Call struct {
	Students []ids.Student `json:"students" minItems:"1" doc:"All whom the call was about"`
	Contact  ids.Contact   `json:"contact,omitempty" doc:"0 where there was nobody to ring"`
	Outcome  string        `json:"outcome" enum:"spoke,message,no answer,wrong number"`
	Date     string        `json:"date,omitempty" doc:"The day that it was about, YYYY-MM-DD; empty is today"`
	Said     string        `json:"said,omitempty" doc:"The reason they gave, or that they believe the student to be at school"`
	For      []ids.Student `json:"for,omitempty" doc:"Whom the reason is for; empty is all"`
	Until    string        `json:"until,omitempty" doc:"When expected, as typed; needed for on the way"`
	Days     string        `json:"days,omitempty" doc:"Last date of the absence; empty is today"`
	Note     string        `json:"note,omitempty" maxLength:"500"`
	Again    string        `json:"again,omitempty" doc:"When to try again, as typed; empty is after the usual time"`

	Fetch     ids.Fetch   `json:"fetch,omitempty" doc:"The student to be collected whom it is about"`
	Collector ids.Contact `json:"collector,omitempty" doc:"Contact who comes; 0 for nobody or somebody else"`
	Collects  string      `json:"collects,omitempty" maxLength:"100" doc:"Who comes who is no contact; needs a note"`
	work.Since
}

// LogCall stores a call with its outcome. What they said becomes a notice, which
// settles the marks; a call that reached nobody comes back after a while.
func LogCall(ctx context.Context, o *work.Office, p work.Person, key string, c Call) (work.Receipt, error) {
	var out work.Receipt
	about, err := o.PastOrToday(c.Date)
	if err != nil {
		return out, err
	}
	err = o.WriteOn(ctx, about, work.Job{By: p, Key: key, Needs: work.MayCall, Kind: "call", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		row := store.Call{Date: tx.Now.Date(), Minute: tx.Now.Minute(), Outcome: c.Outcome, Said: c.Said, Note: strings.TrimSpace(c.Note), Students: c.Students,
			Origin: tx.Origin()}
		if about != row.Date {
			row.About = &about
		}
		who := "nobody"
		if c.Contact != 0 {
			contact, ok := v.School.Contact(c.Contact)
			if !ok {
				return work.NotFoundf("there is no contact %d", c.Contact)
			}
			row.ContactID, row.Phone, who = &c.Contact, contact.Phone, contact.Name()
		}
		if c.Fetch == 0 && !p.May(work.MayCallAnyone) {
			return work.Refusedf("the desk rings about students to be collected; nothing was saved")
		}
		if err := mayRing(v, c); err != nil {
			return err
		}
		if c.Said != "" && followup.Outcome(c.Outcome) != followup.Spoke {
			return work.Wrongf("nobody was spoken to who could have said %q; nothing was saved", c.Said)
		}
		if err := c.Untold(ctx, tx, v, x, c.Students, nil); err != nil {
			return err
		}
		var err error
		if row.Next, err = again(v, c, tx.Now.Minute()); err != nil {
			return err
		}
		words := work.Join(", ", who+": "+c.Outcome, c.Said)
		if c.Fetch != 0 {
			coming, err := fetchCall(v, x, c, &row, tx.Now)
			if err != nil {
				return err
			}
			words = work.Join(", ", words, coming)
		}
		made, err := addCalls(ctx, tx, c, row)
		if err != nil {
			return err
		}
		out = work.ReceiptOf(tx, v.School.Names(c.Students)+" · "+words, made...)
		if c.Said == "" || c.Said == held.BelievesIn {
			return nil
		}
		return believe(ctx, tx, v, c, about, who)
	})
	return out, err
}

// addCalls stores a call. Where home believes some of its children to be at school, and not
// others, those are a row of their own: only they are worried for.
func addCalls(ctx context.Context, tx *work.Tx, c Call, row store.Call) ([]ids.Call, error) {
	rows := []store.Call{row}
	if c.Said == held.BelievesIn && len(c.For) > 0 {
		rows[0].Students = c.For
		if others := slices.DeleteFunc(slices.Clone(c.Students), func(s ids.Student) bool { return slices.Contains(c.For, s) }); len(others) > 0 {
			row.Students, row.Said = others, ""
			rows = append(rows, row)
		}
	}
	var out []ids.Call
	for _, r := range rows {
		id, err := store.AddCall(ctx, tx.Tx, r)
		if err != nil {
			return nil, err
		}
		out = append(out, id)
	}
	return out, nil
}

// again is when a home that nobody was reached at is tried once more: at the time that
// was typed, or after the school's usual pause.
func again(v work.Snapshot, c Call, now day.Minute) (day.Minute, error) {
	if strings.TrimSpace(c.Again) != "" {
		at, err := day.ParseTyped(c.Again)
		if err != nil {
			return day.Minute{}, work.Wrongf("again when? %v; nothing was saved", err)
		}
		if !at.After(now) {
			return day.Minute{}, work.Wrongf("again at %s has passed, it is %s; nothing was saved", at, now)
		}
		return at, nil
	}
	if o := followup.Outcome(c.Outcome); o == followup.Spoke || o == followup.WrongNumber || c.Fetch != 0 {
		return day.Minute{}, nil
	}
	return now.Add(v.Of(c.Students[0]).Settings.TryAgain), nil
}

// mayRing refuses to log a call to someone who must not be called.
func mayRing(v work.Snapshot, c Call) error {
	for _, id := range c.Students {
		s, err := v.Student(id)
		if err != nil {
			return err
		}
		for _, sc := range v.School.TiesOf(id) {
			if sc.ContactID == c.Contact && sc.DoNotCall {
				return work.Refusedf("%s must not be called about %s", v.School.ContactOf(c.Contact).Name(), s.Name())
			}
		}
	}
	return nil
}

// believe makes notices of the reason that was given on a call about a date.
func believe(ctx context.Context, tx *work.Tx, v work.Snapshot, c Call, about day.Date, who string) error {
	students := c.For
	if len(students) == 0 {
		students = c.Students
	}
	n, err := Notice{Reason: c.Said, To: c.Days, ToTime: c.Until, ToldBy: who, ToldHow: "phone"}.Read(about)
	if err != nil {
		return err
	}
	if about != tx.Now.Date() && n.Reason == held.OnTheWay {
		return work.Wrongf("nobody is on the way to %s any more; nothing was saved", about.Spoken())
	}
	if about == tx.Now.Date() && n.Returns && !n.ToMinute.After(tx.Now.Minute()) {
		return work.Wrongf("expected %s has passed, it is %s; nothing was saved", n.ToMinute, tx.Now.Minute())
	}
	for _, id := range students {
		s, err := v.Student(id)
		if err != nil {
			return err
		}
		if _, err := tx.Notify(ctx, v, s, n); err != nil {
			return err
		}
	}
	return nil
}

package trips

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Said is what a leader says of students.
type Said struct {
	Here    []ids.Student `json:"here" maxItems:"2000" doc:"They are with the others"`
	Missing []ids.Student `json:"missing" maxItems:"2000" doc:"They are not"`
	Ago     int           `json:"ago,omitempty" minimum:"0" maximum:"86400" doc:"Seconds since it was said, where the line was down"`
}

// Mark stores whom the leader has with them and whom not: who is not is missing from this minute on.
func Mark(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity, s Said) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayMarkTrip, Kind: "trip register", In: s, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		a, err := running(ctx, tx, id)
		if err != nil {
			return err
		}
		switch {
		case !Leads(p, *a):
			return work.Refusedf("%s is not led by you; nothing was saved", a.Title)
		case x.Date < a.Date || (x.Date == a.Date && tx.Now.Minute().Before(a.From.Add(-Earliest))):
			return work.Wrongf("%s begins at %s on %s: its register can be taken from an hour before; nothing was saved", a.Title, a.From, a.Date.Spoken())
		}
		at := tx.Now.Minute().Add(-day.Minutes(s.Ago / 60)) // no earlier than the day began
		members := Members(*a)
		mark := func(list []ids.Student, here bool) error {
			for _, student := range list {
				if !slices.Contains(members, student) {
					return work.Wrongf("somebody is meant who is not on %s; nothing was saved", a.Title)
				}
				if err := store.AddActivityMark(ctx, tx.Tx, store.ActivityMark{ActivityID: id, StudentID: student, Here: here, Date: x.Date, Minute: at, Origin: tx.Origin()}); err != nil {
					return err
				}
			}
			return nil
		}
		if err := mark(s.Here, true); err != nil {
			return err
		}
		if err := mark(s.Missing, false); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, work.Join(", ", here(v, s.Here), missing(v, s.Missing)), id)
		return nil
	})
	return out, err
}

// Earliest is how long before an activity begins its register can be taken.
const Earliest day.Minutes = 60

func here(v work.Snapshot, list []ids.Student) string {
	switch {
	case len(list) == 0:
		return ""
	case len(list) > 3:
		return fmt.Sprintf("%d are there", len(list))
	}
	return v.School.Names(list) + " there"
}

func missing(v work.Snapshot, list []ids.Student) string {
	if len(list) == 0 {
		return ""
	}
	return v.School.Names(list) + " not there: missing"
}

// Return is that those on an activity have come back.
type Return struct {
	At   string `json:"at,omitempty" maxLength:"10" doc:"As typed; empty for now"`
	Home bool   `json:"home,omitempty" doc:"They went home from where it was"`
	Note string `json:"note,omitempty" maxLength:"200"`
}

// Back stores that those on an activity have come back, but for those who were not with it.
func Back(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity, r Return) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayEndTrip, Kind: "trip is back", In: r, Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		a, err := running(ctx, tx, id)
		if err != nil {
			return err
		}
		if !Leads(p, *a) && !p.May(work.MaySeeAnyTrip) {
			return work.Refusedf("%s is not led by you; nothing was saved", a.Title)
		}
		at := tx.Now.Minute()
		if r.At != "" {
			if at, err = day.ParseTyped(r.At); err != nil {
				return work.Wrongf("%v; nothing was saved", err)
			}
		}
		switch {
		case at.After(tx.Now.Minute()):
			return work.Wrongf("%s is still to come, it is %s; nothing was saved", at, tx.Now.Minute())
		case x.Date < a.Date || (x.Date == a.Date && !at.After(a.From)):
			return work.Wrongf("%s begins at %s on %s: they can’t be back before; nothing was saved", a.Title, a.From, a.Date.Spoken())
		}
		// Of a trip that should have been back on an earlier day it is said today, and holds for its last date.
		date := min(x.Date, a.Last())
		if date < x.Date {
			at = a.To
		}
		if err := store.AddActivityBack(ctx, tx.Tx, store.ActivityBack{ActivityID: id, Date: date, Minute: at, Home: r.Home, Note: strings.TrimSpace(r.Note), Origin: tx.Origin()}); err != nil {
			return err
		}
		words := a.Title + " is back, " + at.String()
		if r.Home {
			words = a.Title + ": gone home from there, " + at.String()
		}
		out = work.ReceiptOf(tx, words, id)
		return nil
	})
	return out, err
}

// GoesOn takes back that those on an activity have come back.
func GoesOn(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayReopenTrip, Kind: "trip goes on", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		a, err := store.ActivityWith(ctx, tx.Tx, id)
		if err != nil {
			return err
		}
		if a == nil || a.OnSite {
			return work.NotFoundf("there is no such trip; nothing was saved")
		}
		done, err := store.UndoActivityBack(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !done {
			return work.Conflictf("%s is not back; nothing was saved", a.Title)
		}
		out = work.ReceiptOf(tx, a.Title+" is not back yet", id)
		return err
	})
	return out, err
}

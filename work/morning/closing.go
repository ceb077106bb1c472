// Package morning brings the morning to its end: who is on site and not in place is
// searched for, contradictions are settled, and safe arrival is closed.
package morning

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/safearrival"
	"meldung/store"
	"meldung/work"
)

// Closing says of which section safe arrival is closed.
type Closing struct {
	Section ids.Section `json:"section,omitempty" doc:"0 where the school has one only"`
}

// Close stores that the first registration of a section is settled, with name and
// time. It is refused while a register is out or someone is unaccounted for.
func Close(ctx context.Context, o *work.Office, p work.Person, key string, c Closing) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayClose, Kind: "safe arrival closed", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		section, err := v.SectionWith(c.Section)
		if err != nil {
			return err
		}
		safe := SafeArrival(v, x, section.ID, tx.Moment())
		switch safe.State {
		case safearrival.Ready:
		case safearrival.Closed:
			return work.Conflictf("Safe arrival%s was closed at %s by %s.", v.OfSection(section.ID), safe.Last.Minute, safe.Last.By)
		case safearrival.None:
			return work.Refusedf("%s is not a school day", x.Date.Spoken())
		default:
			return work.Refusedf("%d of %d registers are in and %d students are unaccounted for or not yet known: it stays open", safe.In, safe.Registers, safe.Missing)
		}
		id, err := store.AddClosing(ctx, tx.Tx, store.Closing{SectionID: section.ID, Date: x.Date, Slot: safe.Slot.Name, Minute: tx.Now.Minute(), Origin: tx.Origin()})
		out = work.ReceiptOf(tx, fmt.Sprintf("Safe arrival%s closed at %s by %s", v.OfSection(section.ID), tx.Now.Minute(), p.Name), id)
		return err
	})
	return out, err
}

// Reopening says why safe arrival is opened again.
type Reopening struct {
	Section ids.Section `json:"section,omitempty" doc:"0 where the school has one only"`
	Reason  string      `json:"reason" maxLength:"200"`
}

// Reopen opens safe arrival again by hand, with the reason.
func Reopen(ctx context.Context, o *work.Office, p work.Person, key string, r Reopening) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayReopen, Kind: "safe arrival opened again", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		reason := strings.TrimSpace(r.Reason)
		if reason == "" {
			return work.Wrongf("say why it is opened again; it stays closed")
		}
		section, err := v.SectionWith(r.Section)
		if err != nil {
			return err
		}
		safe := SafeArrival(v, x, section.ID, tx.Moment())
		if safe.State != safearrival.Closed {
			return work.Conflictf("safe arrival is %s, not closed", safe.State)
		}
		id, err := store.AddClosing(ctx, tx.Tx, store.Closing{SectionID: section.ID, Date: x.Date, Slot: safe.Slot.Name, Minute: tx.Now.Minute(), Reopened: true, Reason: reason, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, fmt.Sprintf("Safe arrival%s opened again at %s: %s", v.OfSection(section.ID), tx.Now.Minute(), reason), id)
		return err
	})
	return out, err
}

// Standing is how safe arrival stands at a moment.
type Standing struct {
	safearrival.Standing
	State safearrival.State
	Slot  day.Slot
	Last  *store.Closing // the newest closing that was known; nil for none
}

// SafeArrival returns how the first registration of a section's day stands at a moment.
func SafeArrival(v work.Snapshot, x *work.Day, section ids.Section, m work.Moment) Standing {
	out := Standing{State: safearrival.None}
	on := x.Section(section)
	if !on.Open {
		return out
	}
	slot, ok := on.School.Pattern.First()
	if !ok {
		return out
	}
	out.Slot, out.Standing = slot, standing(v, x, section, slot, m)
	for i := range x.Closings {
		if x.Closings[i].SectionID == section && x.Closings[i].Known <= m.Known {
			out.Last = &x.Closings[i]
		}
	}
	var last *safearrival.Closing
	var then safearrival.Standing
	if out.Last != nil {
		last = &safearrival.Closing{Minute: out.Last.Minute, Reopened: out.Last.Reopened}
		then = standing(v, x, section, slot, work.Moment{Date: m.Date, Minute: last.Minute, Known: m.Known})
	}
	out.State = safearrival.StateOf(out.Standing, last, then)
	return out
}

func standing(v work.Snapshot, x *work.Day, section ids.Section, slot day.Slot, m work.Moment) safearrival.Standing {
	out := safearrival.Standing{Begun: !m.Minute.Before(slot.Start)}
	due := map[ids.Student]bool{}
	for _, r := range x.Registers {
		if r.Class.Section != section || r.Slot.Name != slot.Name {
			continue
		}
		out.Registers++
		if r.SentBy(m) {
			out.In++
		}
		for _, s := range r.Roll {
			due[s.ID] = true
		}
	}
	for id := range due {
		if !v.Position(x, id, m).State.Settled() {
			out.Missing++
		}
	}
	return out
}

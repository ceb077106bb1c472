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
	"meldung/core/whereabouts"
	"meldung/store"
	"meldung/work"
)

// Closing says of which section safe arrival is closed.
type Closing struct {
	Section ids.Section `json:"section,omitempty" doc:"0 where the school has one only"`
	Date    string      `json:"date,omitempty" doc:"An earlier day that nobody closed, YYYY-MM-DD; empty is today"`
}

// Close stores that the first registration of a section is settled, with name and
// time. It is refused while a register is out or someone is unaccounted for.
func Close(ctx context.Context, o *work.Office, p work.Person, key string, c Closing) (work.Receipt, error) {
	var out work.Receipt
	about, err := o.PastOrToday(c.Date)
	if err != nil {
		return out, err
	}
	err = o.WriteOn(ctx, about, work.Job{By: p, Key: key, Needs: work.MayClose, Kind: "safe arrival closed", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		section, err := v.SectionWith(c.Section)
		if err != nil {
			return err
		}
		m := tx.MomentOf(about)
		safe := SafeArrival(v, x, section.ID, m)
		switch safe.State {
		case safearrival.Ready:
		case safearrival.Closed:
			return work.Conflictf("Safe arrival%s was closed at %s by %s.", v.OfSection(section.ID), work.When(safe.Last.Known, about), safe.Last.By)
		case safearrival.None:
			return work.Refusedf("%s is not a school day", x.Date.Spoken())
		default:
			return work.Refusedf("%d of %d registers are in and %d students are unaccounted for or not yet known: it stays open", safe.In, safe.Registers, safe.Missing)
		}
		id, err := store.AddClosing(ctx, tx.Tx, store.Closing{SectionID: section.ID, Date: x.Date, Slot: safe.Slot.Name, Minute: m.Minute, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, fmt.Sprintf("Safe arrival%s closed at %s by %s", v.OfSection(section.ID), work.When(tx.Now, about), p.Name), id)
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

// standing is how the slot stands at a moment. It is about arriving: who was there after it had
// begun, and is missing from a later slot, is searched for, and keeps nothing open here. A register
// of an earlier day counts as in where somebody has said why it was never sent.
func standing(v work.Snapshot, x *work.Day, section ids.Section, slot day.Slot, m work.Moment) safearrival.Standing {
	out := safearrival.Standing{Begun: !m.Minute.Before(slot.Start)}
	missing := map[ids.Student]bool{} // of those due
	for _, r := range x.Registers {
		if r.Class.Section != section || r.Slot.Name != slot.Name {
			continue
		}
		out.Registers++
		said := x.SaidNeverSent(r, m.Known)
		if r.SentBy(m) || said {
			out.In++
		}
		for _, s := range r.Roll {
			p := v.Position(x, s.ID, m)
			missing[s.ID] = missing[s.ID] || !arrived(p, slot) && !(p.State == whereabouts.NotYetKnown && (said || accounted(x, s.ID, slot, m)))
		}
	}
	for _, is := range missing {
		if is {
			out.Missing++
		}
	}
	return out
}

// arrived reports whether it is known of a student due in a slot where they were, whatever became
// of them later.
func arrived(p whereabouts.Position, slot day.Slot) bool {
	seen := !p.Last.At.IsZero() && p.Last.By == whereabouts.BySight && !p.Last.At.Before(slot.Start)
	return p.State.Settled() || (seen && p.Worried.IsZero())
}

// accounted reports whether the register of a slot says where a student was, of whom nothing is
// known by now.
func accounted(x *work.Day, student ids.Student, slot day.Slot, m work.Moment) bool {
	said := false
	for _, v := range x.Versions(student, slot.Name) {
		if v.Known <= m.Known {
			said = !x.InForce(v).Code.Unfound()
		}
	}
	return said
}

package messages

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/work"
)

// Tick does what falls due by itself at an instant: it reminds of registers that are out
// too long, once each, and stores what a simulation says has become of messages; without one, nil, these wait for
// their carriers. It is called every few seconds, and does nothing where nothing is due.
func Tick(ctx context.Context, o *work.Office, simulated Simulation, at day.Instant) error {
	person := work.Person{}.ActingAt(at)
	var due []Message
	var reports []messageReport
	err := o.Read(ctx, func(v work.Snapshot) error {
		x, err := v.Day(ctx, at.Date())
		if err != nil {
			return err
		}
		due, reports = remindersDue(v, x, at), reportsDue(x, simulated, at, o.Unix())
		return nil
	})
	if err != nil {
		return err
	}
	if len(due) > 0 {
		// Someone may have sent the register in between: what is due is asked again.
		err = o.WriteToday(ctx, work.Job{By: person, Kind: "reminder"}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
			for _, msg := range remindersDue(v, x, at) {
				if _, err := sendToTakers(ctx, tx, v, x, msg); err != nil {
					return err
				}
			}
			return nil
		})
	}
	if err != nil || len(reports) == 0 {
		return err
	}
	return o.WriteToday(ctx, work.Job{By: person, Kind: "gateway"}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		for _, r := range reportsDue(x, simulated, at, o.Unix()) {
			if err := tx.AddMessageEvent(ctx, r.message, r.At, r.State, r.Text); err != nil {
				return err
			}
		}
		return nil
	})
}

// remindersDue returns a reminder for each register that is out too long and that
// nobody has been reminded of.
func remindersDue(v work.Snapshot, x *work.Day, at day.Instant) []Message {
	reminded := map[registerKey]bool{}
	for _, msg := range x.Messages {
		if msg.Kind == work.Reminder && msg.ClassID != nil {
			reminded[registerKey{*msg.ClassID, msg.Slot}] = true
		}
	}
	var out []Message
	for _, r := range x.Registers {
		settings := x.OfClass(r.Class.ID).Settings
		late := register.Overdue(r.Slot, settings.RegisterWithin, at.Minute())
		k := registerKey{r.Class.ID, r.Slot.Name}
		if settings.RemindAfter <= 0 || r.Sent != nil || reminded[k] || late < int(settings.RemindAfter) || len(v.TakersOf(x, k.class, k.slot)) == 0 {
			continue
		}
		out = append(out, Message{Kind: work.Reminder, Class: k.class, Slot: k.slot})
	}
	return out
}

type registerKey struct {
	class ids.Class
	slot  string
}

type messageReport struct {
	message ids.Message
	Report
}

// reportsDue returns what the simulation says of the day's messages and is not stored yet.
func reportsDue(x *work.Day, simulated Simulation, at day.Instant, second int64) []messageReport {
	if simulated == nil {
		return nil
	}
	var out []messageReport
	for _, msg := range x.Messages {
		if msg.Channel == work.OnPage || msg.Leaves > second || x.StateOfMessage(msg, at) == work.Back {
			continue
		}
		known := len(x.MessageEvents(msg.ID))
		for i, r := range simulated.BecameOf(Outgoing{ID: msg.ID, Channel: msg.Channel, Kind: msg.Kind, Address: msg.Address, Text: msg.Text, Sent: msg.Known}, at) {
			if i >= known {
				out = append(out, messageReport{msg.ID, r})
			}
		}
	}
	return out
}

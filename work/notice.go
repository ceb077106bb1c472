package work

import (
	"context"
	"errors"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
)

// Notice is what a home said: when a student is away and why, who told it and how.
type Notice struct {
	whereabouts.Span
	ToldBy, ToldHow string
	Message         *ids.Message // the message whose answer it is; nil for none
}

// Check returns what is wrong with a notice.
func (n Notice) Check() error {
	switch {
	case n.Reason == "":
		return Wrongf("a notice needs a reason; nothing was saved")
	case n.Reason == held.OnTheWay && !n.Returns:
		return Wrongf("on the way needs the time they are expected; nothing was saved")
	case errors.Is(n.Span.Check(), whereabouts.ErrEndsBefore):
		return Wrongf("the notice ends before it begins; nothing was saved")
	}
	return nil
}

// Summary says a notice as people do: "ill from 10:00 until Thu 12 March".
func (n Notice) Summary(today day.Date) string {
	w := n.Reason
	if n.FromMinute.After(day.Midnight) {
		w += " from " + n.FromMinute.String()
	}
	switch {
	case n.Returns && n.To == today:
		w += " until " + n.ToMinute.String()
	case n.From > today && n.To == n.From:
		w += " on " + n.From.Spoken()
	case n.To > today:
		w += " until " + n.To.Spoken()
	}
	return w
}

// StoredNotice returns a notice that is stored.
func StoredNotice(n store.Notice) Notice {
	return Notice{Span: SpanOf(n), ToldBy: n.ToldBy, ToldHow: n.ToldHow, Message: n.MessageID}
}

// Told says who told a notice and how.
func Told(n store.Notice) string { return Join(" · ", n.ToldBy, n.ToldHow) }

// Notify stores what home said of a student. It explains absences ahead and after the
// fact and never overwrites a presence. It returns the notice's id.
func (tx *Tx) Notify(ctx context.Context, v Snapshot, s store.Student, n Notice) (ids.Notice, error) {
	if err := n.Check(); err != nil {
		return 0, err
	}
	if v.Of(s.ID).Settings.Reason(n.Reason).Unknown || n.Reason == held.BelievesIn {
		return 0, Refusedf("%q does not say where %s is, so it explains nobody; nothing was saved", n.Reason, s.Given)
	}
	if err := tx.endWorry(ctx, v, s, n); err != nil {
		return 0, err
	}
	id, err := store.AddNotice(ctx, tx.Tx, store.Notice{StudentID: s.ID, FromDate: n.From, ToDate: n.To, FromMinute: day.Latest(n.FromMinute, day.Midnight), ToMinute: n.ToMinute,
		Returns: n.Returns, Reason: n.Reason, ToldBy: n.ToldBy, ToldHow: n.ToldHow, MessageID: n.Message, Origin: tx.Origin()})
	if err != nil {
		return 0, err
	}
	for d := n.From; d <= min(n.To, tx.Now.Date()); d++ {
		x, err := v.Day(ctx, d)
		if err != nil {
			return 0, err
		}
		err = tx.apply(ctx, v, x, s.ID, Recoding{register.SourceHome, "home: " + n.Reason}, func(slot day.Slot, k register.InForce) (register.Changed, bool) {
			if !n.Covers(d, slot) {
				return register.Changed{}, false
			}
			return register.Explain(k, x.Of(s.ID).Settings.Reason(n.Reason).Absent)
		})
		if err != nil {
			return 0, err
		}
	}
	return id, nil
}

// endWorry stores that somebody knows where a student is whom the school was worried for, where
// home was spoken to and says so. One on the way is worried for until seen, and so is one of whom
// a message says so: whoever holds a phone may have written that.
func (tx *Tx) endWorry(ctx context.Context, v Snapshot, s store.Student, n Notice) error {
	today := tx.Now.Date()
	if n.Message != nil || n.Reason == held.OnTheWay || today < n.From || today > n.To {
		return nil
	}
	x, err := v.Day(ctx, today)
	if err != nil || v.Position(x, s.ID, tx.Moment()).Worried.IsZero() {
		return err
	}
	_, err = store.AddSettling(ctx, tx.Tx, store.Settling{Date: today, Minute: tx.Now.Minute(), StudentID: &s.ID, How: Join(" · ", "home: "+n.Reason, n.ToldBy), Origin: tx.Origin()})
	return err
}

// NotifyAll stores what home said of several students and says it.
func (tx *Tx) NotifyAll(ctx context.Context, v Snapshot, students []ids.Student, n Notice) (Receipt, error) {
	out := tx.Receipt("")
	for _, id := range students {
		s, err := v.Student(id)
		if err != nil {
			return out, err
		}
		stored, err := tx.Notify(ctx, v, s, n)
		if err != nil {
			return out, err
		}
		out.IDs = append(out.IDs, int64(stored))
	}
	out.Text = v.School.Names(students) + ": " + n.Summary(tx.Now.Date())
	return out, nil
}

package home

import (
	"context"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/store"
	"meldung/work"
)

// Notice is what home said about one or more students.
type Notice struct {
	Students []ids.Student `json:"students" minItems:"1"`
	Reason   string        `json:"reason"`
	From     string        `json:"from,omitempty" doc:"Date, YYYY-MM-DD; empty is today"`
	To       string        `json:"to,omitempty" doc:"Last date; empty is the first"`
	FromTime string        `json:"fromTime,omitempty" doc:"As typed; empty is the whole day"`
	ToTime   string        `json:"toTime,omitempty" doc:"When expected; as typed"`
	ToldBy   string        `json:"toldBy,omitempty" maxLength:"100"`
	ToldHow  string        `json:"toldHow,omitempty" enum:",phone,text,e-mail,letter,in person"`
	Message  ids.Message   `json:"message,omitempty" doc:"The message whose answer it is; who answered told it, by text"`
	work.Since
}

// Read reads the dates and times of a notice that is given on a date.
func (n Notice) Read(today day.Date) (work.Notice, error) {
	out := work.Notice{Span: whereabouts.Span{From: today, FromMinute: day.Midnight, ToMinute: day.EndOfDay, Reason: strings.TrimSpace(n.Reason)},
		ToldBy: strings.TrimSpace(n.ToldBy), ToldHow: n.ToldHow}
	if out.Reason == "" {
		return out, out.Check()
	}
	var err error
	if n.From != "" {
		if out.From, err = day.ParseDate(n.From); err != nil {
			return out, work.Wrongf("%v; nothing was saved", err)
		}
	}
	out.To = out.From
	if n.To != "" {
		if out.To, err = day.ParseDate(n.To); err != nil {
			return out, work.Wrongf("%v; nothing was saved", err)
		}
	}
	if n.FromTime != "" {
		if out.FromMinute, err = day.ParseTyped(n.FromTime); err != nil {
			return out, work.Wrongf("%v; nothing was saved", err)
		}
	}
	if n.ToTime != "" {
		if out.ToMinute, err = day.ParseTyped(n.ToTime); err != nil {
			return out, work.Wrongf("%v; nothing was saved", err)
		}
		out.Returns = true
	}
	return out, out.Check()
}

// Notify stores what home said. It explains absences ahead and after the fact
// and never overwrites a presence.
func Notify(ctx context.Context, o *work.Office, p work.Person, key string, n Notice) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayNotify, Kind: "notice", In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		read, err := n.Read(tx.Now.Date())
		if err != nil {
			return err
		}
		if n.Message != 0 {
			if err := answered(v, x, n, &read, tx.Now); err != nil {
				return err
			}
		}
		if err := n.Untold(ctx, tx, v, x, n.Students, &read); err != nil {
			return err
		}
		out, err = tx.NotifyAll(ctx, v, n.Students, read)
		return err
	})
	return out, err
}

// WithdrawNotice takes a notice back, with the marks that it explained and that nobody
// has changed since.
func WithdrawNotice(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Notice) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayWithdrawNotice, Kind: "notice withdrawn", Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		n, err := store.NoticeByID(ctx, tx.Tx, id)
		if err != nil {
			return err
		}
		if n == nil {
			return work.NotFoundf("there is no such notice")
		}
		out = work.ReceiptOf(tx, "notice withdrawn", id)
		return tx.TakeBackNotice(ctx, v, *n)
	})
	return out, err
}

package registerpage

import (
	"context"
	"fmt"

	"meldung/core/ids"
	"meldung/work"
)

// CardView says whose a card is that is not on the register.
type CardView struct {
	Known bool   `json:"known"`
	Text  string `json:"text"`
}

// WhoseCard says whose card was held to a register's reader that it does not know; to a teacher
// it names their own students only.
func WhoseCard(ctx context.Context, o *work.Office, p work.Person, card, asAt string) (CardView, error) {
	out := CardView{Text: "no student has the card " + card}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		for _, s := range x.Roll {
			if s.Card == "" || s.Card != card {
				continue
			}
			if v.MaySee(p, s.ID) != nil {
				out = CardView{true, "a student who is in none of your classes"}
				return nil
			}
			out = CardView{true, work.Join(", ", s.Name(), v.School.Form(s.ID, x.Date), dueIn(v, x, s.ID, m))}
			return nil
		}
		return nil
	})
	return out, err
}

// dueIn says where a student is due at a moment.
func dueIn(v work.Snapshot, x *work.Day, student ids.Student, m work.Moment) string {
	for _, r := range x.Registers {
		if r.Slot.Start.After(m.Minute) || !r.Slot.End.After(m.Minute) {
			continue
		}
		for _, s := range r.Roll {
			if s.ID == student {
				return fmt.Sprintf("due in %s, %s", r.Class.Title, r.Meeting.Room)
			}
		}
	}
	return ""
}

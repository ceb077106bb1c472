package messages

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held/names"
	"meldung/store"
	"meldung/work"
)

// CarrierReport is what a carrier tells of a message: that it arrived or failed, or what was
// answered.
type CarrierReport struct {
	ID      string `json:"id" minLength:"1" maxLength:"120" doc:"The carrier's own; a report is taken once"`
	Message string `json:"message,omitempty" maxLength:"200" doc:"The key or the reference of the message"`
	From    string `json:"from,omitempty" maxLength:"60" doc:"Who answers, by address, where no message is named"`
	State   string `json:"state" enum:"delivered,failed,replied"`
	Text    string `json:"text,omitempty" maxLength:"1000" doc:"What was answered, or why it failed"`
}

// TakenReports says what became of reports.
type TakenReports struct {
	Taken   int      `json:"taken"`
	Before  int      `json:"before" doc:"Taken before, and not again"`
	Unknown []string `json:"unknown" doc:"Reports of no message that is known"`
}

// TakeReports stores what a carrier tells, each report once.
func TakeReports(ctx context.Context, o *work.Office, reports []CarrierReport) (TakenReports, error) {
	var out TakenReports
	err := o.Write(ctx, work.Job{Kind: "carrier", In: struct {
		Reports []CarrierReport `json:"reports" maxItems:"200"`
	}{reports}}, func(tx *work.Tx, _ work.Snapshot) error {
		out = TakenReports{Unknown: []string{}}
		for _, r := range reports {
			m, err := messageOf(ctx, tx, r)
			if err != nil {
				return err
			}
			if m == nil {
				out.Unknown = append(out.Unknown, r.ID)
				continue
			}
			fresh, err := store.TakeReport(ctx, tx.Tx, r.ID, tx.Entry)
			if err != nil {
				return err
			}
			if !fresh {
				out.Before++
				continue
			}
			out.Taken++
			if err := tx.AddMessageEvent(ctx, m.ID, tx.Now, r.State, strings.TrimSpace(r.Text)); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// messageOf finds the message that a report is of; nil for none. An answer that names none is to
// the last message to that address, of today or the day before.
func messageOf(ctx context.Context, tx *work.Tx, r CarrierReport) (*store.Message, error) {
	if r.Message == "" {
		if r.State != work.Replied {
			return nil, nil
		}
		return store.LastMessageTo(ctx, tx.Tx, work.ByText, tx.Now.Date()-1, func(address string) bool { return sameNumber(address, r.From) })
	}
	if m, err := store.MessageByReference(ctx, tx.Tx, r.Message); m != nil || err != nil {
		return m, err
	}
	written, id, ok := keyParts(r.Message)
	if !ok {
		return nil, nil
	}
	m, err := store.MessageByID(ctx, tx.Tx, id)
	if err != nil || m == nil || day.At(m.Date, m.Minute) != written {
		return nil, err
	}
	return m, nil
}

// sameNumber reports whether two telephone numbers are one, written with or without a country's
// code: their last nine digits are the same.
func sameNumber(a, b string) bool {
	x, y := names.Digits(a), names.Digits(b)
	const end = 9
	return len(x) >= end && len(y) >= end && x[len(x)-end:] == y[len(y)-end:]
}

// keyOf names a message to its carrier, also after a restart and among messages of other schools.
func keyOf(m store.Message) string {
	return fmt.Sprintf("meldung-%d-%d", day.At(m.Date, m.Minute), m.ID)
}

func keyParts(key string) (written day.Instant, id ids.Message, ok bool) {
	parts := strings.Split(key, "-")
	if len(parts) != 3 || parts[0] != "meldung" {
		return 0, 0, false
	}
	at, errAt := strconv.ParseInt(parts[1], 10, 64)
	number, err := strconv.ParseInt(parts[2], 10, 64)
	return day.Instant(at), ids.Message(number), errAt == nil && err == nil
}

package registers

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/work"
)

// MadeUp is work done later for what was missed unexcused on a date: it excuses the absence.
type MadeUp struct {
	Student ids.Student `json:"student"`
	Date    string      `json:"date" minLength:"10" maxLength:"10" doc:"The date that was missed"`
	Slots   []string    `json:"slots,omitempty" maxItems:"60" doc:"Which slots; none for all that were missed unexcused"`
	Done    string      `json:"done" minLength:"10" maxLength:"10" doc:"The date on which it was made up"`
	Words   string      `json:"words,omitempty" maxLength:"120" doc:"What was done"`
	Allowed string      `json:"allowed" minLength:"1" maxLength:"60" doc:"Who allowed it"`
}

// MakeUp excuses what a student missed unexcused on a date, since it was made up. The marks of then stay
// visible; it is taken back as a whole.
func MakeUp(ctx context.Context, o *work.Office, p work.Person, key string, in MadeUp) (work.Receipt, error) {
	var out work.Receipt
	d, err := day.ParseDate(in.Date)
	if err != nil {
		return out, work.Wrongf("%v; nothing was changed", err)
	}
	done, err := day.ParseDate(in.Done)
	switch {
	case err != nil:
		return out, work.Wrongf("%v; nothing was changed", err)
	case done < d:
		return out, work.Wrongf("it can’t be made up on %s, before it was missed on %s; nothing was changed", done.Spoken(), d.Spoken())
	case strings.TrimSpace(in.Allowed) == "":
		return out, work.Wrongf("say who allowed it; nothing was changed")
	}
	err = o.WriteOn(ctx, d, work.Job{By: p, Key: key, Needs: work.MayMakeUp, Kind: "made up", In: in, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		s, err := v.Student(in.Student)
		if err != nil {
			return err
		}
		if done > tx.Now.Date() {
			return work.Wrongf("%s is still to come; nothing was changed", done.Spoken())
		}
		why := work.Join(", ", "made up "+done.Spoken(), strings.TrimSpace(in.Words), "allowed by "+strings.TrimSpace(in.Allowed))
		slots, err := tx.Excuse(ctx, v, x, in.Student, why, func(slot string) bool { return len(in.Slots) == 0 || slices.Contains(in.Slots, slot) })
		if err != nil {
			return err
		}
		if slots == 0 {
			return work.Conflictf("%s has nothing unexcused there on %s; nothing was changed", s.Name(), d.Spoken())
		}
		out = tx.Receipt(fmt.Sprintf("%s, %s: %s excused, made up %s", s.Name(), d.Spoken(), work.Count(slots, "slot"), done.Spoken()))
		return nil
	})
	return out, err
}

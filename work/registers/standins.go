package registers

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

// NewStandIn names who takes a member of staff's registers on a date.
type NewStandIn struct {
	Date   string    `json:"date"`
	Absent ids.Staff `json:"absent"`
	Takes  ids.Staff `json:"takes"`
	Slots  []string  `json:"slots,omitempty" doc:"Empty for the whole day"`
}

// NameStandIn stores who takes a member of staff's registers on a date.
func NameStandIn(ctx context.Context, o *work.Office, p work.Person, key string, n NewStandIn) (work.Receipt, error) {
	var out work.Receipt
	d, err := day.ParseDate(n.Date)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	err = o.WriteOn(ctx, d, work.Job{By: p, Key: key, Needs: work.MayNameStandIn, Kind: "stand-in", In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		if err := mayStandIn(v, x, n); err != nil {
			return err
		}
		slots := n.Slots
		if len(slots) == 0 {
			slots = []string{""}
		}
		out = tx.Receipt("")
		for _, slot := range slots {
			id, err := store.AddStandIn(ctx, tx.Tx, store.StandIn{Date: d, AbsentID: n.Absent, StaffID: n.Takes, Slot: slot, Origin: tx.Origin()})
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, int64(id))
		}
		out.Text = fmt.Sprintf("%s takes the registers of %s on %s", v.School.StaffOf(n.Takes).Short(), v.School.StaffOf(n.Absent).Short(), d.Spoken())
		if busy := busy(v, x, n); len(busy) > 0 {
			out.Text += "; and has " + strings.Join(busy, ", ") + " at the same time"
		}
		return nil
	})
	return out, err
}

func mayStandIn(v work.Snapshot, x *work.Day, n NewStandIn) error {
	if !x.Open() {
		return work.Refusedf("%s is not a school day: there is no register to take", x.Date.Spoken())
	}
	for _, id := range []ids.Staff{n.Absent, n.Takes} {
		if s, ok := v.School.StaffMember(id); !ok || s.Ended {
			return work.NotFoundf("there is no member of staff %d", id)
		}
	}
	if n.Absent == n.Takes {
		return work.Wrongf("%s can't stand in for themselves; nothing was saved", v.School.StaffOf(n.Absent).Short())
	}
	for _, slot := range n.Slots {
		if _, ok := x.SlotNamed(slot); !ok {
			return work.Wrongf("%s has no slot %q; nothing was saved", x.Date.Spoken(), slot)
		}
	}
	for _, s := range x.StandIns {
		if s.EndedBy == nil && s.AbsentID == n.Absent && (s.Slot == "" || len(n.Slots) == 0 || slices.Contains(n.Slots, s.Slot)) {
			return work.Conflictf("%s stands in for %s already, %s; end that first", v.School.StaffOf(s.StaffID).Short(), v.School.StaffOf(n.Absent).Short(), x.SlotLabel(s.Slot))
		}
	}
	return nil
}

// busy names the own registers of who stands in that fall together with those taken over.
func busy(v work.Snapshot, x *work.Day, n NewStandIn) []string {
	over := map[string]bool{}
	for _, r := range x.Registers {
		if v.School.Teaches(n.Absent, r.Class.ID) && (len(n.Slots) == 0 || slices.Contains(n.Slots, r.Slot.Name)) {
			over[r.Slot.Name] = true
		}
	}
	var out []string
	for _, r := range x.Registers {
		if over[r.Slot.Name] && v.School.Teaches(n.Takes, r.Class.ID) && !v.School.Teaches(n.Absent, r.Class.ID) {
			out = append(out, r.Class.Title+" in "+r.Slot.Name)
		}
	}
	return out
}

// EndStandIn takes a stand-in back.
func EndStandIn(ctx context.Context, o *work.Office, p work.Person, key string, id ids.StandIn) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndStandIn, Kind: "stand-in ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		ended, err := store.EndStandIn(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !ended {
			return work.NotFoundf("there is no cover %d to end", id)
		}
		out = work.ReceiptOf(tx, "The cover is ended", id)
		return err
	})
	return out, err
}

package work

import (
	"context"
	"fmt"
	"slices"
	"sort"
	"strings"

	"meldung/core/day"
	"meldung/store"
)

// StandInView is who takes whose registers on a date.
type StandInView struct {
	ID     int64  `json:"id"`
	Absent string `json:"absent"`
	Takes  string `json:"takes"`
	Slots  string `json:"slots" doc:"In words: the whole day, or a slot"`
	By     string `json:"by"`
	At     string `json:"at"`
}

// SlotRef is a slot on a list.
type SlotRef struct {
	Name  string `json:"name"`
	Words string `json:"words"`
}

// StandInsView is a date's stand-ins, with whom and which slots can be named.
type StandInsView struct {
	Date     string        `json:"date"`
	Words    string        `json:"words"`
	StandIns []StandInView `json:"standIns"`
	Staff    []StaffRef    `json:"staff"`
	Slots    []SlotRef     `json:"slots"`
}

// StandIns lists a date's stand-ins.
func (o *Office) StandIns(ctx context.Context, asAt string) (StandInsView, error) {
	out := StandInsView{StandIns: []StandInView{}, Staff: []StaffRef{}, Slots: []SlotRef{}}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		out.Date, out.Words = x.Date.String(), x.Date.Words()
		for _, s := range x.standIns {
			if s.EndedBy == nil {
				out.StandIns = append(out.StandIns, StandInView{s.ID, v.school.staff[s.AbsentID].Short(), v.school.staff[s.StaffID].Short(), slotWords(x, s.Slot), s.By, s.Known.Minute().String()})
			}
		}
		for _, s := range v.school.raw.Staff {
			if !s.Ended {
				out.Staff = append(out.Staff, StaffRef{s.ID, s.Family + ", " + s.Given})
			}
		}
		sort.SliceStable(out.Staff, func(a, b int) bool { return out.Staff[a].Name < out.Staff[b].Name })
		if x.Open {
			for _, s := range x.School.Pattern.Slots {
				out.Slots = append(out.Slots, SlotRef{s.Name, s.Words()})
			}
		}
		return nil
	})
	return out, err
}

func slotWords(x *Day, slot string) string {
	if slot == "" {
		return "the whole day"
	}
	if x.Open {
		if pos, ok := x.School.Pattern.Position(slot); ok {
			return x.School.Pattern.Slots[pos].Words()
		}
	}
	return slot
}

// NewStandIn names who takes a member of staff's registers on a date.
type NewStandIn struct {
	Date   string   `json:"date"`
	Absent int64    `json:"absent"`
	Takes  int64    `json:"takes"`
	Slots  []string `json:"slots" doc:"Empty for the whole day"`
}

// NameStandIn stores who takes a member of staff's registers on a date.
func (o *Office) NameStandIn(ctx context.Context, p Person, key string, n NewStandIn) (Receipt, error) {
	var out Receipt
	d, err := day.ParseDate(n.Date)
	if err != nil {
		return out, wrong("%v", err)
	}
	err = o.write(ctx, p, key, "stand-in", &out, func(w *writing) error {
		return o.look(func(v view) error {
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			if err := v.mayStandIn(x, n); err != nil {
				return err
			}
			slots := n.Slots
			if len(slots) == 0 {
				slots = []string{""}
			}
			out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
			for _, slot := range slots {
				id, err := store.AddStandIn(ctx, w.tx, store.StandIn{Date: d, AbsentID: n.Absent, StaffID: n.Takes, Slot: slot, Origin: store.Origin{Journal: w.journal.ID}})
				if err != nil {
					return err
				}
				out.IDs = append(out.IDs, id)
			}
			out.Words = fmt.Sprintf("%s takes the registers of %s on %s", v.school.staff[n.Takes].Short(), v.school.staff[n.Absent].Short(), d.Words())
			if busy := v.busy(x, n); len(busy) > 0 {
				out.Words += "; and has " + strings.Join(busy, ", ") + " at the same time"
			}
			return nil
		})
	})
	return out, err
}

func (v view) mayStandIn(x *Day, n NewStandIn) error {
	if !x.Open {
		return refused("%s is not a school day: there is no register to take", x.Date.Words())
	}
	for _, id := range []int64{n.Absent, n.Takes} {
		if s, ok := v.school.staff[id]; !ok || s.Ended {
			return notFound("there is no member of staff %d", id)
		}
	}
	if n.Absent == n.Takes {
		return wrong("%s can't stand in for themselves; nothing was stored", v.school.staff[n.Absent].Short())
	}
	for _, slot := range n.Slots {
		if _, ok := x.School.Pattern.Position(slot); !ok {
			return wrong("%s has no slot %q; nothing was stored", x.Date.Words(), slot)
		}
	}
	for _, s := range x.standIns {
		if s.EndedBy == nil && s.AbsentID == n.Absent && (s.Slot == "" || len(n.Slots) == 0 || slices.Contains(n.Slots, s.Slot)) {
			return conflict("%s stands in for %s already, %s; end that first", v.school.staff[s.StaffID].Short(), v.school.staff[n.Absent].Short(), slotWords(x, s.Slot))
		}
	}
	return nil
}

// busy names the own registers of who stands in that fall together with those taken over.
func (v view) busy(x *Day, n NewStandIn) []string {
	over := map[string]bool{}
	for _, r := range x.Registers {
		if v.school.teaches(n.Absent, r.Class.ID) && (len(n.Slots) == 0 || slices.Contains(n.Slots, r.Slot.Name)) {
			over[r.Slot.Name] = true
		}
	}
	var out []string
	for _, r := range x.Registers {
		if over[r.Slot.Name] && v.school.teaches(n.Takes, r.Class.ID) && !v.school.teaches(n.Absent, r.Class.ID) {
			out = append(out, r.Class.Title+" in "+r.Slot.Name)
		}
	}
	return out
}

// EndStandIn takes a stand-in back.
func (o *Office) EndStandIn(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.write(ctx, p, key, "stand-in ended", &out, func(w *writing) error {
		ended, err := store.EndStandIn(ctx, w.tx, id, w.journal.ID)
		if err == nil && !ended {
			return notFound("there is no stand-in %d to end", id)
		}
		out = Receipt{Seq: w.journal.ID, Words: "The stand-in is ended", IDs: []int64{id}}
		return err
	})
	return out, err
}

// standsIn reports whether a member of staff takes a class's register in a slot of
// the day in place of one of its teachers.
func (v view) standsIn(x *Day, staff, class int64, slot string) bool {
	for _, s := range x.standIns {
		if s.EndedBy == nil && s.StaffID == staff && (s.Slot == "" || s.Slot == slot) && v.school.teaches(s.AbsentID, class) {
			return true
		}
	}
	return false
}

// takersOf returns who takes a register: its stand-ins where there are some, else
// the class's teachers.
func (v view) takersOf(x *Day, class int64, slot string) []int64 {
	var out []int64
	for _, s := range x.standIns {
		if v.standsIn(x, s.StaffID, class, slot) && v.school.teaches(s.AbsentID, class) && !slices.Contains(out, s.StaffID) {
			out = append(out, s.StaffID)
		}
	}
	if len(out) == 0 {
		return v.school.teachers[class]
	}
	return out
}

// takersWords names who takes a register, and for whom.
func (v view) takersWords(x *Day, class int64, slot string) string {
	own := v.school.TeachersOf(class)
	takers := v.takersOf(x, class, slot)
	names := make([]string, len(takers))
	for i, id := range takers {
		names[i] = v.school.staff[id].Short()
	}
	words := strings.Join(names, ", ")
	if words == own {
		return own
	}
	return words + " for " + own
}

// mayTake refuses a register to those it is not for.
func (v view) mayTake(x *Day, p Person, class int64, slot string) error {
	switch p.Role {
	case Officer, Pastoral, Administrator:
		return nil
	case Teacher:
		if v.school.teaches(p.Staff, class) || v.standsIn(x, p.Staff, class, slot) {
			return nil
		}
	}
	return refused("%s is not your class: nothing was changed", v.school.Classes[class].Title)
}

package work

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/store"
)

// arriving says how someone is marked who comes to a slot.
func (v view) arriving(slot day.Slot) Arriving {
	return Arriving{In: v.presentCode(false), Late: v.presentCode(true), InUntil: register.OnTimeUntil(slot, v.settings.LateGrace).String()}
}

// presentCode returns the school's first code for being there, on time or late.
func (v view) presentCode(late bool) string {
	for _, c := range v.codes.Codes {
		if c.Counts == policy.Attended && c.OnSite && c.Late == late && !c.MinutesAsExcused {
			return c.Code
		}
	}
	return ""
}

// CardView says whose a card is that is not on the register.
type CardView struct {
	Known bool   `json:"known"`
	Words string `json:"words"`
}

// WhoseCard says whose card was held to a register's reader that it does not know.
func (o *Office) WhoseCard(ctx context.Context, card, asAt string) (CardView, error) {
	out := CardView{Words: "no student has the card " + card}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		for _, s := range x.Roll {
			if s.Card == "" || s.Card != card {
				continue
			}
			out = CardView{true, join(", ", s.Name(), v.school.Form(s.ID, x.Date), v.dueIn(x, s.ID, m))}
			return nil
		}
		return nil
	})
	return out, err
}

// dueIn says where a student is due at a moment.
func (v view) dueIn(x *Day, student int64, m Moment) string {
	for _, r := range x.Registers {
		if r.Slot.Start > m.Minute || r.Slot.End <= m.Minute {
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

// addSeats adds where the class sits in the room.
func (v view) addSeats(ctx context.Context, out *RegisterView, r *registry) error {
	seats, err := store.SeatsOf(ctx, v.o.store.Read(), r.Class.ID, r.Meeting.Room)
	if err != nil {
		return err
	}
	place := map[int64]int{}
	for _, s := range seats {
		place[s.StudentID] = s.Place
	}
	for i := range out.Rows {
		if p, ok := place[out.Rows[i].Student.ID]; ok {
			out.Rows[i].Seat = p
		}
	}
	out.Seating = SeatingSize{register.Columns, register.Rows(len(out.Rows))}
	return nil
}

// Seat puts a student of a class at a place in the room, or in the tray.
type Seat struct {
	Date    string `json:"date"`
	Class   int64  `json:"class"`
	Slot    string `json:"slot"`
	Student int64  `json:"student,omitempty"`
	Place   int    `json:"place,omitempty" doc:"Counted from the front, row by row; -1 for none"`
	Fill    bool   `json:"fill,omitempty" doc:"Sets everyone without a seat on the free ones, in the order of the list"`
}

// SeatStudent changes the seating plan of a class in the room of a slot.
func (o *Office) SeatStudent(ctx context.Context, p Person, key string, seat Seat) (Receipt, error) {
	var out Receipt
	d, err := day.ParseDate(seat.Date)
	if err != nil {
		return out, wrong("%v", err)
	}
	err = o.write(ctx, p, key, "seat", &out, func(w *writing) error {
		w.aside, w.scope = true, registerScope(d, seat.Class, seat.Slot)
		return o.look(func(v view) error {
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			r, err := v.registry(x, p, seat.Class, seat.Slot)
			if err != nil {
				return err
			}
			plan, err := v.seated(w, x, r, seat)
			if err != nil {
				return err
			}
			out = Receipt{Seq: w.journal.ID, Words: "The plan is kept", IDs: []int64{}}
			rows := make([]store.Seat, 0, len(plan))
			for student, place := range plan {
				rows = append(rows, store.Seat{StudentID: student, Place: place})
			}
			return store.SetSeats(w.ctx, w.tx, r.Class.ID, r.Meeting.Room, rows, w.journal.ID)
		})
	})
	return out, err
}

// seated returns the plan of a class in a room after a change.
func (v view) seated(w *writing, x *Day, r *registry, seat Seat) (register.Seating, error) {
	seats, err := store.SeatsOf(w.ctx, w.tx, r.Class.ID, r.Meeting.Room)
	if err != nil {
		return nil, err
	}
	plan := register.Seating{}
	for _, s := range seats {
		plan[s.StudentID] = s.Place
	}
	roll := r.Roll
	ids := make([]int64, len(roll))
	for i, s := range roll {
		ids[i] = s.ID
	}
	places := register.Columns * register.Rows(len(roll))
	switch {
	case seat.Fill:
		return plan.Fill(ids, places), nil
	case seat.Place < register.Tray || seat.Place >= places:
		return nil, wrong("there is no seat %d on this plan; nothing was changed", seat.Place)
	case !slices.Contains(ids, seat.Student):
		return nil, wrong("that student is not on this register; nothing was changed")
	default:
		return plan.Move(seat.Student, seat.Place), nil
	}
}

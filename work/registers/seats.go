package registers

import (
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/store"
	"meldung/work"
)

// Seat puts a student of a class at a place in the room, or in the tray.
type Seat struct {
	Date    string      `json:"date"`
	Class   ids.Class   `json:"class"`
	Slot    string      `json:"slot"`
	Student ids.Student `json:"student,omitempty"`
	Place   int         `json:"place,omitempty" doc:"Counted from the front, row by row; -1 for none"`
	Fill    bool        `json:"fill,omitempty" doc:"Sets everyone without a seat on the free ones, in the order of the list"`
}

// SeatStudent changes the seating plan of a class in the room of a slot.
func SeatStudent(ctx context.Context, o *work.Office, p work.Person, key string, seat Seat) (work.Receipt, error) {
	var out work.Receipt
	d, err := day.ParseDate(seat.Date)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	err = o.WriteOn(ctx, d, work.Job{By: p, Key: key, Needs: work.MaySeat, Kind: "seat", In: seat, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		tx.Scope = work.RegisterScope(d, seat.Class, seat.Slot)
		r, err := v.RegisterFor(x, p, seat.Class, seat.Slot)
		if err != nil {
			return err
		}
		plan, err := seated(ctx, tx, r, seat)
		if err != nil {
			return err
		}
		out = tx.Receipt("The plan is kept")
		rows := make([]store.Seat, 0, len(plan))
		for student, place := range plan {
			rows = append(rows, store.Seat{StudentID: student, Place: place})
		}
		return store.SetSeats(ctx, tx.Tx, r.Class.ID, r.Meeting.Room, rows, tx.Entry)
	})
	return out, err
}

// seated returns the plan of a class in a room after a change.
func seated(ctx context.Context, tx *work.Tx, r *work.Register, seat Seat) (register.Seating, error) {
	seats, err := store.SeatsOf(ctx, tx.Tx, r.Class.ID, r.Meeting.Room)
	if err != nil {
		return nil, err
	}
	plan := register.Seating{}
	for _, s := range seats {
		plan[s.StudentID] = s.Place
	}
	roll := r.Roll
	students := make([]ids.Student, len(roll))
	for i, s := range roll {
		students[i] = s.ID
	}
	places := register.Columns * register.Rows(len(roll))
	switch {
	case seat.Fill:
		return plan.Fill(students, places), nil
	case seat.Place < register.Tray || seat.Place >= places:
		return nil, work.Wrongf("there is no seat %d on this plan; nothing was changed", seat.Place)
	case !slices.Contains(students, seat.Student):
		return nil, work.Wrongf("that student is not on this register; nothing was changed")
	default:
		return plan.Move(seat.Student, seat.Place), nil
	}
}

package work

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
)

// Movement is somebody seen at the door or in the building.
type Movement struct {
	Kind    string
	At      day.Minute
	Returns day.Minute // when expected back; none for not
	Reason  string
	Note    string

	Collector ids.Contact // contact who collects those who leave; 0 for nobody or somebody else
	Collects  string      // who collects who is no contact; needs a note
	Station   ids.Station // the station that stores it; 0 for none
}

// Check returns what is wrong with a movement that is stored at a minute.
func (m Movement) Check(now day.Minute) error {
	switch {
	case !m.Returns.IsZero() && !m.Returns.After(m.At):
		return Wrongf("back by %s is not after leaving at %s; nothing was stored", m.Returns, m.At)
	case m.At.After(now):
		return Wrongf("%s is still to come, it is %s; nothing was stored", m.At, now)
	case m.Kind != Departed && (m.Collector != 0 || m.Collects != ""):
		return Wrongf("only who leaves is collected; nothing was stored")
	}
	return nil
}

// Summary says a movement in a receipt: "left at 10:05, appointment, back by 11:30".
func (m Movement) Summary() string {
	w := map[string]string{Arrived: "in at ", Departed: "left at ", Seen: "seen at "}[m.Kind] + m.At.String()
	if m.Reason != "" && m.Reason != held.NoReason {
		w += ", " + m.Reason
	}
	if !m.Returns.IsZero() {
		w += ", back by " + m.Returns.String()
	}
	return w
}

// Move stores a student's movement on the present day and brings the marks of the day
// into line with it, by the core's rules of arriving and leaving. It returns the
// movement's id.
func (tx *Tx) Move(ctx context.Context, v Snapshot, x *Day, s store.Student, m Movement) (ids.Movement, error) {
	if err := m.Check(tx.Now.Minute()); err != nil {
		return 0, err
	}
	if x.Evidence[s.ID] == nil {
		return 0, Refusedf("%s is not on the roll today; nothing was stored", s.Name())
	}
	row := store.Movement{StudentID: s.ID, Date: x.Date, Minute: m.At, Kind: m.Kind, Reason: m.Reason, Note: m.Note,
		Returns: m.Returns, Origin: tx.Origin()}
	if m.Station != 0 {
		row.StationID = &m.Station
	}
	if m.Kind == Departed {
		here := v.Position(x, s.ID, Moment{Date: x.Date, Minute: m.At, Known: tx.Now})
		if here.State == whereabouts.Left && here.Since == m.At {
			return 0, Conflictf("%s has already left at %s", s.Name(), here.Since)
		}
		var err error
		if row.CollectorID, row.Collector, err = v.Collector(s, m.Collector, m.Collects, m.Note); err != nil {
			return 0, err
		}
	}
	id, err := store.AddMovement(ctx, tx.Tx, row)
	if err != nil {
		return 0, err
	}
	why := Recoding{register.SourceDesk, fmt.Sprintf("%s at the desk %s", m.Kind, m.At)}
	if m.Reason != "" {
		why.Reason += ": " + m.Reason
	}
	on := x.Of(s.ID)
	reason := on.Settings.ReasonOf(m.Reason)
	return id, tx.apply(ctx, v, x, s.ID, why, func(slot day.Slot, k register.InForce) (register.Changed, bool) {
		switch m.Kind {
		case Departed:
			return register.Leave(slot, k, register.LeftEarly(on.Codes, slot, reason), m.At)
		case Arrived:
			return register.Arrive(slot, k, reason, m.At)
		default:
			return register.Changed{}, false
		}
	})
}

// MoveAll stores a movement of several students and says who moved.
func (tx *Tx) MoveAll(ctx context.Context, v Snapshot, x *Day, students []ids.Student, m Movement) (Receipt, error) {
	if err := m.Check(tx.Now.Minute()); err != nil {
		return Receipt{}, err
	}
	out := tx.Receipt("")
	for _, id := range students {
		s, err := v.Student(id)
		if err != nil {
			return out, err
		}
		stored, err := tx.Move(ctx, v, x, s, m)
		if err != nil {
			return out, err
		}
		out.IDs = append(out.IDs, int64(stored))
	}
	who := v.School.Names(students)
	if len(students) > 3 {
		who = Count(len(students), "student")
	}
	out.Text = who + " " + m.Summary()
	return out, nil
}

// Collector reads who collects a student: a contact who may, or anyone else with a note.
func (v Snapshot) Collector(s store.Student, contact ids.Contact, other, note string) (id *ids.Contact, name string, err error) {
	if contact == 0 {
		if name = strings.TrimSpace(other); name != "" && strings.TrimSpace(note) == "" {
			return nil, "", Refusedf("%s is not among those who may collect %s: a note has to say who allowed it; nothing was stored", name, s.Name())
		}
		return nil, name, nil
	}
	for _, c := range v.School.ContactsOf(s.ID) {
		if c.ID != contact {
			continue
		}
		if !c.MayCollect && strings.TrimSpace(note) == "" {
			return nil, "", Refusedf("%s is not among those who may collect %s: a note has to say who allowed it; nothing was stored", c.Name, s.Name())
		}
		return &contact, c.Name, nil
	}
	return nil, "", Wrongf("that is no contact of %s; nothing was stored", s.Name())
}

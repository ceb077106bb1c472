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
		return Wrongf("back by %s is not after leaving at %s; nothing was saved", m.Returns, m.At)
	case m.At.After(now):
		return Wrongf("%s is still to come, it is %s; nothing was saved", m.At, now)
	case m.Kind != Departed && (m.Collector != 0 || m.Collects != ""):
		return Wrongf("only who leaves is collected; nothing was saved")
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
		return 0, Refusedf("%s is not on the roll today; nothing was saved", s.Name())
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
		if err := mayLeave(v, x, s, m, here); err != nil {
			return 0, err
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
	return id, tx.apply(ctx, v, x, s.ID, atTheDesk(m), doorRule(x, s.ID, m))
}

// Again stores a movement of the present day anew, in place of one that is taken back: the marks
// that the one before changed follow the new one.
func (tx *Tx) Again(ctx context.Context, v Snapshot, x *Day, s store.Student, before store.Movement, m Movement) (ids.Movement, error) {
	done, err := store.UndoMovement(ctx, tx.Tx, before.ID, tx.Entry)
	if err != nil {
		return 0, err
	}
	if !done {
		return 0, Conflictf("that was taken back already; nothing was changed")
	}
	row := store.Movement{StudentID: s.ID, Date: x.Date, Minute: m.At, Kind: m.Kind, Reason: m.Reason, Note: m.Note, Returns: m.Returns, StationID: before.StationID, Origin: tx.Origin()}
	if m.Kind == Departed {
		if row.CollectorID, row.Collector, err = v.Collector(s, m.Collector, m.Collects, m.Note); err != nil {
			return 0, err
		}
	}
	id, err := store.AddMovement(ctx, tx.Tx, row)
	if err != nil {
		return 0, err
	}
	rule := doorRule(x, s.ID, m)
	return id, tx.recode(ctx, v, x, s.ID, atTheDesk(m), func(slot day.Slot, last store.Mark) (store.Mark, bool) {
		base := last
		if versions := x.Versions(s.ID, slot.Name); last.Journal == before.Journal && len(versions) > 1 {
			base = versions[len(versions)-2]
		}
		if changed, ok := rule(slot, x.InForce(base)); ok {
			base.Code, base.AwayFrom, base.AwayTo, base.Made = changed.Code, changed.From, changed.To, changed.Made
		}
		return base, x.InForce(base) != x.InForce(last)
	})
}

func atTheDesk(m Movement) Recoding {
	why := Recoding{register.SourceDesk, fmt.Sprintf("%s at the desk %s", m.Kind, m.At)}
	if m.Reason != "" {
		why.Reason += ": " + m.Reason
	}
	return why
}

// doorRule is what a movement makes of a student's marks.
func doorRule(x *Day, student ids.Student, m Movement) func(slot day.Slot, k register.InForce) (register.Changed, bool) {
	on := x.Of(student)
	reason := on.Settings.ReasonOf(m.Reason)
	return func(slot day.Slot, k register.InForce) (register.Changed, bool) {
		switch m.Kind {
		case Departed:
			return register.Leave(slot, k, register.LeftEarly(on.Codes, slot, reason), m.At)
		case Arrived:
			return register.Arrive(slot, k, reason, m.At)
		default:
			return register.Changed{}, false
		}
	}
}

// mayLeave refuses to sign a student out whose day is not over without a reason, and one under the
// school's age without somebody who collects them, or a note that says who allowed it.
func mayLeave(v Snapshot, x *Day, s store.Student, m Movement, here whereabouts.Position) error {
	if !here.OnPremises() || !dueAfter(x, s.ID, m.At) {
		return nil
	}
	if m.Reason == "" || m.Reason == held.NoReason {
		return Wrongf("say why %s leaves, who is %s; nothing was saved", s.Given, Whereabouts(here))
	}
	alone := x.Of(s.ID).Settings.AloneFrom
	born, err := day.ParseDate(s.Born)
	if err != nil || alone == 0 || born.YearsBy(x.Date) >= alone || m.Collector != 0 || m.Collects != "" || strings.TrimSpace(m.Note) != "" {
		return nil
	}
	return Wrongf("%s is under %d: say who collects them, or in the note who allowed it; nothing was saved", s.Given, alone)
}

// dueAfter reports whether a student has something on the timetable that ends after a minute.
func dueAfter(x *Day, student ids.Student, at day.Minute) bool {
	e := x.Evidence[student]
	if e == nil {
		return false
	}
	for _, d := range e.Due {
		if d.Slot.End.After(at) {
			return true
		}
	}
	return false
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
			return nil, "", Refusedf("%s is not among those who may collect %s: a note has to say who allowed it; nothing was saved", name, s.Name())
		}
		return nil, name, nil
	}
	for _, c := range v.School.ContactsOf(s.ID) {
		if c.ID != contact {
			continue
		}
		if !c.MayCollect && strings.TrimSpace(note) == "" {
			return nil, "", Refusedf("%s is not among those who may collect %s: a note has to say who allowed it; nothing was saved", c.Name, s.Name())
		}
		return &contact, c.Name, nil
	}
	return nil, "", Wrongf("that is no contact of %s; nothing was saved", s.Name())
}

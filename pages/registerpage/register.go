// Package registerpage holds what shows registers: the day's list, one to take or to read,
// check-in windows, stand-ins, and a student's own record on a phone.
package registerpage

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// VersionView is one version of a mark.
type VersionView struct {
	Code   string `json:"code"`
	From   string `json:"from"`
	To     string `json:"to"`
	At     string `json:"at"`
	By     string `json:"by"`
	Source string `json:"source"`
	Reason string `json:"reason"`
	Note   string `json:"note"`
}

// RegisterRow is one student of a register.
type RegisterRow struct {
	Student  pages.StudentRef   `json:"student"`
	Warnings []string           `json:"warnings"`
	Recent   []pages.RecentMark `json:"recent" doc:"Oldest first"`
	Known    *KnownMark         `json:"known,omitempty" doc:"What is known from elsewhere"`
	Versions []VersionView      `json:"versions" doc:"What was sent, oldest first"`
	Place    pages.Place        `json:"place"`
	Card     string             `json:"card" doc:"Number of the student's card; empty for none"`
	Seat     int                `json:"seat" doc:"Place on the seating plan, counted from the front, row by row; -1 for none"`
	Draft    *work.DraftView    `json:"draft,omitempty" doc:"How the row stands for all who have the register open"`
}

// KnownMark is a mark that follows from what is known elsewhere.
type KnownMark struct {
	Code   string `json:"code"`
	From   string `json:"from"`
	To     string `json:"to"`
	Text   string `json:"text"`
	Source string `json:"source"`
}

// RegisterView is one register with its rows.
type RegisterView struct {
	Register RegisterRef      `json:"register"`
	Date     string           `json:"date"`
	Label    string           `json:"label"`
	Rows     []RegisterRow    `json:"rows"`
	Codes    []pages.CodeView `json:"codes"`
	Reasons  []held.Reason    `json:"reasons"`
	CanSend  bool             `json:"canSend"`
	WhyNot   string           `json:"whyNot"`
	Arriving Arriving         `json:"arriving"`
	Seating  SeatingSize      `json:"seating"`

	CheckIn               *CheckInView  `json:"checkIn,omitempty" doc:"The newest check-in window of the register"`
	CheckInsBefore        []CheckInView `json:"checkInsBefore" doc:"Earlier windows of the register with those who are not confirmed yet"`
	NoCheckIn             string        `json:"noCheckIn" doc:"Why no window can be opened; empty where one can"`
	CheckInDays           []CheckInDay  `json:"checkInDays" doc:"Next days on which the class meets in the slot"`
	MayCheckInAtADistance bool          `json:"mayCheckInAtADistance"`
	MayPrepareCheckIn     bool          `json:"mayPrepareCheckIn" doc:"Before the slot begins: a check-in for a remote lesson can be prepared, and its link be sent"`
}

// Arriving is how someone is marked who comes to a slot now.
type Arriving struct {
	In      string `json:"in" doc:"Code of those who are on time"`
	Late    string `json:"late" doc:"Code of those who come later"`
	InUntil string `json:"inUntil" doc:"Last minute on time"`
}

// SeatingSize is the size of a seating plan.
type SeatingSize struct {
	Columns int `json:"columns"`
	Rows    int `json:"rows"`
}

// Show returns a register to take or to read. A class that does not meet in
// the slot that day has none, and the answer says why.
func Show(ctx context.Context, o *work.Office, p work.Person, class ids.Class, slot, asAt string) (RegisterView, error) {
	var out RegisterView
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		r, err := v.RegisterFor(x, p, class, slot)
		if err != nil {
			return err
		}
		out = registerView(v, x, r, p, m)
		if err := addSeats(ctx, v, &out, r); err != nil {
			return err
		}
		if err := addDrafts(ctx, v, &out, x, r, m); err != nil {
			return err
		}
		return addCheckIn(ctx, v, &out, x, r, m)
	})
	return out, err
}

// registerView returns a register as it stood at a moment, with what its marks so far say.
func registerView(v work.Snapshot, x *work.Day, r *work.Register, p work.Person, m work.Moment) RegisterView {
	on := x.OfClass(r.Class.ID)
	out := RegisterView{Register: registerRef(v, x, r, p, m), Date: x.Date.String(), Label: x.Date.Spoken(), Rows: []RegisterRow{}, Codes: pages.Codes(on.Codes, r.Slot), Reasons: on.Settings.Offered(),
		Arriving: arriving(on, r.Slot), CheckInDays: []CheckInDay{}, CheckInsBefore: []CheckInView{}}
	for _, s := range r.Roll {
		row := RegisterRow{Student: pages.Student(v, s, x.Date), Warnings: pages.Warnings(v.School.WarningsOf(s.ID)), Recent: recent(v.Of(s.ID), s.ID, x, r.Slot.Name),
			Card: s.Card, Seat: register.Tray, Versions: []VersionView{}, Place: pages.PlaceOf(v.Position(x, s.ID, m))}
		for _, mark := range x.Versions(s.ID, r.Slot.Name) {
			if mark.Known <= m.Known {
				row.Versions = append(row.Versions, versionView(mark))
			}
		}
		if known, ok := register.PrefillFor(*x.Evidence[s.ID], r.Slot, on.Settings.LateGrace, m.Minute, m.Known, register.Codes{Set: on.Codes, Reason: on.Settings.ReasonOf}); ok {
			row.Known = &KnownMark{Code: known.Code, From: known.From.String(), To: known.To.String(), Text: known.Text, Source: known.Source}
		}
		out.Rows = append(out.Rows, row)
	}
	switch {
	case out.Register.State == string(register.Sent):
		out.WhyNot = fmt.Sprintf("sent %s by %s; a change is a correction with a reason", out.Register.SentAt, out.Register.SentBy)
	case out.Register.State == string(register.NotDue):
		out.WhyNot = "not due before " + out.Register.Start
	case !m.Live && m.Date == v.Now.Date():
		out.WhyNot = "this is an earlier minute: go back to live to send"
	default:
		out.CanSend = true
	}
	return out
}

// addDrafts adds what is marked so far to a register that is to be taken.
func addDrafts(ctx context.Context, v work.Snapshot, out *RegisterView, x *work.Day, r *work.Register, m work.Moment) error {
	if !out.CanSend {
		return nil
	}
	drafts, err := store.DraftsOf(ctx, v.Store(), x.Date, r.Class.ID, r.Slot.Name)
	if err != nil {
		return err
	}
	for i := range out.Rows {
		if d, ok := drafts[out.Rows[i].Student.ID]; ok {
			row := work.DraftOf(d)
			out.Rows[i].Draft = &row
		}
	}
	return nil
}

// versionView returns a version of a mark as pages show it.
func versionView(m store.Mark) VersionView {
	return VersionView{Code: m.Code, From: m.AwayFrom.String(), To: m.AwayTo.String(),
		At: work.When(m.Known, m.Date), By: m.By, Source: m.Source, Reason: m.Reason, Note: m.Note}
}

// mostRecent bounds the strip of earlier marks.
const mostRecent = 12

// recent returns the last marks of a student in the slot, from the ledger.
func recent(v work.Section, student ids.Student, x *work.Day, slot string) []pages.RecentMark {
	out := []pages.RecentMark{}
	for d := x.Section(v.ID).Index - 1; d >= 0 && v.Place(student) >= 0 && len(out) < mostRecent; d-- {
		sd := v.Calendar.Day(d)
		pos, ok := sd.Pattern.Position(slot)
		if !ok {
			continue
		}
		if mark, marked := v.Ledger.Mark(v.Place(student), d, pos); marked {
			c := v.Ledger.Codes(d).Codes[mark.Code]
			state := pages.Shape(c)
			if c.Unexplained {
				state = "unexcused" // long past: settled by nobody
			}
			out = append(out, pages.RecentMark{Date: sd.Date.String(), Slot: slot, Code: c.Code, State: state})
		}
	}
	slices.Reverse(out)
	return out
}

// arriving says how someone is marked who comes to a slot.
func arriving(on *work.SectionDay, slot day.Slot) Arriving {
	in, late := register.There(on.Codes, slot)
	return Arriving{In: in, Late: late, InUntil: register.OnTimeUntil(slot, on.Settings.LateGrace).String()}
}

// addSeats adds where the class sits in the room.
func addSeats(ctx context.Context, v work.Snapshot, out *RegisterView, r *work.Register) error {
	seats, err := store.SeatsOf(ctx, v.Store(), r.Class.ID, r.Meeting.Room)
	if err != nil {
		return err
	}
	place := map[ids.Student]int{}
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

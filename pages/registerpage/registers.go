package registerpage

import (
	"context"

	"meldung/core/ids"
	"meldung/core/register"
	"meldung/work"
)

// RegisterRef is a register on a list.
type RegisterRef struct {
	Class    ids.Class `json:"class"`
	Title    string    `json:"title"`
	Section  string    `json:"section" doc:"The section by name; empty where the school has one"`
	Slot     string    `json:"slot"`
	Label    string    `json:"label" doc:"The slot in words"`
	Start    string    `json:"start"`
	End      string    `json:"end"`
	Room     string    `json:"room"`
	Teacher  string    `json:"teacher"`
	State    string    `json:"state" enum:"not due,open,sent,late,missing"`
	DueBy    string    `json:"dueBy"`
	Overdue  int       `json:"overdue"`
	SentAt   string    `json:"sentAt"`
	SentBy   string    `json:"sentBy"`
	TakenBy  string    `json:"takenBy" doc:"Who took it on paper; empty where it was taken here"`
	Students int       `json:"students"`
	Mine     bool      `json:"mine"`
}

// RegistersView is a day's registers.
type RegistersView struct {
	Date      string        `json:"date"`
	Label     string        `json:"label"`
	Scope     string        `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Open      bool          `json:"open"`
	AsAt      string        `json:"asAt"`
	Registers []RegisterRef `json:"registers"`
}

// ShowAll lists a day's registers: a teacher's own, everyone's for the office.
func ShowAll(ctx context.Context, o *work.Office, p work.Person, asAt string, of ...ids.Section) (RegistersView, error) {
	out := RegistersView{Registers: []RegisterRef{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Date, out.Label, out.Open, out.AsAt = m.Date.String(), m.Date.Spoken(), x.Open(), m.Minute.String()
		out.Scope = v.ScopeText(m.Scope)
		for _, r := range x.Registers {
			if ref := registerRef(v, x, r, p, m); (ref.Mine || p.May(work.MaySeeAllRegisters)) && ref.Students > 0 {
				out.Registers = append(out.Registers, ref)
			}
		}
		return nil
	})
	return out, err
}

// registerRef returns a register as lists show it.
func registerRef(v work.Snapshot, x *work.Day, r *work.Register, p work.Person, m work.Moment) RegisterRef {
	within := x.OfClass(r.Class.ID).Settings.RegisterWithin
	out := RegisterRef{Class: r.Class.ID, Title: r.Class.Title, Section: v.Among(r.Class.Section), Slot: r.Slot.Name, Label: r.Slot.Label(), Start: r.Slot.Start.String(), End: r.Slot.End.String(),
		Room: r.Meeting.Room, Teacher: v.TakerNames(x, r.Class.ID, r.Slot.Name), State: string(r.StateAt(m, within)),
		DueBy: register.DueBy(r.Slot, within).String(), Students: len(r.Roll),
		Mine: v.School.Teaches(p.Staff, r.Class.ID) || v.StandsIn(x, p.Staff, r.Class.ID, r.Slot.Name)}
	if r.SentBy(m) {
		out.SentAt, out.SentBy, out.TakenBy = work.When(r.Sent.Known, x.Date), r.Sent.By, r.Sent.TakenBy
	} else {
		out.Overdue = register.Overdue(r.Slot, within, m.Minute)
	}
	return out
}

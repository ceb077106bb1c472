package dated

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
)

// Written is what a write has stored.
type Written struct {
	Entry  ids.Entry
	Tables []string     // those in which rows were added, changed or removed
	Marks  []store.Mark // those among them
}

// Follow brings the day into line with a write that is stored, and reports whether it could: if
// not, or with an error, it has to be read afresh. Nobody may look at the day meanwhile.
func (x *Day) Follow(ctx context.Context, q store.Queryer, w Written) (followed bool, err error) {
	has := func(tables ...string) bool {
		return slices.ContainsFunc(tables, func(t string) bool { return slices.Contains(w.Tables, t) })
	}
	for _, p := range x.parts() {
		if p.tables[0] == "movement" || p.tables[0] == "roll_tick" || !has(p.tables...) {
			continue
		}
		if err := p.read(ctx, q); err != nil {
			return false, fmt.Errorf("reading %s again: %w", x.Date, err)
		}
	}
	if has("notice") {
		x.each(func(e *whereabouts.Evidence) { e.Notices = nil })
		x.addNotices()
	}
	if has(store.ActivityTables...) {
		x.each(func(e *whereabouts.Evidence) { e.Activities = nil })
		x.addActivities()
	}
	if has("call", "call_student") {
		x.each(func(e *whereabouts.Evidence) { e.Worries = nil })
		x.addWorries()
	}
	elsewhere := false
	if has("roll_tick") {
		if elsewhere, err = x.followTicks(ctx, q, w.Entry); err != nil {
			return false, err
		}
	}
	if has("settling") || elsewhere {
		x.each(func(e *whereabouts.Evidence) { e.Settlings = nil })
		x.addSettlings()
	}
	if has("movement") {
		if err := x.followMovements(ctx, q, w.Entry); err != nil {
			return false, err
		}
	}
	if !has("mark", "register") {
		return true, nil
	}
	sent, err := store.RegistersBy(ctx, q, x.Date, w.Entry)
	if err != nil {
		return false, err
	}
	var marks []store.Mark
	read := map[string]bool{}
	for _, m := range w.Marks {
		if m.Date == x.Date && !read[m.Slot] {
			read[m.Slot] = true
			more, err := store.MarksBy(ctx, q, x.Date, m.Slot, w.Entry)
			if err != nil {
				return false, err
			}
			marks = append(marks, more...)
		}
	}
	return x.followMarks(sent, marks), nil
}

func (x *Day) each(f func(e *whereabouts.Evidence)) {
	for _, e := range x.Evidence {
		f(e)
	}
}

// followMovements takes in the movements that an entry of the journal made or took back.
func (x *Day) followMovements(ctx context.Context, q store.Queryer, entry ids.Entry) error {
	changed, err := store.MovementsBy(ctx, q, x.Date, entry)
	if err != nil {
		return err
	}
	of := map[ids.Student]bool{}
	for _, m := range changed {
		of[m.StudentID] = true
		if i := slices.IndexFunc(x.Movements, func(old store.Movement) bool { return old.ID == m.ID }); i >= 0 {
			x.Movements[i] = m
			continue
		}
		i := len(x.Movements)
		for i > 0 && (x.Movements[i-1].Minute.After(m.Minute) || (x.Movements[i-1].Minute == m.Minute && x.Movements[i-1].ID > m.ID)) {
			i--
		}
		x.Movements = slices.Insert(x.Movements, i, m)
	}
	x.moved(of)
	return nil
}

// moved takes in anew where some students were seen.
func (x *Day) moved(of map[ids.Student]bool) {
	for s := range of {
		if e := x.Evidence[s]; e != nil {
			e.Movements = nil
		}
	}
	x.addMovements(func(s ids.Student) bool { return of[s] })
}

// followTicks takes in the ticks that an entry of the journal made or took back, and reports
// whether anybody is known to be elsewhere by one of them.
func (x *Day) followTicks(ctx context.Context, q store.Queryer, entry ids.Entry) (elsewhere bool, err error) {
	changed, err := store.RollTicksBy(ctx, q, x.Date, entry)
	if err != nil {
		return false, err
	}
	of := map[ids.Student]bool{}
	for _, t := range changed {
		of[ids.Student(t.Person)] = true
		elsewhere = elsewhere || !t.Here
		if i, ok := slices.BinarySearchFunc(x.Ticks, t.ID, func(old store.RollTick, id ids.RollTick) int { return cmp.Compare(old.ID, id) }); ok {
			x.Ticks[i] = t
		} else {
			x.Ticks = slices.Insert(x.Ticks, i, t)
		}
	}
	x.moved(of)
	return elsewhere, nil
}

// followMarks takes in registers that have come in and versions of marks, and reports whether
// it could. It can't where they change who stands on a register or when its slot was.
func (x *Day) followMarks(sent []store.Register, marks []store.Mark) bool {
	for i := range sent {
		if !x.followSent(&sent[i]) {
			return false
		}
	}
	for _, m := range marks {
		if !x.stands(m) {
			return false
		}
		x.addMark(m)
	}
	return true
}

func (x *Day) followSent(sent *store.Register) bool {
	r := x.registers[registerKey{sent.ClassID, sent.Slot}]
	if r == nil || r.Sent != nil {
		return false
	}
	if slot, err := held.SlotOf(sent.Slot, sent.Start, sent.End, sent.Kind); err != nil || slot != r.Slot {
		return false
	}
	for _, s := range r.Roll {
		if len(x.Versions(s.ID, sent.Slot)) > 0 {
			return false
		}
	}
	r.Sent = sent
	known := &whereabouts.Known{At: sent.Known, Seq: sent.Journal}
	for _, s := range r.Roll {
		e := x.Evidence[s.ID]
		if e == nil {
			continue
		}
		for i := range e.Due {
			if e.Due[i].Slot.Name == r.Slot.Name && e.Due[i].Class == r.Class.Title {
				e.Due[i].Sent = known
			}
		}
	}
	return true
}

// stands reports whether a mark leaves every register's roll as it is.
func (x *Day) stands(m store.Mark) bool {
	if before := x.Versions(m.StudentID, m.Slot); len(before) > 0 {
		return before[len(before)-1].ClassID == m.ClassID
	}
	r := x.Register(m.ClassID, m.Slot)
	if r == nil || r.Sent == nil {
		return true
	}
	if !slices.ContainsFunc(r.Roll, func(s store.Student) bool { return s.ID == m.StudentID }) {
		return false
	}
	e := x.Evidence[m.StudentID]
	if e == nil {
		return false
	}
	due := 0
	for _, d := range e.Due {
		if d.Slot.Name == m.Slot {
			due++
		}
	}
	return due == 1
}

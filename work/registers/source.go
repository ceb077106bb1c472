package registers

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/store"
	"meldung/work"
)

// sources is what the office itself knows of where the marks of a register come from.
type sources struct {
	x         *work.Day
	r         *work.Register
	now       day.Instant
	checkedIn map[ids.Student]bool
}

func sourcesOf(ctx context.Context, v work.Snapshot, tx *work.Tx, x *work.Day, r *work.Register) (sources, error) {
	out := sources{x: x, r: r, now: tx.Now, checkedIn: map[ids.Student]bool{}}
	windows, err := store.CheckInsOf(ctx, tx.Tx, r.Class.ID, r.Slot.Name, x.Date)
	if err != nil {
		return out, err
	}
	for _, w := range windows {
		if w.Date != x.Date {
			continue
		}
		entries, err := store.EntriesOf(ctx, tx.Tx, w.ID)
		if err != nil {
			return out, err
		}
		for _, e := range entries {
			out.checkedIn[e.StudentID] = true
		}
	}
	return out, nil
}

// of returns where a mark comes from: what its sender says, where the office knows the same,
// else the taker's own eyes. Nobody writes a mark in the desk's or a home's name.
func (k sources) of(s store.Student, m SentMark) string {
	on := k.x.OfClass(k.r.Class.ID)
	code, _ := on.Codes.Find(m.Code)
	switch m.Source {
	case register.SourceCard:
		if s.Card != "" && code.OnSite {
			return m.Source
		}
	case register.SourceRest:
		return m.Source // it claims less than the taker's own eyes
	case register.SourceCheckIn:
		if k.checkedIn[s.ID] && (code.OnSite || code.AtADistance()) {
			return m.Source
		}
	default:
		at := day.EndOfDay
		if k.now.Date() == k.x.Date {
			at = k.now.Minute()
		}
		known, ok := register.PrefillFor(*k.x.Evidence[s.ID], k.r.Slot, on.Settings.LateGrace, at, k.now, register.Codes{Set: on.Codes, Reason: on.Settings.ReasonOf})
		if ok && known.Source == m.Source && known.Code == m.Code {
			return m.Source
		}
	}
	return register.SourceRegister
}

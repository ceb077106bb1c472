package dated

import (
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
)

// Unsettled is what a day that is over has left open.
type Unsettled struct {
	Date      day.Date
	Students  []Open      // by name
	Registers []*Register // never sent, and nobody has said why
	Unclosed  []ids.Section
	Differing map[ids.Section]int // students of whom things are said that can't all be right
}

// Open is a student of whom nobody knows where they were when the day was over, or whom
// somebody is looking for still.
type Open struct {
	Student  store.Student
	Position whereabouts.Position
	Search   *store.Search // that nobody has ended; nil for none
}

// Nothing reports whether the day left nothing open.
func (u Unsettled) Nothing() bool {
	return len(u.Students) == 0 && len(u.Registers) == 0 && len(u.Unclosed) == 0 && len(u.Differing) == 0
}

// In returns what concerns some sections; all of it where the scope is empty.
func (u Unsettled) In(scope Scope) Unsettled {
	if len(scope) == 0 {
		return u
	}
	out := Unsettled{Date: u.Date, Differing: map[ids.Section]int{}}
	out.Students = kept(u.Students, func(o Open) bool { return scope.Has(o.Student.Section) })
	out.Registers = kept(u.Registers, func(r *Register) bool { return scope.Has(r.Class.Section) })
	out.Unclosed = kept(u.Unclosed, scope.Has)
	for s, n := range u.Differing {
		if scope.Has(s) {
			out.Differing[s] = n
		}
	}
	return out
}

// ReadUnsettled reads what a day that is over has left open, by what was known.
func ReadUnsettled(ctx context.Context, q store.Queryer, school *held.School, d day.Date, known day.Instant) (Unsettled, error) {
	if !slices.ContainsFunc(school.Sections(), func(s *held.Section) bool { _, _, open := s.SchoolDay(d); return open }) {
		return Unsettled{Date: d}, nil
	}
	doubtful, err := store.Doubtful(ctx, q, d, unfoundCodes(school, d))
	if err != nil {
		return Unsettled{}, err
	}
	x, err := ReadAbout(ctx, q, school, d, doubtful)
	if err != nil {
		return Unsettled{}, err
	}
	return x.unsettled(doubtful, known), nil
}

// unfoundCodes are those that leave open where a student is, in any section.
func unfoundCodes(school *held.School, d day.Date) []string {
	var out []string
	for _, s := range school.Sections() {
		for _, c := range s.SettingsOn(d).Codes.Codes {
			if c.Unfound() && !slices.Contains(out, c.Code) {
				out = append(out, c.Code)
			}
		}
	}
	return out
}

func (x *Day) unsettled(doubtful []ids.Student, known day.Instant) Unsettled {
	out := Unsettled{Date: x.Date, Differing: map[ids.Section]int{}}
	for _, s := range x.Roll {
		if !slices.Contains(doubtful, s.ID) {
			continue
		}
		o := Open{Student: s, Position: whereabouts.At(*x.Evidence[s.ID], x.Rules(s.ID), LastMinute, known), Search: x.openSearch(s.ID, known)}
		if o.Position.State == whereabouts.Unaccounted || !o.Position.Worried.IsZero() || o.Search != nil {
			out.Students = append(out.Students, o)
		}
		if len(x.Contradictions(s.ID, LastMinute, known)) > 0 {
			out.Differing[s.Section]++
		}
	}
	for _, r := range x.Registers {
		if (r.Sent == nil || r.Sent.Known > known) && !x.SaidNeverSent(r, known) {
			out.Registers = append(out.Registers, r)
		}
	}
	for _, on := range x.sections {
		if !on.Open {
			continue
		}
		if _, meets := on.School.Pattern.First(); meets && !x.closed(on.ID, known) {
			out.Unclosed = append(out.Unclosed, on.ID)
		}
	}
	return out
}

// Contradictions returns what is said of a student that can't all be right, but for what
// somebody has looked at and left.
func (x *Day) Contradictions(student ids.Student, t day.Minute, known day.Instant) []whereabouts.Mismatch {
	return slices.DeleteFunc(whereabouts.Mismatches(*x.Evidence[student], x.Rules(student), t, known), func(c whereabouts.Mismatch) bool {
		return slices.ContainsFunc(x.Settled, func(s store.Settled) bool {
			return s.StudentID == student && s.Kind == string(c.Kind) && s.Slot == c.Slot && s.Known <= known && (s.UndoneAt == nil || *s.UndoneAt > known)
		})
	})
}

// openSearch returns a search for a student that nobody has ended; nil for none.
func (x *Day) openSearch(student ids.Student, known day.Instant) *store.Search {
	for i := range x.Searches {
		if s := &x.Searches[i]; s.StudentID == student && s.Known <= known && (s.EndedAt == nil || *s.EndedAt > known) {
			return s
		}
	}
	return nil
}

// SaidNeverSent reports whether somebody has said why a register was never sent.
func (x *Day) SaidNeverSent(r *Register, known day.Instant) bool {
	return slices.ContainsFunc(x.Settlings, func(s store.Settling) bool {
		return s.ClassID != nil && *s.ClassID == r.Class.ID && s.Slot == r.Slot.Name && s.Stands(known)
	})
}

// closed reports whether somebody has closed safe arrival of a section, and nobody has opened it
// again by hand.
func (x *Day) closed(section ids.Section, known day.Instant) bool {
	closed := false
	for _, c := range x.Closings {
		if c.SectionID == section && c.Known <= known {
			closed = !c.Reopened
		}
	}
	return closed
}

package trips

import (
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Members returns who is on an activity.
func Members(a store.Activity) []ids.Student {
	var out []ids.Student
	for _, m := range a.Members {
		if m.EndedBy == nil {
			out = append(out, m.StudentID)
		}
	}
	return out
}

// AsKnown returns an activity as it was known at an instant; ok is false where it was not.
func AsKnown(a store.Activity, known day.Instant) (out store.Activity, ok bool) {
	if a.Known > known {
		return a, false
	}
	out = a
	if a.EndedAt != nil && *a.EndedAt > known {
		out.EndedBy, out.EndedAt = nil, nil
	}
	out.Times, out.Members, out.Backs = nil, nil, nil
	for _, t := range a.Times {
		if t.Known <= known {
			out.Times, out.From, out.To = append(out.Times, t), t.From, t.To
		}
	}
	for _, m := range a.Members {
		if m.EndedAt != nil && *m.EndedAt > known {
			m.EndedBy, m.EndedAt = nil, nil
		}
		if m.Known <= known {
			out.Members = append(out.Members, m)
		}
	}
	out.Marks = slices.DeleteFunc(slices.Clone(a.Marks), func(m store.ActivityMark) bool { return m.Known > known })
	for _, b := range a.Backs {
		if b.UndoneAt != nil && *b.UndoneAt > known {
			b.UndoneBy, b.UndoneAt = nil, nil
		}
		if b.Known <= known {
			out.Backs = append(out.Backs, b)
		}
	}
	return out, true
}

// Leads reports whether a person may take an activity's register: the office any, others their own.
func Leads(p work.Person, a store.Activity) bool {
	return p.May(work.MayChangeTrip) || (p.Staff != 0 && a.LeaderID != nil && *a.LeaderID == p.Staff)
}

// Said by nobody so far of a member is neither here nor missing.
const (
	Here    = "here"
	Missing = "missing"
)

// StandingOf returns what the leader said last of a member; empty for nothing.
func StandingOf(a store.Activity, s ids.Student) (said string, mark *store.ActivityMark) {
	for i := range a.Marks {
		if a.Marks[i].StudentID == s {
			mark = &a.Marks[i]
		}
	}
	switch {
	case mark == nil:
		return "", nil
	case mark.Here:
		return Here, mark
	}
	return Missing, mark
}

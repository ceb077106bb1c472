// Package rollcall holds that everyone on the premises is to be found: who that is, who met
// whom, and how it ended; and the visitors and staff who sign in.
package rollcall

import (
	"cmp"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/rollcall"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Person is somebody who is to be found.
type Person struct {
	rollcall.Key
	Why   rollcall.Why
	Point string // the meeting point, or the form
	Place string // where they should be; empty for unknown
	Seen  string // the last that shows where they were; empty for nothing
}

// People returns everyone on the premises at a moment, and everyone of whom nothing says that they
// are not: students by what is known of them, staff who signed in or have a lesson now, visitors.
func People(v work.Snapshot, x *work.Day, m work.Moment) []Person {
	var out []Person
	lessons := lessonsAt(x, m)
	for _, s := range x.Roll {
		p := v.Position(x, s.ID, m)
		why, on := rollcall.Expects(p)
		if !on {
			continue
		}
		one := Person{Key: rollcall.Key{Kind: rollcall.Student, ID: int64(s.ID)}, Why: why, Point: pointOf(v, x, s), Place: lessons[s.ID], Seen: work.LastSeen(p.Last)}
		if why == rollcall.Missing {
			one.Seen = work.Join(" · ", work.Whereabouts(p), lastSeen(p))
		}
		out = append(out, one)
	}
	return append(out, adults(v, x, m)...)
}

// lastSeen says the last that shows where somebody was who is missing, where the rest does not.
func lastSeen(p whereabouts.Position) string {
	if p.OnSite || !p.Worried.IsZero() {
		return ""
	}
	return work.LastSeen(p.Last)
}

// lessonsAt returns where each student should be at a moment.
func lessonsAt(x *work.Day, m work.Moment) map[ids.Student]string {
	out := map[ids.Student]string{}
	for _, r := range x.Registers {
		if r.Slot.Start.After(m.Minute) || !r.Slot.End.After(m.Minute) {
			continue
		}
		place := work.Join(", ", r.Slot.Label()+" "+r.Class.Title, r.Meeting.Room)
		for _, s := range r.Roll {
			out[s.ID] = place
		}
	}
	return out
}

// adults returns the staff and visitors who are to be found.
func adults(v work.Snapshot, x *work.Day, m work.Moment) []Person {
	var out []Person
	at := map[ids.Staff]int{}
	left := map[ids.Staff]bool{}
	for _, one := range x.Visits {
		if one.Known > m.Known || one.From.After(m.Minute) {
			continue
		}
		gone := !one.To.IsZero() && !one.To.After(m.Minute)
		p := Person{Why: rollcall.SignedIn, Place: work.Join(" · ", one.Firm, hostWords(one.Host), badgeWords(one.Badge)), Seen: "signed in " + one.From.String()}
		switch {
		case one.StaffID != nil:
			left[*one.StaffID] = gone
			if _, there := at[*one.StaffID]; gone || there {
				continue
			}
			at[*one.StaffID] = len(out)
			p.Key, p.Point = rollcall.Key{Kind: rollcall.Staff, ID: int64(*one.StaffID)}, pointNamed(x, Staff)
		case gone:
			continue
		default:
			p.Key, p.Point = rollcall.Key{Kind: rollcall.Visitor, ID: int64(one.ID)}, pointNamed(x, Visitors)
		}
		out = append(out, p)
	}
	for _, r := range x.Registers {
		if r.Slot.Start.After(m.Minute) || !r.Slot.End.After(m.Minute) {
			continue
		}
		place := work.Join(", ", r.Slot.Label()+" "+r.Class.Title, r.Meeting.Room)
		for _, id := range v.TakersOf(x, r.Class.ID, r.Slot.Name) {
			if i, there := at[id]; there {
				out[i].Place = cmp.Or(out[i].Place, place)
				continue
			}
			if !left[id] {
				at[id] = len(out)
				out = append(out, Person{Key: rollcall.Key{Kind: rollcall.Staff, ID: int64(id)}, Why: rollcall.Expected, Point: pointNamed(x, Staff), Place: place})
			}
		}
	}
	return out
}

func hostWords(host string) string {
	if host == "" {
		return ""
	}
	return "host " + host
}

func badgeWords(badge string) string {
	if badge == "" {
		return ""
	}
	return "badge " + badge
}

// Who is at a meeting point beside the forms.
const (
	Staff    = "Staff"
	Visitors = "Visitors"
)

// pointOf returns where a student goes: the meeting point of the form, else the form itself.
func pointOf(v work.Snapshot, x *work.Day, s store.Student) string {
	form := v.School.Form(s.ID, x.Date)
	if p, ok := pointIn(x.Of(s.ID).Settings.MeetingPoints, form); ok {
		return p
	}
	return cmp.Or(form, "no form")
}

// pointNamed returns where staff or visitors go: the first meeting point of any section that has
// them, else one of their own.
func pointNamed(x *work.Day, who string) string {
	for _, s := range x.Sections {
		if p, ok := pointIn(s.Settings.MeetingPoints, who); ok {
			return p
		}
	}
	return who
}

func pointIn(points []held.MeetingPoint, who string) (string, bool) {
	for _, p := range points {
		if slices.ContainsFunc(p.Who, func(w string) bool { return strings.EqualFold(w, who) }) {
			return p.Name, true
		}
	}
	return "", false
}

// Name returns what somebody on a roll call is called; empty where they are nobody. Visits are
// those that may be among them.
func Name(v work.Snapshot, visits []store.Visit, k rollcall.Key) string {
	switch k.Kind {
	case rollcall.Student:
		if s, ok := v.School.Student(ids.Student(k.ID)); ok {
			return s.Name()
		}
	case rollcall.Staff:
		if s, ok := v.School.StaffMember(ids.Staff(k.ID)); ok {
			return s.Short()
		}
	case rollcall.Visitor:
		for _, one := range visits {
			if int64(one.ID) == k.ID {
				return one.Name
			}
		}
	}
	return ""
}

// Package checkin lets students check themselves in to a register with their phones: the
// windows that a teacher opens, the codes and numbers that phones enter, and the marks
// that follow.
package checkin

import (
	"context"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/store"
	"meldung/work"
)

// IsOpen reports whether students can check in to a window at an instant.
func IsOpen(c *store.CheckIn, now day.Instant) bool {
	return c.EndedBy == nil && now >= day.At(c.Date, c.Opens) && now < day.At(c.Date, c.Closes)
}

// IsToCome reports whether a window of today opens by itself later.
func IsToCome(c *store.CheckIn, now day.Instant) bool {
	return c.EndedBy == nil && now.Date() == c.Date && now < day.At(c.Date, c.Opens)
}

// AtADistance reports whether one may attend at a distance in a window.
func AtADistance(x *work.Day, c *store.CheckIn) bool {
	return c.Distance && x.OfClass(c.ClassID).DistanceCode() != ""
}

// MarkOf is the mark that follows from checking in to a class of a section.
func MarkOf(on *work.SectionDay, slot day.Slot, e store.CheckInEntry) (code, time string) {
	if e.Distance {
		return on.DistanceCode(), ""
	}
	in, late := register.There(on.Codes, slot)
	if !e.Minute.After(register.OnTimeUntil(slot, on.Settings.LateGrace)) {
		return in, ""
	}
	return late, e.Minute.String()
}

// Doubt says why a check-in needs a second look: its phone was used for someone else.
func Doubt(v work.Snapshot, e store.CheckInEntry, entries []store.CheckInEntry, phones map[string]ids.Student) string {
	var names []string
	for _, other := range entries {
		if other.Phone == e.Phone && other.StudentID != e.StudentID {
			names = append(names, v.School.StudentOf(other.StudentID).Name())
		}
	}
	if len(names) > 0 {
		return "the same phone as " + strings.Join(names, ", ")
	}
	if owner := phones[e.Phone]; owner != 0 && owner != e.StudentID {
		return "the phone of " + v.School.StudentOf(owner).Name()
	}
	return ""
}

// OpenWindow returns the open window of today that fits; nil for none.
func OpenWindow(ctx context.Context, v work.Snapshot, fits func(c *store.CheckIn) bool) (*store.CheckIn, *work.Day, error) {
	now := v.Now
	x, err := v.Day(ctx, now.Date())
	if err != nil {
		return nil, nil, err
	}
	windows, err := store.CheckInsOn(ctx, v.Store(), now.Date())
	if err != nil {
		return nil, nil, err
	}
	for i := range windows {
		if IsOpen(&windows[i], now) && fits(&windows[i]) {
			return &windows[i], x, nil
		}
	}
	return nil, x, nil
}

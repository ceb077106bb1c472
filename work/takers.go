package work

import (
	"slices"
	"strings"

	"meldung/core/ids"
)

// StandsIn reports whether a member of staff takes a class's register in a slot of
// the day in place of one of its teachers.
func (v Snapshot) StandsIn(x *Day, staff ids.Staff, class ids.Class, slot string) bool {
	for _, s := range x.StandIns {
		if s.EndedBy == nil && s.StaffID == staff && (s.Slot == "" || s.Slot == slot) && v.School.Teaches(s.AbsentID, class) {
			return true
		}
	}
	return false
}

// TakersOf returns who takes a register: its stand-ins where there are some, else
// the class's teachers.
func (v Snapshot) TakersOf(x *Day, class ids.Class, slot string) []ids.Staff {
	var out []ids.Staff
	for _, s := range x.StandIns {
		if v.StandsIn(x, s.StaffID, class, slot) && v.School.Teaches(s.AbsentID, class) && !slices.Contains(out, s.StaffID) {
			out = append(out, s.StaffID)
		}
	}
	if len(out) == 0 {
		return v.School.Teachers(class)
	}
	return out
}

// TakerNames names who takes a register, and for whom.
func (v Snapshot) TakerNames(x *Day, class ids.Class, slot string) string {
	own := v.School.TeachersOf(class)
	takers := v.TakersOf(x, class, slot)
	names := make([]string, len(takers))
	for i, id := range takers {
		names[i] = v.School.StaffOf(id).Short()
	}
	words := strings.Join(names, ", ")
	if words == own {
		return own
	}
	return words + " for " + own
}

// RegisterFor finds a register that the person may take.
func (v Snapshot) RegisterFor(x *Day, p Person, class ids.Class, slot string) (*Register, error) {
	c, err := v.Class(class)
	if err != nil {
		return nil, err
	}
	if err := v.MayTake(x, p, class, slot); err != nil {
		return nil, err
	}
	if !x.Open() {
		return nil, NotFoundf("%s is not a school day: %s has no register", x.Date.Spoken(), c.Title)
	}
	r := x.Register(class, slot)
	if r == nil {
		return nil, NotFoundf("%s did not meet in %s on %s: there is no register to take", c.Title, slot, x.Date.Spoken())
	}
	return r, nil
}

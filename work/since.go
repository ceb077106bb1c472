package work

import (
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/store"
)

// Since is what whoever sends something had seen by then, so that two who deal with one home at
// once are told of each other.
type Since struct {
	Seen ids.Entry `json:"seen,omitempty" minimum:"0" doc:"The last entry of the journal that whoever sends it had seen when it was begun; what others stored since about the same students is told first, and nothing stored. 0 asks for no such look"`
}

// Untold refuses what is said of students where somebody else has stored a call about them
// today, or what their home said of the same days, since the last entry that was seen. A repeat
// without that entry is taken: who sends it has been told.
func (s Since) Untold(ctx context.Context, tx *Tx, v Snapshot, x *Day, students []ids.Student, n *Notice) error {
	if s.Seen == 0 {
		return nil
	}
	others := func(o store.Origin, student ids.Student) bool {
		return s.IsNews(tx, o) && slices.Contains(students, student)
	}
	notices, err := store.NoticesSince(ctx, tx.Tx, s.Seen, students)
	if err != nil {
		return err
	}
	for _, o := range notices {
		at := n == nil && o.FromDate <= x.Date && x.Date <= o.ToDate || n != nil && o.FromDate <= n.To && n.From <= o.ToDate
		if at && others(o.Origin, o.StudentID) {
			return FirstTold(o.Origin, v.School.Names([]ids.Student{o.StudentID})+": "+StoredNotice(o).Summary(x.Date))
		}
	}
	for _, c := range x.Calls {
		if n == nil && others(c.Origin, c.StudentID) {
			return FirstTold(c.Origin, "called about "+v.School.Names([]ids.Student{c.StudentID})+": "+Join(", ", c.Outcome, c.Said))
		}
	}
	return nil
}

// IsNews reports whether somebody else has stored something since the last entry that was seen.
func (s Since) IsNews(tx *Tx, o store.Origin) bool {
	return s.Seen != 0 && o.Journal > s.Seen && o.By != tx.Person.Name
}

// FirstTold refuses what is asked once, saying what somebody else has stored meanwhile.
func FirstTold(o store.Origin, what string) error {
	return Conflictf("%s saved at %s, while you were at it: %s. Yours was not saved; save it again to keep both", o.By, o.Known.Minute(), what)
}

package work

import (
	"context"

	"meldung/core/whereabouts"
	"meldung/store"
)

// MismatchView is a contradiction with what resolves it.
type MismatchView struct {
	Student StudentRef `json:"student"`
	Place   Place      `json:"place"`
	Kind    string     `json:"kind"`
	Slot    string     `json:"slot"`
	Words   string     `json:"words"`
	Actions []string   `json:"actions"`
	Suggest string     `json:"suggest" doc:"The code that would agree"`
	To      string     `json:"to"`
	At      string     `json:"at" doc:"When the student is recorded as seen"`
	Notice  int64      `json:"notice"`
	Teacher string     `json:"teacher"`
	Class   int64      `json:"class"`
	Asked   string     `json:"asked" doc:"When the teacher was asked; empty for not"`
}

// Settle stores that a contradiction was looked at and stands.
func (o *Office) Settle(ctx context.Context, p Person, key string, student int64, slot, kind, note string) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "settled", &out, func(w *writing, v view, _ *Day) error {
		s, err := v.school.Student(student)
		if err != nil {
			return err
		}
		id, err := store.AddSettled(ctx, w.tx, store.Settled{StudentID: student, Date: w.now.Date(), Slot: slot, Kind: kind, Note: note, Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: s.Name() + ": stands", IDs: []int64{id}}
		return err
	})
	return out, err
}

func (v view) mismatches(x *Day, s store.Student, p whereabouts.Position, m Moment) []MismatchView {
	var out []MismatchView
	for _, c := range whereabouts.Mismatches(*x.Evidence[s.ID], m.Minute, m.Known) {
		if x.stands(s.ID, c, m) || (c.Kind == whereabouts.SignedInAbsent && p.OnSite && p.State == whereabouts.Unaccounted && p.Slot.Name == c.Slot) {
			continue // looked at already, or louder: the search above
		}
		mv := MismatchView{Student: v.ref(s, m.Date), Place: placeOf(p), Kind: string(c.Kind), Slot: c.Slot, Words: c.Words, Suggest: c.Suggest, Notice: c.Notice, At: c.At.String()}
		if c.To >= 0 {
			mv.To = c.To.String()
		}
		for _, a := range c.Actions {
			mv.Actions = append(mv.Actions, string(a))
		}
		versions := x.versions[markKey{s.ID, c.Slot}]
		if len(versions) > 0 {
			last := versions[len(versions)-1]
			mv.Class, mv.Teacher = last.ClassID, v.school.TeachersOf(last.ClassID)
		}
		for _, msg := range x.messages {
			if msg.Kind == "ask" && msg.StudentID != nil && *msg.StudentID == s.ID && msg.Slot == c.Slot && msg.Known <= m.Known {
				mv.Asked = msg.Minute.String()
			}
		}
		out = append(out, mv)
	}
	return out
}

func (x *Day) stands(student int64, c whereabouts.Mismatch, m Moment) bool {
	for _, s := range x.settled {
		if s.StudentID == student && s.Kind == string(c.Kind) && s.Slot == c.Slot && s.Known <= m.Known {
			return true
		}
	}
	return false
}

package todaypage

import (
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// MismatchView is a contradiction with what resolves it.
type MismatchView struct {
	Student pages.StudentRef `json:"student"`
	Place   pages.Place      `json:"place"`
	Kind    string           `json:"kind"`
	Slot    string           `json:"slot"`
	Text    string           `json:"text"`
	Actions []string         `json:"actions"`
	Suggest string           `json:"suggest" doc:"The code that would agree"`
	To      string           `json:"to"`
	At      string           `json:"at" doc:"When the student is recorded as seen"`
	Notice  ids.Notice       `json:"notice"`
	Teacher string           `json:"teacher"`
	Class   ids.Class        `json:"class"`
	Asked   string           `json:"asked" doc:"When the teacher was asked; empty for not"`
}

// mismatches returns the contradictions about a student that nobody has settled.
func mismatches(v work.Snapshot, x *work.Day, s store.Student, p whereabouts.Position, m work.Moment) []MismatchView {
	var out []MismatchView
	for _, c := range x.Contradictions(s.ID, m.Minute, m.Known) {
		if c.Kind == whereabouts.SignedInAbsent && p.OnSite && p.State == whereabouts.Unaccounted && p.Slot.Name == c.Slot {
			continue // looked at already, or louder: the search above
		}
		mv := MismatchView{Student: pages.Student(v, s, m.Date), Place: pages.PlaceOf(p), Kind: string(c.Kind), Slot: c.Slot, Text: c.Text, Suggest: suggested(x, s.ID, c), Notice: c.Notice, At: c.At.String()}
		if !c.To.IsZero() {
			mv.To = c.To.String()
		}
		for _, a := range c.Actions {
			mv.Actions = append(mv.Actions, string(a))
		}
		versions := x.Versions(s.ID, c.Slot)
		if len(versions) > 0 {
			last := versions[len(versions)-1]
			mv.Class, mv.Teacher = last.ClassID, v.School.TeachersOf(last.ClassID)
		}
		for _, msg := range x.Messages {
			if msg.Kind == work.Question && msg.StudentID != nil && *msg.StudentID == s.ID && msg.Slot == c.Slot && msg.Known <= m.Known {
				mv.Asked = msg.Minute.String()
			}
		}
		out = append(out, mv)
	}
	return out
}

// suggested is the code that would agree with the evidence: for who is away, that of what
// somebody said.
func suggested(x *work.Day, student ids.Student, c whereabouts.Mismatch) string {
	on := x.Of(student)
	if c.Reason != "" {
		if code := on.Settings.Reason(c.Reason).Absent; code != "" {
			return code
		}
	}
	slot, _ := on.Slot(c.Slot)
	code, _ := on.Codes.For(c.Suggest, slot)
	return code.Code
}

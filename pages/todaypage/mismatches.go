package todaypage

import (
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// DiffersView is a student of whom things are said that can't all be right, with each of them.
type DiffersView struct {
	Student pages.StudentRef `json:"student"`
	Place   pages.Place      `json:"place"`
	Says    []MismatchView   `json:"says" doc:"In the order of the day; there is one at least"`
}

// MismatchView is one contradiction, and what resolves it.
type MismatchView struct {
	Kind    string     `json:"kind"`
	Slot    string     `json:"slot"`
	Label   string     `json:"label" doc:"The slot in words"`
	Text    string     `json:"text"`
	Actions []string   `json:"actions"`
	Suggest string     `json:"suggest" doc:"The code that would agree"`
	Word    string     `json:"word" doc:"What that code says"`
	To      string     `json:"to"`
	At      string     `json:"at" doc:"When the student is recorded as seen"`
	Notice  ids.Notice `json:"notice"`
	Teacher string     `json:"teacher"`
	Class   ids.Class  `json:"class"`
	Asked   string     `json:"asked" doc:"When the teacher was asked; empty for not"`
}

// differs returns what contradicts itself about a student, but for what has been looked at; ok is
// false where nothing does.
func differs(v work.Snapshot, x *work.Day, s store.Student, p whereabouts.Position, m work.Moment) (DiffersView, bool) {
	out := DiffersView{}
	for _, c := range x.Contradictions(s.ID, m.Minute, m.Known) {
		if c.Kind == whereabouts.SignedInAbsent && p.OnSite && p.State == whereabouts.Unaccounted && p.Slot.Name == c.Slot {
			continue // louder: the search above
		}
		mv := MismatchView{Kind: string(c.Kind), Slot: c.Slot, Text: c.Text, Notice: c.Notice, At: c.At.String()}
		if c.Suggest != 0 {
			mv.Label, mv.Suggest = x.SlotLabel(c.Slot), suggested(x, s.ID, c)
			if code, ok := x.Of(s.ID).Codes.Find(mv.Suggest); ok {
				mv.Word = code.Word
			}
		}
		if !c.To.IsZero() {
			mv.To = c.To.String()
		}
		for _, a := range c.Actions {
			mv.Actions = append(mv.Actions, string(a))
		}
		if versions := x.Versions(s.ID, c.Slot); len(versions) > 0 {
			last := versions[len(versions)-1]
			mv.Class, mv.Teacher = last.ClassID, v.School.TeachersOf(last.ClassID)
			mv.Asked = askedAbout(x, s.ID, c.Slot, m)
		}
		out.Says = append(out.Says, mv)
	}
	if len(out.Says) == 0 {
		return out, false
	}
	out.Student, out.Place = pages.Student(v, s, m.Date), pages.PlaceOf(p)
	return out, true
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

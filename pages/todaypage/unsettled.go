package todaypage

import (
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held/dated"
	"meldung/pages"
	"meldung/work"
)

// UnsettledDay is what an earlier school day has left open.
type UnsettledDay struct {
	Date      string              `json:"date"`
	Label     string              `json:"label" doc:"yesterday, or the date in words"`
	Text      string              `json:"text" doc:"How much it is, in words"`
	Students  []UnsettledStudent  `json:"students" doc:"Those not seen since first"`
	Registers []UnsettledRegister `json:"registers" doc:"Never sent"`
	Unclosed  []string            `json:"unclosed" doc:"Sections whose safe arrival nobody closed; the school's name where it has one section"`
	Differing int                 `json:"differing" doc:"Students of whom things are said that can't all be right"`
}

// UnsettledStudent is a student of whom an earlier day does not say where they were.
type UnsettledStudent struct {
	Student  pages.StudentRef `json:"student"`
	Text     string           `json:"text"`
	Now      string           `json:"now" doc:"Where the student is today; empty where nobody knows"`
	Back     bool             `json:"back" doc:"Seen today: where they are is settled, the reason is not"`
	Searched string           `json:"searched" doc:"Who looks still, since when; empty for nobody"`
}

// UnsettledRegister is a register that was never sent.
type UnsettledRegister struct {
	Class   ids.Class `json:"class"`
	Slot    string    `json:"slot"`
	Label   string    `json:"label"`
	Title   string    `json:"title"`
	Teacher string    `json:"teacher"`
	N       int       `json:"n" doc:"Students on it of whom nothing is known"`
}

// unsettledDays returns what earlier days have left open, the latest first.
func unsettledDays(v work.Snapshot, x *work.Day, days []dated.Unsettled, m work.Moment) []UnsettledDay {
	out := []UnsettledDay{}
	for _, u := range days {
		one := UnsettledDay{Date: u.Date.String(), Label: dayLabel(u.Date, m.Date), Students: []UnsettledStudent{}, Registers: []UnsettledRegister{}, Unclosed: []string{}}
		var back []UnsettledStudent
		for _, o := range u.Students {
			row := UnsettledStudent{Student: pages.Student(v, o.Student, m.Date), Text: openText(o)}
			if o.Search != nil {
				by := o.Search.By
				if o.Search.Searcher != "" {
					by = o.Search.Searcher
				}
				row.Searched = by + " since " + o.Search.Minute.String()
			}
			p := v.Position(x, o.Student.ID, m)
			switch p.State {
			case whereabouts.In, whereabouts.InLate, whereabouts.Elsewhere, whereabouts.Left:
				row.Now, row.Back = "today "+work.Whereabouts(p), true
				back = append(back, row)
				continue
			case whereabouts.Explained, whereabouts.Unaccounted:
				row.Now = "today " + work.Whereabouts(p)
			}
			one.Students = append(one.Students, row)
		}
		one.Students = append(one.Students, back...)
		for _, r := range u.Registers {
			one.Registers = append(one.Registers, UnsettledRegister{Class: r.Class.ID, Slot: r.Slot.Name, Label: r.Slot.Label(), Title: r.Class.Title, Teacher: v.School.TeachersOf(r.Class.ID), N: len(r.Roll)})
		}
		for _, s := range u.Unclosed {
			name := v.Among(s)
			if name == "" {
				name = v.SchoolName()
			}
			one.Unclosed = append(one.Unclosed, name)
		}
		for _, n := range u.Differing {
			one.Differing += n
		}
		one.Text = unsettledText(one)
		out = append(out, one)
	}
	return out
}

// openText says what is open about a student.
func openText(o dated.Open) string {
	w := ""
	switch {
	case o.Position.State == whereabouts.Unaccounted:
		w = notIn(o.Position, work.Moment{Minute: dated.LastMinute}) + ", no reason"
	case !o.Position.Worried.IsZero():
		w = "home believed at school, and the desk signed out"
	}
	if o.Search != nil {
		w = work.Join(" · ", w, "search not ended")
	}
	return w
}

// unsettledText counts what a day has left open; what endangers nobody is told below.
func unsettledText(u UnsettledDay) string {
	parts := []string{}
	if n := len(u.Students); n > 0 {
		parts = append(parts, fmt.Sprintf("%d unsettled", n))
	}
	if n := len(u.Registers); n > 0 {
		parts = append(parts, work.Count(n, "register")+" never sent")
	}
	if len(u.Unclosed) > 0 {
		parts = append(parts, "safe arrival was not closed")
	}
	return work.Join(" · ", parts...)
}

// dayLabel names an earlier day.
func dayLabel(d, today day.Date) string {
	if d == today-1 {
		return "yesterday"
	}
	return d.Spoken()
}

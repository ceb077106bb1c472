package followuppage

import (
	"context"
	"fmt"
	"strconv"

	"meldung/core/absence"
	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
	"meldung/work/caseload"
)

// Beside is a figure before support and after it.
type Beside struct {
	Name   string  `json:"name"`
	Before string  `json:"before"`
	After  string  `json:"after"`
	Was    float64 `json:"was" doc:"To be drawn"`
	Is     float64 `json:"is"`
}

// Came is what became of the students of a kind of session, or of cases that ended one way.
type Came struct {
	What     string   `json:"what" enum:"cases,sessions"`
	Name     string   `json:"name"`
	Students int      `json:"students"`
	Episodes int      `json:"episodes"`
	Length   string   `json:"length" doc:"The middle one, in words"`
	Early    int      `json:"early" doc:"Too few school days on a side to be compared"`
	Compared int      `json:"compared"`
	Less     int      `json:"less" doc:"In how many less was missed after than before"`
	Same     int      `json:"same"`
	More     int      `json:"more"`
	Figures  []Beside `json:"figures" doc:"Empty where nothing can be compared"`
}

// CameView is what came of it.
type CameView struct {
	Scope  string         `json:"scope"`
	Group  string         `json:"group"`
	Groups []pages.Choice `json:"groups"`
	Label  string         `json:"label"`
	Around int            `json:"around" doc:"School days on either side, at most"`
	Least  int            `json:"least"`
	Rows   []Came         `json:"rows"`
}

// WhatCame sets figures before support beside those after it: of closed cases by how they ended, and of kinds of
// session, of this school year.
func WhatCame(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (CameView, error) {
	out := CameView{Groups: []pages.Choice{}, Rows: []Came{}, Around: support.Around, Least: support.Least}
	err := reading(ctx, o, p, asAt, of, func(g *gathered) error {
		on, words, err := g.asked(ask)
		if err != nil {
			return err
		}
		out.Scope, out.Group, out.Groups = g.v.ScopeText(g.m.Scope), words, pages.GroupChoices(g.v, g.m.Scope)
		c := coming{gathered: g, on: on}
		for _, w := range g.words.List(caseload.Ends) {
			if err := c.add(&out, "cases", w.Name, c.ended(w.ID)); err != nil {
				return err
			}
		}
		for _, w := range g.words.List(caseload.Kinds) {
			if err := c.add(&out, "sessions", w.Name, c.given(w.ID)); err != nil {
				return err
			}
		}
		asAt := day.NoStart
		for _, l := range g.looks {
			asAt = max(asAt, l.AsAt)
		}
		if asAt != day.NoStart {
			out.Label = asAt.Spoken()
		}
		return nil
	})
	return out, err
}

type coming struct {
	*gathered
	on map[ids.Student]bool
}

// ended are the cases of an end that were closed this year.
func (c coming) ended(end ids.SupportWord) (out []support.Episode) {
	for _, x := range c.cases {
		if last := x.Last(); !x.Open() && last.End != nil && *last.End == end && c.on[x.StudentID] && c.thisYear(x.StudentID, last.Known.Date()) {
			out = append(out, support.Episode{Student: int(x.StudentID), Begin: x.Known.Date(), End: last.Known.Date()})
		}
	}
	return out
}

// given are the students of a kind of session, from the first to the last that was held this year.
func (c coming) given(kind ids.SupportWord) (out []support.Episode) {
	place := map[ids.Student]int{}
	for _, s := range c.sessions {
		if s.Kind != kind || s.Date > c.m.Date || !c.on[s.StudentID] || !c.thisYear(s.StudentID, s.Date) {
			continue
		}
		i, any := place[s.StudentID]
		if !any {
			i = len(out)
			place[s.StudentID] = i
			out = append(out, support.Episode{Student: int(s.StudentID), Begin: s.Date, End: s.Date})
		}
		out[i].Begin, out[i].End = min(out[i].Begin, s.Date), max(out[i].End, s.Date)
	}
	return out
}

// thisYear reports whether a date is of the school year that is looked at, in the student's section.
func (c coming) thisYear(id ids.Student, d day.Date) bool {
	look := c.look(id)
	return look != nil && d >= look.Date(0)
}

// add puts the episodes of all sections together.
func (c coming) add(out *CameView, what, name string, episodes []support.Episode) error {
	if len(episodes) == 0 {
		return nil
	}
	var all support.Effect
	for _, look := range c.looks {
		measure, err := look.Section.EverySlot()
		if err != nil {
			return err
		}
		var here []support.Episode
		for _, e := range episodes {
			if look.Section.Place(ids.Student(e.Student)) >= 0 {
				here = append(here, e)
			}
		}
		all = all.Plus(support.Of(look.Section.Calendar, here, look.Upto, func(student int, s support.Span) support.Sums {
			i := look.Section.Place(ids.Student(student))
			f := measure.Student(i, absence.Span(s))
			sums := support.Sums{Possible: f.Possible, Absent: f.Absent, Unexcused: f.Unexcused, Lates: f.Lates}
			for _, x := range look.Students[i].Incidents {
				if x.Role == string(conduct.Did) && x.Date >= look.Date(s.From) && x.Date <= look.Date(s.To) {
					sums.Incidents++
				}
			}
			return sums
		}))
	}
	if all.Episodes == 0 {
		return nil
	}
	row := Came{What: what, Name: name, Students: all.Students, Episodes: all.Episodes, Length: days(all.Length()), Early: all.Early, Compared: all.Episodes - all.Early, Less: all.Less, Same: all.Same, More: all.More, Figures: []Beside{}}
	if row.Compared > 0 {
		row.Figures = beside(all)
	}
	out.Rows = append(out.Rows, row)
	return nil
}

func days(n int) string { return work.Count(n, "day") }

// beside are the figures of those who can be compared: the share missed, and the others in a hundred school days.
func beside(e support.Effect) []Beside {
	figure := func(name string, was, is int, sign string) Beside {
		b, a := hundredths(was, e.Before.Possible), hundredths(is, e.After.Possible)
		x, _ := strconv.ParseFloat(b, 64)
		y, _ := strconv.ParseFloat(a, 64)
		return Beside{name, b + sign, a + sign, x, y}
	}
	return []Beside{
		figure("school missed", e.Before.Absent, e.After.Absent, " %"),
		figure("unexcused, in 100 days", e.Before.Unexcused, e.After.Unexcused, ""),
		figure("lates, in 100 days", e.Before.Lates, e.After.Lates, ""),
		figure("incidents, in 100 days", e.Before.Incidents, e.After.Incidents, ""),
	}
}

// hundredths is how many there were in a hundred, to one decimal.
func hundredths(n, of int) string {
	if of == 0 {
		return "0.0"
	}
	return absence.Figures{Absent: n, Possible: of}.Rate()
}

// KeepWhatCame writes what came of it as a file.
func KeepWhatCame(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := WhatCame(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "What came of support", About: []string{"As at " + v.Label, work.Join(", ", v.Scope, v.Group), fmt.Sprintf("Up to %d school days before and after. It shows no cause: who is helped when things are worst often comes back in part without help.", v.Around), "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "What", Width: 12}, {Heading: "Name", Width: 26}, {Heading: "Students", Width: 10, Number: true}, {Heading: "Length, middle one", Width: 14}, {Heading: "Compared", Width: 10, Number: true}, {Heading: "Too early", Width: 10, Number: true}, {Heading: "Less missed", Width: 10, Number: true}, {Heading: "As much", Width: 10, Number: true}, {Heading: "More", Width: 10, Number: true},
			{Heading: "Figure", Width: 24}, {Heading: "Before", Width: 10}, {Heading: "After", Width: 10}}}
	for _, r := range v.Rows {
		head := []string{r.What, r.Name, strconv.Itoa(r.Students), r.Length, strconv.Itoa(r.Compared), strconv.Itoa(r.Early), strconv.Itoa(r.Less), strconv.Itoa(r.Same), strconv.Itoa(r.More)}
		if len(r.Figures) == 0 {
			list.Rows = append(list.Rows, append(head, "", "", ""))
		}
		for _, f := range r.Figures {
			list.Rows = append(list.Rows, append(append([]string{}, head...), f.Name, f.Before, f.After))
		}
	}
	return pages.ListFile("what-came-of-it-"+pages.Slug(work.Join(" ", v.Scope, v.Group)), list, format)
}

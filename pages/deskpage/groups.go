package deskpage

import (
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/pages"
	"meldung/work"
	"meldung/work/home"
)

// GroupMember is a student of a group who is not in yet.
type GroupMember struct {
	Student pages.StudentRef `json:"student"`
	Place   pages.Place      `json:"place"`
	Likely  bool             `json:"likely" doc:"Known to be missing and not spoken for: ticked at first"`
}

// GroupView is a group that comes together: those who travel by the same ferry, or are
// held until a time.
type GroupView struct {
	Key     string        `json:"key"`
	Title   string        `json:"title"`
	Reason  string        `json:"reason" doc:"The reason to begin with"`
	Members []GroupMember `json:"members" doc:"Those not in yet, by name"`
	Of      int           `json:"of" doc:"How many are in the group"`
}

// groups lists what students travel by, with those who are not in yet; and the groups
// that are held.
func groups(v work.Snapshot, x *work.Day, m work.Moment) []GroupView {
	byKey := map[string]*GroupView{}
	member := func(key, title, reason string, id ids.Student) {
		g := byKey[key]
		if g == nil {
			g = &GroupView{Key: key, Title: title, Reason: reason, Members: []GroupMember{}}
			byKey[key] = g
		}
		g.Of++
		p := v.Position(x, id, m)
		switch p.State {
		case whereabouts.In, whereabouts.InLate, whereabouts.Left, whereabouts.Elsewhere:
			return
		}
		s := v.School.StudentOf(id)
		g.Members = append(g.Members, GroupMember{Student: pages.Student(v, s, m.Date), Place: pages.PlaceOf(p), Likely: p.State == whereabouts.Unaccounted})
	}
	travelReason := ""
	if slices.ContainsFunc(v.Offered(m.Scope), func(r held.Reason) bool { return r.Word == held.FerryReason }) {
		travelReason = held.FerryReason
	}
	for _, s := range x.Roll {
		if s.Travels != "" {
			member("travels "+s.Travels, "the "+s.Travels, travelReason, s.ID)
		}
	}
	for _, h := range x.Holds {
		if !home.Runs(h, m) || !m.Minute.Before(h.Until) {
			continue
		}
		for _, id := range h.Students {
			member(fmt.Sprint("hold ", h.ID), h.Reason, "", id)
		}
	}
	out := []GroupView{}
	for _, g := range byKey {
		slices.SortStableFunc(g.Members, func(a, b GroupMember) int { return strings.Compare(a.Student.Sorted, b.Student.Sorted) })
		out = append(out, *g)
	}
	slices.SortFunc(out, func(a, b GroupView) int { return strings.Compare(b.Key, a.Key) }) // travels, then holds
	return out
}

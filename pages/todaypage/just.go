package todaypage

import (
	"cmp"
	"fmt"
	"slices"

	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held/dated"
	"meldung/store"
	"meldung/work"
	"meldung/work/morning"
)

// Just is something that has just happened, as one line.
type Just struct {
	Entry  ids.Entry `json:"entry"`
	At     string    `json:"at"`
	Text   string    `json:"text"`
	By     string    `json:"by" doc:"Who stored it; empty for the program itself"`
	Before int       `json:"before" doc:"Unaccounted for until then"`
	After  int       `json:"after" doc:"And from then on"`
	Undo   bool      `json:"undo" doc:"Whether it can be taken back as a whole"`
}

// mostJust is how many of the last changes are told.
const mostJust = 4

// happened is one entry of the journal with what it says.
type happened struct {
	store.Origin
	text func() string
	undo bool
}

// justNow returns the last changes by a moment, the newest first.
func justNow(v work.Snapshot, x *work.Day, m work.Moment) ([]Just, error) {
	all := recent(v, x, m)
	slices.SortStableFunc(all, func(a, b happened) int { return cmp.Compare(b.Journal, a.Journal) })
	all = slices.CompactFunc(all, func(a, b happened) bool { return a.Journal == b.Journal })
	out := []Just{}
	for _, h := range all[:min(len(all), mostJust)] {
		before, after, err := missingRound(v, x, h.Origin, m)
		if err != nil {
			return nil, err
		}
		out = append(out, Just{Entry: h.Journal, At: h.Known.Minute().String(), Text: h.text(), By: h.By, Before: before, After: after, Undo: h.undo})
	}
	return out, nil
}

// missingRound returns how many were unaccounted for before an entry and after it. It was so for
// good: what was known then does not change.
func missingRound(v work.Snapshot, x *work.Day, o store.Origin, m work.Moment) (before, after int, err error) {
	at := o.Known.Minute()
	if o.Known.Date() != x.Date {
		at = dated.LastMinute // it is about an earlier day
	}
	counts, err := work.Remember(v, fmt.Sprint("missing round ", m.Scope, x.Date, o.Journal), nil, func() ([2]int, error) {
		var n [2]int
		for _, s := range x.Roll {
			for i := range n {
				known := whereabouts.Known{At: o.Known, Seq: o.Journal - 1 + ids.Entry(i)}
				if whereabouts.AsKnown(*x.Evidence[s.ID], x.Rules(s.ID), at, known).State == whereabouts.Unaccounted {
					n[i]++
				}
			}
		}
		return n, nil
	})
	return counts[0], counts[1], err
}

// recent gathers what happened by a moment, as sentences: the last of each kind.
func recent(v work.Snapshot, x *work.Day, m work.Moment) []happened {
	out := slices.Concat(recentMoves(v, x, m), recentCalls(v, x, m), recentNotices(v, x, m), recentSearches(v, x, m))
	for _, r := range x.Registers {
		if r.SentBy(m) && r.Sent.Known.Date() == m.Known.Date() {
			out = append(out, happened{Origin: r.Sent.Origin, text: func() string { return r.Class.Title + " sent " + r.Slot.Label() }})
		}
	}
	for _, s := range x.Settlings {
		if s.Stands(m.Known) && s.StudentID != nil && s.Known.Date() == m.Known.Date() {
			out = append(out, happened{Origin: s.Origin, text: func() string { return v.School.Names(settledBy(x, s.Journal)) + ": " + s.How }, undo: true})
		}
	}
	for _, h := range x.Holds {
		if h.Known <= m.Known && h.EndedBy == nil && h.Known.Date() == m.Known.Date() {
			out = append(out, happened{Origin: h.Origin, text: func() string {
				return fmt.Sprintf("%s held until %s: %s", work.Count(len(h.Students), "student"), h.Until, h.Reason)
			}, undo: true})
		}
	}
	return out
}

func settledBy(x *work.Day, entry ids.Entry) []ids.Student {
	var out []ids.Student
	for _, s := range x.Settlings {
		if s.Journal == entry && s.StudentID != nil {
			out = append(out, *s.StudentID)
		}
	}
	return out
}

// moved are the words of each kind of movement.
var moved = map[string]string{work.Arrived: "signed in", work.Departed: "signed out", work.Seen: "found"}

func recentMoves(v work.Snapshot, x *work.Day, m work.Moment) []happened {
	var out []happened
	for _, mv := range x.Movements {
		if mv.Known > m.Known || mv.UndoneBy != nil || mv.Known.Date() != m.Known.Date() {
			continue
		}
		out = append(out, happened{Origin: mv.Origin, undo: true, text: func() string {
			var who []ids.Student
			for _, o := range x.Movements {
				if o.Journal == mv.Journal {
					who = append(who, o.StudentID)
				}
			}
			text := v.School.Names(who)
			if len(who) > 3 {
				text = work.Count(len(who), "student")
			}
			text += " " + moved[mv.Kind]
			if mv.Minute != mv.Known.Minute() {
				text += " for " + mv.Minute.String()
			}
			return work.Join(", ", text, mv.Reason)
		}})
	}
	return out
}

func recentCalls(v work.Snapshot, x *work.Day, m work.Moment) []happened {
	var out []happened
	for _, c := range x.Calls {
		if !c.Stands(m.Known) || c.Date != m.Known.Date() {
			continue
		}
		out = append(out, happened{Origin: c.Origin, undo: true, text: func() string {
			var about []ids.Student
			for _, o := range x.Calls {
				if o.Journal == c.Journal {
					about = append(about, o.StudentID)
				}
			}
			who := ""
			if c.ContactID != nil {
				who = v.School.ContactOf(*c.ContactID).Name()
			}
			again := ""
			if !c.Next.IsZero() {
				again = "again " + c.Next.String()
			}
			return v.School.Names(about) + ": " + work.Join(", ", who, c.Outcome, c.Said, again)
		}})
	}
	return out
}

func recentNotices(v work.Snapshot, x *work.Day, m work.Moment) []happened {
	var out []happened
	for _, n := range x.Notices {
		if n.Known > m.Known || n.WithdrawnBy != nil || n.Known.Date() != m.Known.Date() {
			continue
		}
		out = append(out, happened{Origin: n.Origin, undo: true, text: func() string {
			var about []ids.Student
			for _, o := range x.Notices {
				if o.Journal == n.Journal {
					about = append(about, o.StudentID)
				}
			}
			return v.School.Names(about) + ": " + work.StoredNotice(n).Summary(x.Date)
		}})
	}
	return out
}

func recentSearches(v work.Snapshot, x *work.Day, m work.Moment) []happened {
	var out []happened
	for _, s := range x.Searches {
		who := func(what string) func() string {
			return func() string { return v.School.Names([]ids.Student{s.StudentID}) + what }
		}
		if s.Known <= m.Known && s.Known.Date() == m.Known.Date() {
			out = append(out, happened{Origin: s.Origin, text: who(" is searched for")})
		}
		if s.EndedBy != nil && s.EndedAt != nil && *s.EndedAt <= m.Known && s.EndedAt.Date() == m.Known.Date() && s.Outcome == morning.GivenUp {
			out = append(out, happened{Origin: store.Origin{Journal: *s.EndedBy, Known: *s.EndedAt}, text: who(" not found, home is to be rung")})
		}
	}
	return out
}

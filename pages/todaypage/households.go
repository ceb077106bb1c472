package todaypage

import (
	"cmp"
	"fmt"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held/dated"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/home"
)

// HouseholdStudent is a missing student on the call list.
type HouseholdStudent struct {
	Student  pages.StudentRef `json:"student"`
	Text     string           `json:"text"`
	Lately   string           `json:"lately"`
	Warnings []string         `json:"warnings"`
}

// HouseholdView is who is rung about whom.
type HouseholdView struct {
	Key       string              `json:"key"`
	Students  []HouseholdStudent  `json:"students"`
	Contacts  []pages.ContactRef  `json:"contacts" doc:"Those who may be called, in call order"`
	Next      int                 `json:"next" doc:"Place of the contact to ring now; -1 for none"`
	NotCalled []string            `json:"notCalled" doc:"Contacts who must not be called"`
	Attempts  []pages.AttemptView `json:"attempts"`
	Again     string              `json:"again" doc:"Not before this time"`
	Waits     bool                `json:"waits" doc:"Whether that time is still to come"`
	Early     bool                `json:"early" doc:"It is not time yet to ring homes"`
	Held      string              `json:"held" doc:"Why it is held until then; empty for not held"`
	Answered  ids.Contact         `json:"answered" doc:"The contact who answered last time; 0 for none"`
}

// households returns the call list: the missing by home, in the order in which they are rung.
func households(v work.Snapshot, x *work.Day, missing []followup.Missing, positions map[ids.Student]whereabouts.Position, m work.Moment) []HouseholdView {
	out := []HouseholdView{}
	at := m.Minute
	if m.Date < v.Now.Date() && m.Known >= v.Now {
		at = v.Now.Minute() // an earlier day is worked on now
	}
	for _, h := range followup.Households(missing, at) {
		hv := HouseholdView{Early: early(v, x, h, m), Contacts: pages.Contacts(h.Contacts), Next: h.Next, NotCalled: []string{}, Attempts: []pages.AttemptView{}, Held: h.Held, Answered: h.Answered}
		var made []home.Attempt
		for _, one := range h.Students {
			id := one.Student
			s := v.School.StudentOf(id)
			hv.Students = append(hv.Students, HouseholdStudent{Student: pages.Student(v, s, m.Date), Text: notIn(positions[id], m),
				Lately: lately(v.Of(id), s, x.Of(id)), Warnings: pages.Warnings(v.School.WarningsOf(id))})
			for _, c := range one.Contacts {
				if c.DoNotCall && !slices.Contains(hv.NotCalled, c.Name) {
					hv.NotCalled = append(hv.NotCalled, c.Name)
				}
			}
			for _, a := range home.Attempts(v, x, id, m) {
				if !slices.ContainsFunc(made, func(o home.Attempt) bool { return o.ID == a.ID }) {
					made = append(made, a)
				}
			}
		}
		slices.SortStableFunc(made, func(a, b home.Attempt) int { return cmp.Compare(day.At(a.On, a.At), day.At(b.On, b.At)) })
		for _, a := range made {
			hv.Attempts = append(hv.Attempts, pages.Attempt(v, a))
		}
		if !h.Again.IsZero() {
			hv.Again, hv.Waits = h.Again.String(), h.Again.After(at)
		}
		hv.Key = fmt.Sprint(hv.Students[0].Student.ID)
		if len(h.Contacts) > 0 {
			hv.Key = fmt.Sprintf("home-%d", h.Contacts[0].ID)
		}
		out = append(out, hv)
	}
	return out
}

// lately says how the last school days went, from the ledger.
// notIn says what is known of a student who is missing; of a day that is over, whether they were
// there at all.
func notIn(p whereabouts.Position, m work.Moment) string {
	if m.Minute == dated.LastMinute && p.Last.At.IsZero() && !p.NotBack && p.Worried.IsZero() {
		return "not seen all day"
	}
	return work.Whereabouts(p)
}

// early reports whether it is too early to ring a home: the school's own minute is still to come
// in the sections of all its missing.
func early(v work.Snapshot, x *work.Day, h followup.Household, m work.Moment) bool {
	return !slices.ContainsFunc(h.Students, func(s followup.Missing) bool {
		on := x.Of(s.Student)
		first, ok := on.School.Pattern.First()
		return !ok || !m.Minute.Before(on.Settings.CallFrom(first))
	})
}

// callFrom is when the first of the sections begins to ring homes.
func callFrom(v work.Snapshot, x *work.Day, m work.Moment) string {
	from := day.EndOfDay
	for _, on := range x.Sections {
		if first, ok := on.School.Pattern.First(); on.Open && ok {
			from = day.Earliest(from, on.Settings.CallFrom(first))
		}
	}
	return from.String()
}

func lately(v work.Section, s store.Student, x *work.SectionDay) string {
	place := v.Place(s.ID)
	if !x.Open || place < 0 {
		return ""
	}
	ten, err := v.Measure(work.UsualPolicy)
	if err != nil {
		return ""
	}
	days := ten.Days(place, absence.Span{From: max(0, x.Index-10), To: x.Index - 1})
	run := 0
	for i := len(days) - 1; i >= 0 && days[i].Absent(); i-- {
		run++
	}
	switch {
	case len(days) == 0:
		came, _ := s.CameBy(v.On)
		return "new on " + came.Spoken()
	case run == 1:
		return "also absent " + days[len(days)-1].Date.Spoken()
	case run > 1:
		return fmt.Sprintf("absent %d days before", run)
	case days[len(days)-1].Date == v.On-1:
		return "in yesterday"
	default:
		return "in on " + days[len(days)-1].Date.Spoken()
	}
}

// HoldView is a group whose homes are not rung yet.
type HoldView struct {
	ID      ids.Hold           `json:"id"`
	Reason  string             `json:"reason"`
	Until   string             `json:"until"`
	By      string             `json:"by"`
	Since   string             `json:"since"`
	Waiting []pages.StudentRef `json:"waiting" doc:"Those of them who are still missing"`
	Of      int                `json:"of" doc:"How many were held"`
}

// holdViews lists the holds that run, with those of them on the call list.
func holdViews(v work.Snapshot, x *work.Day, missing []followup.Missing, m work.Moment) []HoldView {
	onList := map[ids.Student]bool{}
	for _, s := range missing {
		onList[s.Student] = true
	}
	out := []HoldView{}
	for _, h := range x.Holds {
		if !home.Runs(h, m) || !m.Minute.Before(h.Until) {
			continue
		}
		row := HoldView{ID: h.ID, Reason: h.Reason, Until: h.Until.String(), By: h.By, Since: h.Minute.String(), Of: len(h.Students), Waiting: []pages.StudentRef{}}
		for _, id := range h.Students {
			if onList[id] {
				row.Waiting = append(row.Waiting, pages.Student(v, v.School.StudentOf(id), m.Date))
			}
		}
		if len(row.Waiting) > 0 {
			out = append(out, row)
		}
	}
	return out
}

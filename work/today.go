package work

import (
	"context"
	"fmt"
	"sort"
	"strconv"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/store"
)

// CountPart is one state of the count.
type CountPart struct {
	State string `json:"state"`
	Words string `json:"words"`
	N     int    `json:"n"`
}

// MissingOnSite is a student who is on site and not where they should be.
type MissingOnSite struct {
	Student  StudentRef `json:"student"`
	Words    string     `json:"words"`
	Search   int64      `json:"search" doc:"The search under way; 0 for none"`
	Searcher string     `json:"searcher"`
	Since    string     `json:"since"`
}

// RegisterOut is a register that should be in.
type RegisterOut struct {
	Class    int64    `json:"class"`
	Slot     string   `json:"slot"`
	Words    string   `json:"words" doc:"The slot in words"`
	Title    string   `json:"title"`
	Teacher  string   `json:"teacher"`
	Room     string   `json:"room"`
	Overdue  int      `json:"overdue" doc:"Minutes"`
	Waiting  int      `json:"waiting" doc:"Students of whom nothing else is known"`
	Answer   string   `json:"answer" doc:"What became of the last reminder, in words"`
	Reminded []string `json:"reminded" doc:"When and by whom"`
}

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

// DueBack is someone expected.
type DueBack struct {
	Student StudentRef `json:"student"`
	State   string     `json:"state"`
	Words   string     `json:"words"`
	By      string     `json:"by"`
	Overdue bool       `json:"overdue"`
}

// AttemptView is a call already made.
type AttemptView struct {
	At      string `json:"at"`
	Contact string `json:"contact"`
	Outcome string `json:"outcome"`
	Said    string `json:"said"`
}

// HouseholdStudent is a missing student on the call list.
type HouseholdStudent struct {
	Student  StudentRef `json:"student"`
	Words    string     `json:"words"`
	Lately   string     `json:"lately"`
	Warnings []string   `json:"warnings"`
}

// HouseholdView is who is rung about whom.
type HouseholdView struct {
	Key       string             `json:"key"`
	Students  []HouseholdStudent `json:"students"`
	Contacts  []ContactRef       `json:"contacts" doc:"Those who may be called, in call order"`
	Next      int                `json:"next" doc:"Place of the contact to ring now; -1 for none"`
	NotCalled []string           `json:"notCalled" doc:"Contacts who must not be called"`
	Attempts  []AttemptView      `json:"attempts"`
	Again     string             `json:"again" doc:"Not before this time"`
	Waits     bool               `json:"waits" doc:"Whether that time is still to come"`
}

// SafeArrival is how the first registration stands.
type SafeArrival struct {
	State       string `json:"state" enum:"none,open,ready,closed,reopened"`
	Slot        string `json:"slot"`
	Words       string `json:"words"`
	RegistersIn int    `json:"registersIn"`
	Registers   int    `json:"registers"`
	Unaccounted int    `json:"unaccounted"`
	By          string `json:"by"`
	At          string `json:"at"`
}

// TodayView is the Today page.
type TodayView struct {
	Date       string          `json:"date"`
	AsAt       string          `json:"asAt"`
	Scope      string          `json:"scope"`
	Open       bool            `json:"open" doc:"Whether it is a school day"`
	Roll       int             `json:"roll"`
	Count      []CountPart     `json:"count"`
	OnSite     []MissingOnSite `json:"onSite"`
	Registers  []RegisterOut   `json:"registers"`
	Due        int             `json:"due" doc:"Registers due by now"`
	Waiting    int             `json:"waiting"`
	Mismatches []MismatchView  `json:"mismatches"`
	DueBack    []DueBack       `json:"dueBack"`
	Households []HouseholdView `json:"households"`
	Causes     []CauseView     `json:"causes" doc:"What many of those on the call list have in common"`
	Missing    int             `json:"missing" doc:"Students on the call list"`
	NoContact  int             `json:"noContact"`
	Safe       SafeArrival     `json:"safe"`
}

// Today puts the Today page together as at a moment.
func (o *Office) Today(ctx context.Context, asAt string) (TodayView, error) {
	var out TodayView
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		out = v.today(x, m)
		return nil
	})
	return out, err
}

func (v view) today(x *Day, m Moment) TodayView {
	out := TodayView{Date: x.Date.String(), AsAt: day.At(m.Date, m.Minute).String(), Scope: v.settings.Name, Open: x.Open, Roll: len(x.Roll),
		OnSite: []MissingOnSite{}, Registers: []RegisterOut{}, Mismatches: []MismatchView{}, DueBack: []DueBack{}}
	positions := make(map[int64]whereabouts.Position, len(x.Roll))
	var count whereabouts.Count
	var missing []followup.Missing
	waiting := map[int64]bool{} // for a register that is still out
	for _, s := range x.Roll {
		p := v.position(x, s.ID, m)
		positions[s.ID] = p
		if p.State == whereabouts.NotYetKnown {
			waiting[s.ID] = true
		}
		count[p.State]++
		search := x.searchOf(s.ID, m)
		switch {
		case p.State == whereabouts.Unaccounted && p.OnSite && (search == nil || search.outcome != "given up"):
			out.OnSite = append(out.OnSite, v.missingOnSite(s, p, search, m))
		case p.State == whereabouts.Unaccounted && x.waitsForRegister(s.ID, p, m):
			waiting[s.ID] = true
		case p.State == whereabouts.Unaccounted:
			missing = append(missing, v.missing(x, s, m))
		}
		if b, ok := v.dueBack(s, p, m); ok {
			out.DueBack = append(out.DueBack, b)
		}
		out.Mismatches = append(out.Mismatches, v.mismatches(x, s, p, m)...)
	}
	for state := range whereabouts.States {
		out.Count = append(out.Count, CountPart{state.Slug(), state.String(), count[state]})
	}
	out.Missing = len(missing)
	sort.SliceStable(out.DueBack, func(a, b int) bool {
		if out.DueBack[a].Overdue != out.DueBack[b].Overdue {
			return out.DueBack[a].Overdue
		}
		return out.DueBack[a].By < out.DueBack[b].By
	})
	v.registersOut(&out, x, waiting, m)
	out.Households = v.households(x, missing, positions, m)
	out.Causes = v.causes(x, missing, positions)
	for _, h := range out.Households {
		if len(h.Contacts) == 0 {
			out.NoContact += len(h.Students)
		}
	}
	out.Safe = v.safeArrival(x, m)
	return out
}

// waitsForRegister reports whether a register of an earlier slot than the one that
// marked the student absent is still out: it may say where they are, and no home
// is rung before it is in.
func (x *Day) waitsForRegister(student int64, p whereabouts.Position, m Moment) bool {
	for _, d := range x.Evidence[student].Due {
		if d.Slot.Start < p.Slot.Start && (d.Sent == nil || d.Sent.At > m.Known) {
			return true
		}
	}
	return false
}

type searchSeen struct {
	id      int64
	outcome string
	by      string
	since   day.Minute
}

// searchOf returns a student's last search as it was known.
func (x *Day) searchOf(student int64, m Moment) *searchSeen {
	var last *searchSeen
	for _, s := range x.searches {
		if s.StudentID != student || s.Known > m.Known || s.Minute > m.Minute {
			continue
		}
		last = &searchSeen{id: s.ID, by: s.By, since: s.Minute}
		if s.EndedAt != nil && *s.EndedAt <= m.Known {
			last.outcome = s.Outcome
		}
	}
	return last
}

func (v view) missingOnSite(s store.Student, p whereabouts.Position, search *searchSeen, m Moment) MissingOnSite {
	out := MissingOnSite{Student: v.ref(s, m.Date), Words: placeOf(p).Words}
	if search != nil && search.outcome == "" {
		out.Search, out.Searcher, out.Since = search.id, search.by, search.since.String()
	}
	return out
}

func (v view) missing(x *Day, s store.Student, m Moment) followup.Missing {
	year, _ := strconv.Atoi(s.Year)
	out := followup.Missing{Student: strconv.FormatInt(s.ID, 10), Name: s.Family + " " + s.Given, Year: year, Contacts: v.school.ContactsOf(s.ID)}
	for _, w := range v.school.warnings[s.ID] {
		out.Care = out.Care || w.CareFirst
	}
	for _, c := range x.calls {
		if c.StudentID == s.ID && c.Known <= m.Known && c.Minute <= m.Minute {
			a := followup.Attempt{Outcome: followup.Outcome(c.Outcome), At: c.Minute, Next: orMissing(c.Next)}
			if c.ContactID != nil {
				a.Contact = *c.ContactID
			}
			out.Attempts = append(out.Attempts, a)
		}
	}
	return out
}

func (v view) dueBack(s store.Student, p whereabouts.Position, m Moment) (DueBack, bool) {
	expected := p.Until >= 0 && (p.State == whereabouts.Left || p.State == whereabouts.Explained || p.NotBack)
	if !expected {
		return DueBack{}, false
	}
	return DueBack{Student: v.ref(s, m.Date), State: p.State.Slug(), Words: p.Reason, By: p.Until.String(), Overdue: p.NotBack || m.Minute > p.Until}, true
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

func (v view) registersOut(out *TodayView, x *Day, waiting map[int64]bool, m Moment) {
	counted := map[int64]bool{}
	for _, r := range x.Registers {
		state := r.stateOf(m, v.settings.RegisterWithin)
		if state == register.NotDue || state == register.Open {
			continue
		}
		out.Due++
		if state == register.Sent {
			continue
		}
		row := RegisterOut{Class: r.Class.ID, Slot: r.Slot.Name, Words: r.Slot.Words(), Title: r.Class.Title, Teacher: v.takersWords(x, r.Class.ID, r.Slot.Name), Room: r.Meeting.Room,
			Overdue: register.Overdue(r.Slot, v.settings.RegisterWithin, m.Minute)}
		for _, s := range v.school.Roll(r.Class.ID, r.Slot.Name, x.Date) {
			if waiting[s.ID] {
				row.Waiting++
				counted[s.ID] = true
			}
		}
		row.Reminded, row.Answer = x.trace(r.Class.ID, r.Slot.Name, m.Known)
		out.Registers = append(out.Registers, row)
	}
	out.Waiting = len(counted)
	sort.SliceStable(out.Registers, func(a, b int) bool { return out.Registers[a].Overdue > out.Registers[b].Overdue })
}

func (v view) households(x *Day, missing []followup.Missing, positions map[int64]whereabouts.Position, m Moment) []HouseholdView {
	out := []HouseholdView{}
	for _, h := range followup.Households(missing, m.Minute) {
		hv := HouseholdView{Contacts: contactRefs(h.Contacts), Next: h.Next, NotCalled: []string{}, Attempts: []AttemptView{}}
		made := map[int64]bool{}
		for _, one := range h.Students {
			id, _ := strconv.ParseInt(one.Student, 10, 64)
			s := v.school.Students[v.school.student[id]]
			hv.Students = append(hv.Students, HouseholdStudent{Student: v.ref(s, m.Date), Words: placeOf(positions[id]).Words,
				Lately: v.lately(s, x), Warnings: warningWords(v.school.warnings[id])})
			for _, c := range one.Contacts {
				if c.DoNotCall {
					hv.NotCalled = append(hv.NotCalled, c.Name)
				}
			}
			for _, c := range x.calls {
				if c.StudentID == id && c.Known <= m.Known && c.Minute <= m.Minute && !made[c.ID] {
					made[c.ID] = true
					a := AttemptView{At: c.Minute.String(), Outcome: c.Outcome, Said: c.Said}
					if c.ContactID != nil {
						a.Contact = v.school.contacts[*c.ContactID].Name()
					}
					hv.Attempts = append(hv.Attempts, a)
				}
			}
		}
		if h.Again >= 0 {
			hv.Again, hv.Waits = h.Again.String(), h.Again > m.Minute
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
func (v view) lately(s store.Student, x *Day) string {
	if !x.Open || v.o.ledger == nil {
		return ""
	}
	place := v.school.placeOf[s.ID]
	ten, err := v.measure("ten-percent")
	if err != nil {
		return ""
	}
	days := ten.Days(place, absence.Span{From: max(0, x.Index-10), To: x.Index - 1})
	run := 0
	for i := len(days) - 1; i >= 0 && (days[i].Verdict == absence.WasExcused || days[i].Verdict == absence.WasUnexcused); i-- {
		run++
	}
	switch {
	case len(days) == 0:
		return "new on " + s.EnrolledFrom.Words()
	case run == 1:
		return "also absent " + days[len(days)-1].Date.Words()
	case run > 1:
		return fmt.Sprintf("absent %d days before", run)
	case days[len(days)-1].Date == x.Date-1:
		return "in yesterday"
	default:
		return "in on " + days[len(days)-1].Date.Words()
	}
}

// safeArrival says how the first registration stands. It was closed when
// someone closed it; it is open again when what is known now would have kept it
// open at that minute.
func (v view) safeArrival(x *Day, m Moment) SafeArrival {
	if !x.Open {
		return SafeArrival{State: "none", Words: "no school"}
	}
	slot, ok := x.School.Pattern.First()
	if !ok {
		return SafeArrival{State: "none", Words: "no slots"}
	}
	out := SafeArrival{State: "open", Slot: slot.Name}
	var last *store.Closing
	for i := range x.closings {
		if x.closings[i].Known <= m.Known {
			last = &x.closings[i]
		}
	}
	out.Registers, out.RegistersIn, out.Unaccounted = v.arrivals(x, slot, m)
	ready := out.Registers > 0 && out.Registers == out.RegistersIn && out.Unaccounted == 0 && m.Minute >= slot.Start
	if ready {
		out.State = "ready"
	}
	if last != nil {
		out.By, out.At = last.By, last.Minute.String()
		_, in, unaccounted := v.arrivals(x, slot, Moment{Date: m.Date, Minute: last.Minute, Known: m.Known})
		switch {
		case unaccounted == 0 && in == out.Registers:
			out.State = "closed"
		case !ready:
			out.State = "reopened"
		}
	}
	switch out.State {
	case "closed":
		out.Words = fmt.Sprintf("Safe arrival was closed at %s by %s.", out.At, out.By)
	case "ready":
		out.Words = "Every register is in and nobody is unaccounted for."
	case "reopened":
		out.Words = fmt.Sprintf("Closed at %s by %s; new evidence has opened it again.", out.At, out.By)
	default:
		out.Words = "It closes when every register is in and nobody is unaccounted for."
	}
	return out
}

// arrivals counts a slot's registers, those in, and the students due at it who
// are unaccounted for or not yet known.
func (v view) arrivals(x *Day, slot day.Slot, m Moment) (registers, in, unaccounted int) {
	due := map[int64]bool{}
	for _, r := range x.Registers {
		if r.Slot.Name != slot.Name {
			continue
		}
		roll := v.school.Roll(r.Class.ID, slot.Name, x.Date)
		if len(roll) == 0 {
			continue
		}
		registers++
		if r.sentBy(m) {
			in++
		}
		for _, s := range roll {
			due[s.ID] = true
		}
	}
	for id := range due {
		if p := v.position(x, id, m); p.State == whereabouts.Unaccounted || p.State == whereabouts.NotYetKnown {
			unaccounted++
		}
	}
	return registers, in, unaccounted
}

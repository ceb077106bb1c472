package work

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/whereabouts"
	"meldung/store"
)

// Call is a call home as it was made.
type Call struct {
	Students []int64 `json:"students" minItems:"1" doc:"All whom the call was about"`
	Contact  int64   `json:"contact,omitempty" doc:"0 where there was nobody to ring"`
	Outcome  string  `json:"outcome" enum:"spoke,message,no answer,wrong number"`
	Said     string  `json:"said,omitempty" doc:"The reason they gave"`
	For      []int64 `json:"for,omitempty" doc:"Whom the reason is for; empty is all"`
	Until    string  `json:"until,omitempty" doc:"When expected, as typed; needed for on the way"`
	Days     string  `json:"days,omitempty" doc:"Last date of the absence; empty is today"`
	Note     string  `json:"note,omitempty" maxLength:"500"`
	Again    string  `json:"again,omitempty" doc:"When to try again, as typed; empty is after the usual time"`

	Fetch     int64  `json:"fetch,omitempty" doc:"The student to be fetched whom it is about"`
	Collector int64  `json:"collector,omitempty" doc:"Contact who comes; 0 for nobody or somebody else"`
	Collects  string `json:"collects,omitempty" maxLength:"100" doc:"Who comes who is no contact; needs a note"`
}

// LogCall stores a call with its outcome. What they said becomes a notice, which
// settles the marks; a call that reached nobody comes back after a while.
func (o *Office) LogCall(ctx context.Context, p Person, key string, c Call) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "call", &out, func(w *writing, v view, x *Day) error {
		row := store.Call{Date: w.now.Date(), Minute: w.now.Minute(), Outcome: c.Outcome, Said: c.Said, Note: strings.TrimSpace(c.Note), Students: c.Students,
			Origin: store.Origin{Journal: w.journal.ID}}
		who := "nobody"
		if c.Contact != 0 {
			contact, ok := v.school.contacts[c.Contact]
			if !ok {
				return notFound("there is no contact %d", c.Contact)
			}
			row.ContactID, row.Phone, who = &c.Contact, contact.Phone, contact.Name()
		}
		if p.Role == Desk && c.Fetch == 0 {
			return refused("the desk rings about students to be fetched; nothing was stored")
		}
		if err := v.mayRing(c); err != nil {
			return err
		}
		var err error
		if row.Next, err = v.again(c, w.now.Minute()); err != nil {
			return err
		}
		words := join(", ", who+": "+c.Outcome, c.Said)
		if c.Fetch != 0 {
			coming, err := v.fetchCall(x, c, &row, w.now)
			if err != nil {
				return err
			}
			words = join(", ", words, coming)
		}
		id, err := store.AddCall(ctx, w.tx, row)
		if err != nil {
			return err
		}
		out = Receipt{Seq: w.journal.ID, Words: words, IDs: []int64{id}}
		if c.Said == "" {
			return nil
		}
		return w.believe(v, c, who)
	})
	return out, err
}

// again is when a home that nobody was reached at is tried once more: at the time that
// was typed, or after the school's usual pause.
func (v view) again(c Call, now day.Minute) (*day.Minute, error) {
	if strings.TrimSpace(c.Again) != "" {
		at, err := day.ParseTyped(c.Again)
		if err != nil {
			return nil, wrong("again when? %v; nothing was stored", err)
		}
		if at <= now {
			return nil, wrong("again at %s has passed, it is %s; nothing was stored", at, now)
		}
		return &at, nil
	}
	if o := followup.Outcome(c.Outcome); o == followup.Spoke || o == followup.WrongNumber || c.Fetch != 0 {
		return nil, nil
	}
	next := now + v.settings.TryAgain
	return &next, nil
}

// mayRing refuses to log a call to someone who must not be called.
func (v view) mayRing(c Call) error {
	for _, id := range c.Students {
		s, err := v.school.Student(id)
		if err != nil {
			return err
		}
		for _, sc := range v.school.ofStudent[id] {
			if sc.ContactID == c.Contact && sc.DoNotCall {
				return refused("%s must not be called about %s", v.school.contacts[c.Contact].Name(), s.Name())
			}
		}
	}
	return nil
}

func (w *writing) believe(v view, c Call, who string) error {
	students := c.For
	if len(students) == 0 {
		students = c.Students
	}
	n := Notice{Reason: c.Said, To: c.Days, ToTime: c.Until, ToldBy: who, ToldHow: "phone"}
	pn, err := n.parse(w.now.Date())
	if err != nil {
		return err
	}
	if pn.returns && pn.toTime <= w.now.Minute() {
		return wrong("expected %s has passed, it is %s; nothing was stored", pn.toTime, w.now.Minute())
	}
	for _, id := range students {
		s, err := v.school.Student(id)
		if err != nil {
			return err
		}
		if _, err := w.notify(v, s, pn); err != nil {
			return err
		}
	}
	return nil
}

// AttemptView is a call or a text already made.
type AttemptView struct {
	At      string `json:"at"`
	Contact string `json:"contact"`
	Outcome string `json:"outcome" enum:"spoke,message,no answer,wrong number,text"`
	Said    string `json:"said" doc:"The reason they gave, or what became of the text"`
	Note    string `json:"note"`
	By      string `json:"by"`
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
	Held      string             `json:"held" doc:"Why it is held until then; empty for not held"`
	Answered  int64              `json:"answered" doc:"The contact who answered last time; 0 for none"`
}

// idOf is a missing student's number here.
func idOf(m followup.Missing) int64 {
	id, _ := strconv.ParseInt(m.Student, 10, 64) // made by missing
	return id
}

func (v view) missing(x *Day, s store.Student, m Moment) followup.Missing {
	year, _ := strconv.Atoi(s.Year)
	out := followup.Missing{Student: strconv.FormatInt(s.ID, 10), Name: s.Family + " " + s.Given, Year: year, Contacts: v.school.ContactsOf(s.ID), Answered: x.answeredBefore[s.ID]}
	for _, w := range v.school.warnings[s.ID] {
		out.Care = out.Care || w.CareFirst
	}
	for _, a := range v.attempts(x, s.ID, m) {
		out.Attempts = append(out.Attempts, a.Attempt)
		if a.Outcome == followup.Spoke && a.Contact != 0 {
			out.Answered = a.Contact
		}
	}
	for _, h := range x.holds {
		if runs(h, m) && slices.Contains(h.Students, s.ID) {
			out.Holds = append(out.Holds, followup.Hold{Until: h.Until, Reason: h.Reason})
		}
	}
	return out
}

// attempt is a call or text about a student, with what its list shows. Its id sets calls
// and texts apart: one call about siblings is shown once.
type attempt struct {
	followup.Attempt
	id               string
	said, note, made string
}

// attempts returns the calls and texts about a student that had been made by a moment, in
// time order; those about being fetched are not among them.
func (v view) attempts(x *Day, student int64, m Moment) []attempt {
	var out []attempt
	for _, c := range x.calls {
		if c.StudentID != student || c.FetchID != nil || c.Known > m.Known || c.Minute > m.Minute {
			continue
		}
		out = append(out, attemptOf(c))
	}
	for _, msg := range x.messages {
		if msg.Kind != toHome || msg.ContactID == nil || !slices.Contains(msg.Students, student) || msg.Known > m.Known || msg.Minute > m.Minute {
			continue
		}
		a := attempt{Attempt: followup.Attempt{Contact: *msg.ContactID, Outcome: followup.Texted, At: msg.Minute, Next: msg.Minute + v.settings.TryAgain},
			id: fmt.Sprint("text ", msg.ID), said: x.stateOfMessage(msg, m.Known), made: msg.By}
		if a.said == "failed" {
			a.Next = -1
		}
		out = append(out, a)
	}
	slices.SortStableFunc(out, func(a, b attempt) int { return int(a.At) - int(b.At) })
	return out
}

// attemptOf is what a call comes to for the order of calls.
func attemptOf(c store.Call) attempt {
	a := attempt{Attempt: followup.Attempt{Outcome: followup.Outcome(c.Outcome), At: c.Minute, Next: orMissing(c.Next)}, id: fmt.Sprint("call ", c.ID), said: c.Said, note: c.Note, made: c.By}
	if c.ContactID != nil {
		a.Contact = *c.ContactID
	}
	return a
}

func (v view) attemptView(a attempt) AttemptView {
	out := AttemptView{At: a.At.String(), Outcome: string(a.Outcome), Said: a.said, Note: a.note, By: a.made}
	if a.Contact != 0 {
		out.Contact = v.school.contacts[a.Contact].Name()
	}
	return out
}

func (v view) households(x *Day, missing []followup.Missing, positions map[int64]whereabouts.Position, m Moment) []HouseholdView {
	out := []HouseholdView{}
	for _, h := range followup.Households(missing, m.Minute) {
		hv := HouseholdView{Contacts: contactRefs(h.Contacts), Next: h.Next, NotCalled: []string{}, Attempts: []AttemptView{}, Held: h.Held, Answered: h.Answered}
		made := map[string]bool{}
		for _, one := range h.Students {
			id := idOf(one)
			s := v.school.Students[v.school.student[id]]
			hv.Students = append(hv.Students, HouseholdStudent{Student: v.ref(s, m.Date), Words: placeOf(positions[id]).Words,
				Lately: v.lately(s, x), Warnings: warningWords(v.school.warnings[id])})
			for _, c := range one.Contacts {
				if c.DoNotCall && !slices.Contains(hv.NotCalled, c.Name) {
					hv.NotCalled = append(hv.NotCalled, c.Name)
				}
			}
			for _, a := range v.attempts(x, id, m) {
				if !made[a.id] {
					made[a.id] = true
					hv.Attempts = append(hv.Attempts, v.attemptView(a))
				}
			}
		}
		slices.SortStableFunc(hv.Attempts, func(a, b AttemptView) int { return strings.Compare(a.At, b.At) })
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

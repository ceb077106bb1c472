package work

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/store"
)

// Notice is what home said about one or more students.
type Notice struct {
	Students []int64 `json:"students" minItems:"1"`
	Reason   string  `json:"reason"`
	From     string  `json:"from,omitempty" doc:"Date, YYYY-MM-DD; empty is today"`
	To       string  `json:"to,omitempty" doc:"Last date; empty is the first"`
	FromTime string  `json:"fromTime,omitempty" doc:"As typed; empty is the whole day"`
	ToTime   string  `json:"toTime,omitempty" doc:"When expected; as typed"`
	ToldBy   string  `json:"toldBy,omitempty"`
}

// parsedNotice is a notice whose dates and times have been read.
type parsedNotice struct {
	from, to         day.Date
	fromTime, toTime day.Minute
	returns          bool
	reason, toldBy   string
}

func (n Notice) parse(today day.Date) (parsedNotice, error) {
	out := parsedNotice{from: today, toTime: day.EndOfDay, reason: strings.TrimSpace(n.Reason), toldBy: n.ToldBy}
	if out.reason == "" {
		return out, wrong("a notice needs a reason; nothing was stored")
	}
	var err error
	if n.From != "" {
		if out.from, err = day.ParseDate(n.From); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	out.to = out.from
	if n.To != "" {
		if out.to, err = day.ParseDate(n.To); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	if n.FromTime != "" {
		if out.fromTime, err = day.ParseTyped(n.FromTime); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	if n.ToTime != "" {
		if out.toTime, err = day.ParseTyped(n.ToTime); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
		out.returns = true
	}
	if out.to < out.from || (out.to == out.from && out.toTime <= out.fromTime) {
		return out, wrong("the notice ends before it begins; nothing was stored")
	}
	return out, nil
}

// words says a notice as people do.
func (n parsedNotice) words(today day.Date) string {
	w := n.reason
	if n.fromTime > 0 {
		w += " from " + n.fromTime.String()
	}
	switch {
	case n.returns && n.to == today:
		w += " until " + n.toTime.String()
	case n.from > today && n.to == n.from:
		w += " on " + n.from.Words()
	case n.to > today:
		w += " until " + n.to.Words()
	}
	return w
}

// covers reports whether the notice has a student away from the start of a slot.
func (n parsedNotice) covers(d day.Date, slot day.Slot) bool {
	from, to := day.Minute(0), day.EndOfDay
	if d == n.from {
		from = n.fromTime
	}
	if d == n.to {
		to = n.toTime
	}
	return d >= n.from && d <= n.to && slot.Start >= from && slot.Start < to
}

// Notify stores what home said. It explains absences ahead and after the fact
// and never overwrites a presence.
func (o *Office) Notify(ctx context.Context, p Person, key string, n Notice) (Receipt, error) {
	var out Receipt
	err := o.write(ctx, p, key, "notice", &out, func(w *writing) error {
		pn, err := n.parse(w.now.Date())
		if err != nil {
			return err
		}
		return o.look(func(v view) error {
			out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
			var names []string
			for _, id := range n.Students {
				s, err := v.school.Student(id)
				if err != nil {
					return err
				}
				nid, err := w.notify(v, s, pn)
				if err != nil {
					return err
				}
				out.IDs = append(out.IDs, nid)
				names = append(names, s.Name())
			}
			out.Words = strings.Join(names, ", ") + ": " + pn.words(w.now.Date())
			return nil
		})
	})
	return out, err
}

func (w *writing) notify(v view, s store.Student, n parsedNotice) (int64, error) {
	id, err := store.AddNotice(w.ctx, w.tx, store.Notice{StudentID: s.ID, FromDate: n.from, ToDate: n.to, FromMinute: n.fromTime, ToMinute: n.toTime,
		Returns: n.returns, Reason: n.reason, ToldBy: n.toldBy, Origin: store.Origin{Journal: w.journal.ID}})
	if err != nil {
		return 0, err
	}
	code := v.settings.reason(n.reason).Absent
	for d := n.from; d <= min(n.to, w.now.Date()); d++ {
		x, err := v.day(w.ctx, d)
		if err != nil {
			return 0, err
		}
		err = w.recode(v, x, s.ID, register.SourceHome, "home: "+n.reason, func(slot day.Slot, k store.Mark, old policy.Code) (store.Mark, bool) {
			if !old.Unexplained || !n.covers(d, slot) || code == old.Code {
				return k, false
			}
			k.Code = code
			return k, true
		})
		if err != nil {
			return 0, err
		}
	}
	return id, nil
}

// WithdrawNotice takes a notice back, with the marks it explained.
func (o *Office) WithdrawNotice(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "notice withdrawn", &out, func(w *writing, v view, x *Day) error {
		for _, n := range x.notices {
			if n.ID != id {
				continue
			}
			done, err := store.WithdrawNotice(ctx, w.tx, id, w.journal.ID)
			if err != nil {
				return err
			}
			if !done {
				return conflict("that notice was withdrawn already")
			}
			out = Receipt{Seq: w.journal.ID, Words: "notice withdrawn", IDs: []int64{id}}
			return w.restore(v, x, n.StudentID, n.Journal, "the notice was withdrawn")
		}
		return notFound("there is no such notice today")
	})
	return out, err
}

// Call is a call home as it was made.
type Call struct {
	Students []int64 `json:"students" minItems:"1" doc:"All whom the call was about"`
	Contact  int64   `json:"contact,omitempty" doc:"0 where there was nobody to ring"`
	Outcome  string  `json:"outcome" enum:"spoke,message,no answer,wrong number"`
	Said     string  `json:"said,omitempty" doc:"The reason they gave"`
	For      []int64 `json:"for,omitempty" doc:"Whom the reason is for; empty is all"`
	Until    string  `json:"until,omitempty" doc:"When expected, as typed; needed for on the way"`
	Note     string  `json:"note,omitempty"`
}

// LogCall stores a call with its outcome. What they said becomes a notice, which
// settles the marks; a call that reached nobody comes back after a while.
func (o *Office) LogCall(ctx context.Context, p Person, key string, c Call) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "call", &out, func(w *writing, v view, _ *Day) error {
		row := store.Call{Date: w.now.Date(), Minute: w.now.Minute(), Outcome: c.Outcome, Said: c.Said, Note: c.Note, Students: c.Students,
			Origin: store.Origin{Journal: w.journal.ID}}
		who := "nobody"
		if c.Contact != 0 {
			contact, ok := v.school.contacts[c.Contact]
			if !ok {
				return notFound("there is no contact %d", c.Contact)
			}
			row.ContactID, who = &c.Contact, contact.Name()
		}
		if err := v.mayRing(c); err != nil {
			return err
		}
		if followup.Outcome(c.Outcome) != followup.Spoke && c.Outcome != string(followup.WrongNumber) {
			next := w.now.Minute() + v.settings.TryAgain
			row.Next = &next
		}
		id, err := store.AddCall(ctx, w.tx, row)
		if err != nil {
			return err
		}
		out = Receipt{Seq: w.journal.ID, Words: who + ": " + c.Outcome, IDs: []int64{id}}
		if c.Said == "" {
			return nil
		}
		out.Words += ", " + c.Said
		return w.believe(v, c, who)
	})
	return out, err
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
	n := Notice{Reason: c.Said, ToTime: c.Until, ToldBy: who}
	if c.Said == onTheWay && c.Until == "" {
		return wrong("on the way needs the time they are expected; nothing was stored")
	}
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

// StartSearch stores that someone is looking for a student in the building.
func (o *Office) StartSearch(ctx context.Context, p Person, key string, student int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "search", &out, func(w *writing, v view, _ *Day) error {
		s, err := v.school.Student(student)
		if err != nil {
			return err
		}
		id, err := store.AddSearch(ctx, w.tx, store.Search{StudentID: student, Date: w.now.Date(), Minute: w.now.Minute(), Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: "searching for " + s.Name(), IDs: []int64{id}}
		return err
	})
	return out, err
}

// Find stores where a student was found; the student is in again. Without a place
// the search is given up, and home is rung.
func (o *Office) Find(ctx context.Context, p Person, key string, student int64, found bool, place string) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "search ended", &out, func(w *writing, v view, x *Day) error {
		s, err := v.school.Student(student)
		if err != nil {
			return err
		}
		search := x.searchOf(student, Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now})
		if search == nil || search.outcome != "" {
			id, err := store.AddSearch(ctx, w.tx, store.Search{StudentID: student, Date: x.Date, Minute: w.now.Minute(), Origin: store.Origin{Journal: w.journal.ID}})
			if err != nil {
				return err
			}
			search = &searchSeen{id: id}
		}
		outcome := "given up"
		if found {
			outcome = "found"
		}
		if _, err := store.EndSearch(ctx, w.tx, search.id, outcome, place, w.journal.ID); err != nil {
			return err
		}
		out = Receipt{Seq: w.journal.ID, Words: s.Name() + " " + outcome, IDs: []int64{search.id}}
		if !found {
			return nil
		}
		_, err = store.AddMovement(ctx, w.tx, store.Movement{StudentID: student, Date: x.Date, Minute: w.now.Minute(), Kind: "seen",
			Reason: place, Origin: store.Origin{Journal: w.journal.ID}})
		return err
	})
	return out, err
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

// CloseSafeArrival stores that the first registration is settled, with name and
// time. It is refused while a register is out or someone is unaccounted for.
func (o *Office) CloseSafeArrival(ctx context.Context, p Person, key string) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "safe arrival closed", &out, func(w *writing, v view, x *Day) error {
		safe := v.safeArrival(x, Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true})
		switch safe.State {
		case "ready":
		case "closed":
			return conflict("%s", safe.Words)
		case "none":
			return refused("%s is not a school day", x.Date.Words())
		default:
			return refused("%d of %d registers are in and %d students are unaccounted for or not yet known: it stays open", safe.RegistersIn, safe.Registers, safe.Unaccounted)
		}
		id, err := store.AddClosing(ctx, w.tx, store.Closing{Date: x.Date, Slot: safe.Slot, Minute: w.now.Minute(), Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("Safe arrival closed at %s by %s", w.now.Minute(), p.Name), IDs: []int64{id}}
		return err
	})
	return out, err
}

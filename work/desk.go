package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	passnumber "meldung/core/pass"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/store"
)

// Movement is one or more students arriving or leaving.
type Movement struct {
	Students []int64 `json:"students" minItems:"1"`
	Kind     string  `json:"kind" enum:"arrived,departed,seen"`
	Time     string  `json:"time,omitempty" doc:"As typed, 925 or 9:25; empty is now"`
	Reason   string  `json:"reason,omitempty"`
	Note     string  `json:"note,omitempty"`
	Returns  string  `json:"returns,omitempty" doc:"When expected back, as typed"`

	Collector int64  `json:"collector,omitempty" doc:"Contact who collects those who leave; 0 for nobody or somebody else"`
	Collects  string `json:"collects,omitempty" maxLength:"100" doc:"Who collects who is no contact; needs a note"`
	station   int64  // the station that stores it; 0 for none
}

// parsedMovement is a movement whose times have been read.
type parsedMovement struct {
	Movement
	at      day.Minute
	returns day.Minute
}

func (m Movement) parse(now day.Minute) (parsedMovement, error) {
	out := parsedMovement{Movement: m, at: now, returns: -1}
	var err error
	if strings.TrimSpace(m.Time) != "" {
		if out.at, err = day.ParseTyped(m.Time); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	if strings.TrimSpace(m.Returns) != "" {
		if out.returns, err = day.ParseTyped(m.Returns); err != nil {
			return out, wrong("back by %v; nothing was stored", err)
		}
		if out.returns <= out.at {
			return out, wrong("back by %s is not after leaving at %s; nothing was stored", out.returns, out.at)
		}
	}
	if out.at > now {
		return out, wrong("%s is still to come, it is %s; nothing was stored", out.at, now)
	}
	return out, nil
}

// Move stores arrivals or departures and brings the marks of the day into line
// with them: an arrival turns unexplained marks before it into what its reason
// says, a departure marks the rest of the slot under way.
func (o *Office) Move(ctx context.Context, p Person, key string, m Movement) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "movement", &out, func(w *writing, v view, x *Day) error {
		pm, err := m.parse(w.now.Minute())
		if err != nil {
			return err
		}
		out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
		var names []string
		for _, id := range m.Students {
			s, err := v.school.Student(id)
			if err != nil {
				return err
			}
			mid, err := w.move(v, x, s, pm)
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, mid)
			names = append(names, s.Name())
		}
		who := strings.Join(names, ", ")
		if len(names) > 3 {
			who = countOf(len(names), "student")
		}
		out.Words = who + " " + movementWords(pm)
		return nil
	})
	return out, err
}

func movementWords(m parsedMovement) string {
	verb := map[string]string{"arrived": "in at ", "departed": "left at ", "seen": "seen at "}[m.Kind]
	w := verb + m.at.String()
	if m.Reason != "" && m.Reason != noReason {
		w += ", " + m.Reason
	}
	if m.returns >= 0 {
		w += ", back by " + m.returns.String()
	}
	return w
}

func (w *writing) move(v view, x *Day, s store.Student, m parsedMovement) (int64, error) {
	if x.Evidence[s.ID] == nil {
		return 0, refused("%s is not on the roll today; nothing was stored", s.Name())
	}
	if m.Kind == "departed" {
		here := v.position(x, s.ID, Moment{Date: x.Date, Minute: m.at, Known: w.now})
		if here.State == whereabouts.Left && here.Since == m.at {
			return 0, conflict("%s has already left at %s", s.Name(), here.Since)
		}
	}
	row := store.Movement{StudentID: s.ID, Date: x.Date, Minute: m.at, Kind: m.Kind, Reason: m.Reason, Note: m.Note,
		Returns: orNil(m.returns), Origin: store.Origin{Journal: w.journal.ID}}
	if m.station != 0 {
		row.StationID = &m.station
	}
	if m.Kind == "departed" {
		var err error
		if row.CollectorID, row.Collector, err = v.collector(s, m.Collector, m.Collects, m.Note); err != nil {
			return 0, err
		}
	} else if m.Collector != 0 || m.Collects != "" {
		return 0, wrong("only who leaves is collected; nothing was stored")
	}
	id, err := store.AddMovement(w.ctx, w.tx, row)
	if err != nil {
		return 0, err
	}
	reason := v.settings.reason(m.Reason)
	words := fmt.Sprintf("%s at the desk %s", m.Kind, m.at)
	if m.Reason != "" {
		words += ": " + m.Reason
	}
	if m.Kind == "departed" {
		return id, w.recode(v, x, s.ID, register.SourceDesk, words, func(slot day.Slot, k store.Mark, code policy.Code) (store.Mark, bool) {
			return leaveMark(slot, k, code, reason, m.at)
		})
	}
	return id, w.recode(v, x, s.ID, register.SourceDesk, words, func(slot day.Slot, k store.Mark, code policy.Code) (store.Mark, bool) {
		return arriveMark(slot, k, code, reason, m)
	})
}

// leaveMark turns a present mark of the slot under way into leaving early.
func leaveMark(slot day.Slot, k store.Mark, code policy.Code, r Reason, at day.Minute) (store.Mark, bool) {
	if at <= slot.Start || at >= slot.End || code.Counts != policy.Attended || !code.OnSite || code.Late {
		return k, false
	}
	k.Code, k.AwayFrom, k.AwayTo = "DU", &at, nil
	if r.Excused {
		k.Code = "D"
	}
	return k, true
}

// arriveMark turns an unexplained absence into what an arrival says of it.
func arriveMark(slot day.Slot, k store.Mark, code policy.Code, r Reason, m parsedMovement) (store.Mark, bool) {
	if !code.Unexplained || slot.Start > m.at {
		return k, false
	}
	if m.at < slot.End && m.Kind == "arrived" {
		at := m.at
		k.Code, k.AwayFrom, k.AwayTo, k.Made = r.Late, nil, &at, at
		return k, m.at > slot.Start
	}
	k.Code = r.Absent
	return k, r.Absent != code.Code && m.Kind == "arrived"
}

// UndoMovement takes a movement back, with the marks it changed.
func (o *Office) UndoMovement(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "movement undone", &out, func(w *writing, v view, x *Day) error {
		for _, m := range x.movements {
			if m.ID != id {
				continue
			}
			done, err := store.UndoMovement(ctx, w.tx, id, w.journal.ID)
			if err != nil {
				return err
			}
			if !done {
				return conflict("that was taken back already")
			}
			out = Receipt{Seq: w.journal.ID, Words: "taken back", IDs: []int64{id}}
			return w.restore(v, x, m.StudentID, m.Journal, "the movement was taken back")
		}
		return notFound("there is no such movement today")
	})
	return out, err
}

// MovementView is a movement on the desk's list.
type MovementView struct {
	ID      int64      `json:"id"`
	Student StudentRef `json:"student"`
	At      string     `json:"at"`
	Kind    string     `json:"kind"`
	State   string     `json:"state" doc:"The state whose shape it has"`
	Reason  string     `json:"reason"`
	Note    string     `json:"note"`
	Returns string     `json:"returns"`
	By      string     `json:"by"`
	Undone  bool       `json:"undone"`

	Collector string `json:"collector" doc:"Who collects; empty for nobody"`
	Pass      string `json:"pass" doc:"The pass's number; empty for none"`
	Returned  bool   `json:"returned" doc:"Whether the pass came back"`
}

// DeskView is the desk's day.
type DeskView struct {
	Date      string         `json:"date"`
	Movements []MovementView `json:"movements" doc:"Newest first"`
	Late      int            `json:"late"`
	Left      int            `json:"left"`
	DueBack   []DueBack      `json:"dueBack"`
	Reasons   []Reason       `json:"reasons"`
	Mostly    []ReasonCount  `json:"mostly"`
	Fetches   []FetchView    `json:"fetches" doc:"Students to be fetched"`
	Passes    []PassView     `json:"passes" doc:"Passes that are still out"`
	Groups    []GroupView    `json:"groups" doc:"Who comes together, with those who are not in yet"`
}

// ReasonCount is how often a reason was given.
type ReasonCount struct {
	Reason string `json:"reason"`
	N      int    `json:"n"`
}

// Desk returns the desk's movements as at a moment.
func (o *Office) Desk(ctx context.Context, asAt string) (DeskView, error) {
	out := DeskView{Movements: []MovementView{}, DueBack: []DueBack{}, Mostly: []ReasonCount{}, Fetches: []FetchView{}, Passes: []PassView{}, Groups: []GroupView{}}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		out.Date, out.Reasons = m.Date.String(), v.settings.Reasons
		for i := len(x.movements) - 1; i >= 0; i-- {
			mv := x.movements[i]
			if mv.Known > m.Known || mv.Minute > m.Minute {
				continue
			}
			out.add(v, x, mv, m)
		}
		for _, s := range x.Roll {
			if b, ok := v.dueBack(s, v.position(x, s.ID, m), m); ok {
				out.DueBack = append(out.DueBack, b)
			}
		}
		sortDueBack(out.DueBack)
		out.Fetches, out.Groups = v.fetches(x, m), v.groups(x, m)
		for _, pass := range x.passesOut(m) {
			view, err := v.passView(x, pass, m)
			if err != nil {
				return err
			}
			out.Passes = append(out.Passes, view)
		}
		return nil
	})
	return out, err
}

func (out *DeskView) add(v view, x *Day, mv store.Movement, m Moment) {
	s, err := v.school.Student(mv.StudentID)
	if err != nil {
		return
	}
	row := MovementView{ID: mv.ID, Student: v.ref(s, x.Date), At: mv.Minute.String(), Kind: mv.Kind, Reason: mv.Reason, Note: mv.Note,
		Returns: minuteText(orMissing(mv.Returns)), By: mv.By, Undone: mv.UndoneAt != nil && *mv.UndoneAt <= m.Known, State: "in", Collector: mv.Collector}
	if pass := x.passOf(mv.ID, m.Known); pass != nil {
		row.Pass, row.Returned = passnumber.Number(pass.ID), returnedBy(*pass, m.Known)
	}
	late := false
	if mv.Kind == "departed" {
		row.State = "left"
	} else if e := x.Evidence[mv.StudentID]; e != nil && mv.Kind == "arrived" {
		came, isLate, _ := whereabouts.FirstArrival(*e, v.rules(), m.Minute, m.Known)
		if late = isLate && came == mv.Minute; late {
			row.State = "late"
		}
	}
	out.Movements = append(out.Movements, row)
	if row.Undone {
		return
	}
	if mv.Kind == "departed" {
		out.Left++
	}
	if late {
		out.Late++
		for i := range out.Mostly {
			if out.Mostly[i].Reason == mv.Reason {
				out.Mostly[i].N++
				return
			}
		}
		if mv.Reason != "" {
			out.Mostly = append(out.Mostly, ReasonCount{mv.Reason, 1})
		}
	}
}

// AddReason adds to the school's reasons while working.
func (o *Office) AddReason(ctx context.Context, p Person, key string, r Reason) (Receipt, error) {
	r.Word = strings.TrimSpace(r.Word)
	if r.Word == "" {
		return Receipt{}, wrong("a reason needs a word")
	}
	return o.changeSettings(ctx, p, key, "reason", func(v view, next *Settings) (string, error) {
		for _, old := range next.Reasons {
			if old.Word == r.Word {
				return "", conflict("%q is there already", r.Word)
			}
		}
		for _, code := range []string{r.Absent, r.Late} {
			if _, ok := v.codes.Find(code); !ok {
				return "", wrong("there is no code %q", code)
			}
		}
		next.Reasons = append(slices.Clone(next.Reasons), r)
		return r.Word + " added", nil
	})
}

// ReasonKind is what a new reason may mean: a pair of codes that some reason has already.
type ReasonKind struct {
	Absent  string `json:"absent"`
	Late    string `json:"late"`
	Excused bool   `json:"excused"`
	Words   string `json:"words" doc:"What the codes say"`
}

// ReasonKinds lists what a new reason may mean, as the school's reasons have it.
func (o *Office) ReasonKinds(_ context.Context) ([]ReasonKind, error) {
	out := []ReasonKind{}
	err := o.look(func(v view) error {
		for _, r := range v.settings.Reasons {
			k := ReasonKind{Absent: r.Absent, Late: r.Late, Excused: r.Excused}
			code, ok := v.codes.Find(r.Absent)
			if !ok || code.Unexplained || slices.ContainsFunc(out, func(old ReasonKind) bool { return old.Absent == k.Absent && old.Late == k.Late }) {
				continue
			}
			k.Words = fmt.Sprintf("%s (%s)", code.Word, code.Code)
			out = append(out, k)
		}
		return nil
	})
	return out, err
}

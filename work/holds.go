package work

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/store"
)

// NewHold keeps students' homes from being rung until a time.
type NewHold struct {
	Students []int64 `json:"students" minItems:"1" maxItems:"2000"`
	Until    string  `json:"until" doc:"As typed"`
	Reason   string  `json:"reason" maxLength:"100"`
}

// Hold keeps the homes of students off the list until a time; after it they come back
// by themselves.
func (o *Office) Hold(ctx context.Context, p Person, key string, h NewHold) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "hold", &out, func(w *writing, v view, x *Day) error {
		until, err := day.ParseTyped(h.Until)
		if err != nil {
			return wrong("held until when? %v; nobody is held", err)
		}
		if until <= w.now.Minute() {
			return wrong("%s has passed, it is %s; nobody is held", until, w.now.Minute())
		}
		reason := strings.TrimSpace(h.Reason)
		if reason == "" {
			return wrong("say what they are held for; nobody is held")
		}
		for _, id := range h.Students {
			if x.Evidence[id] == nil {
				return notFound("student %d is not on the roll today; nobody is held", id)
			}
		}
		id, err := store.AddHold(ctx, w.tx, store.Hold{Date: x.Date, Minute: w.now.Minute(), Until: until, Reason: reason, Students: h.Students, Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("%s held until %s: %s", countOf(len(h.Students), "student"), until, reason), IDs: []int64{id}}
		return err
	})
	return out, err
}

// EndHold ends a hold before its time.
func (o *Office) EndHold(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "hold ended", &out, func(w *writing, _ view, x *Day) error {
		for _, h := range x.holds {
			if h.ID != id {
				continue
			}
			done, err := store.EndHold(ctx, w.tx, id, w.journal.ID)
			if err == nil && !done {
				err = conflict("that hold was ended already")
			}
			out = Receipt{Seq: w.journal.ID, Words: "No longer held: " + h.Reason, IDs: []int64{id}}
			return err
		}
		return notFound("there is no such hold today")
	})
	return out, err
}

// HoldView is a group whose homes are not rung yet.
type HoldView struct {
	ID      int64        `json:"id"`
	Reason  string       `json:"reason"`
	Until   string       `json:"until"`
	By      string       `json:"by"`
	Since   string       `json:"since"`
	Waiting []StudentRef `json:"waiting" doc:"Those of them who are still missing"`
	Of      int          `json:"of" doc:"How many were held"`
}

// runs reports whether a hold had begun and not ended by a moment.
func runs(h store.Hold, m Moment) bool {
	return h.Known <= m.Known && h.Minute <= m.Minute && (h.EndedAt == nil || *h.EndedAt > m.Known)
}

// holdViews lists the holds that run, with those of them on the call list.
func (v view) holdViews(x *Day, missing []followup.Missing, m Moment) []HoldView {
	onList := map[int64]bool{}
	for _, s := range missing {
		onList[idOf(s)] = true
	}
	out := []HoldView{}
	for _, h := range x.holds {
		if !runs(h, m) || m.Minute >= h.Until {
			continue
		}
		row := HoldView{ID: h.ID, Reason: h.Reason, Until: h.Until.String(), By: h.By, Since: h.Minute.String(), Of: len(h.Students), Waiting: []StudentRef{}}
		for _, id := range h.Students {
			if onList[id] {
				row.Waiting = append(row.Waiting, v.ref(v.school.Students[v.school.student[id]], m.Date))
			}
		}
		if len(row.Waiting) > 0 {
			out = append(out, row)
		}
	}
	return out
}

// countOf says a number of things: "1 student", "13 students".
func countOf(n int, thing string) string {
	if n != 1 {
		thing += "s"
	}
	return fmt.Sprint(n, " ", thing)
}

package work

import (
	"context"

	"meldung/core/day"
	"meldung/store"
)

// Reason is one of the school's reasons with the codes it is tied to.
type Reason struct {
	Word    string `json:"word"`
	Absent  string `json:"absent" doc:"Code of a missed slot"`
	Late    string `json:"late" doc:"Code of a slot come late to"`
	Excused bool   `json:"excused" doc:"Whether leaving early for it is excused"`
	Arrive  bool   `json:"arrive" doc:"Offered to those who arrive late"`
	Leave   bool   `json:"leave" doc:"Offered to those who leave"`
	Home    bool   `json:"home" doc:"Offered when home rings or is rung"`
	Key     string `json:"key" doc:"Key that picks it on a call"`
}

// Settings are what the school has decided.
type Settings struct {
	Name           string     `json:"name"`
	Codes          string     `json:"codes"`
	LateGrace      day.Minute `json:"lateGrace"`
	ReturnGrace    day.Minute `json:"returnGrace"`
	DayMargin      day.Minute `json:"dayMargin"`
	RegisterWithin day.Minute `json:"registerWithin"`
	TryAgain       day.Minute `json:"tryAgain"`
	RemindAfter    day.Minute `json:"remindAfter" doc:"Minutes overdue after which the teacher of a register is reminded; 0 for never"`
	Distance       string     `json:"distance" doc:"Code of those who attend at a distance; empty where nobody may"`
	Reasons        []Reason   `json:"reasons"`
}

// onTheWay is the reason that explains a student only until a time.
const onTheWay = "on the way"

// ferryReason is what those who come together by a ferry begin with.
const ferryReason = "ferry"

// noReason is given when nothing is known.
const noReason = "no reason"

// UsualSettings are what a school starts with (common practice, no source).
func UsualSettings() Settings {
	return Settings{
		Name: "School", Codes: "plain", LateGrace: 5, ReturnGrace: 5, DayMargin: 15, RegisterWithin: 15, TryAgain: 20, RemindAfter: 5, Distance: "R",
		Reasons: []Reason{
			{Word: "ill", Absent: "M", Late: "LX", Excused: true, Leave: true, Home: true, Key: "i"},
			{Word: "appointment", Absent: "X", Late: "LX", Excused: true, Arrive: true, Leave: true, Home: true, Key: "a"},
			{Word: onTheWay, Absent: "N", Late: "L", Home: true, Key: "w"},
			{Word: "away", Absent: "X", Late: "LX", Excused: true, Home: true, Key: "y"},
			{Word: ferryReason, Absent: "X", Late: "LX", Excused: true, Arrive: true},
			{Word: "overslept", Absent: "U", Late: "L", Arrive: true},
			{Word: "family", Absent: "X", Late: "LX", Excused: true, Arrive: true, Leave: true},
			{Word: "truant", Absent: "U", Late: "L", Home: true, Key: "t"},
			{Word: noReason, Absent: "N", Late: "L", Arrive: true, Leave: true},
		},
	}
}

// reason returns the school's reason with this word; another word is one of the
// office's own and counts as excused.
func (s Settings) reason(word string) Reason {
	if word == "" {
		word = noReason
	}
	for _, r := range s.Reasons {
		if r.Word == word {
			return r
		}
	}
	return Reason{Word: word, Absent: "X", Late: "LX", Excused: true}
}

func (s Settings) reasonCode(word string, absent bool) string {
	r := s.reason(word)
	if absent {
		return r.Absent
	}
	return r.Late
}

// changeSettings changes what the school has decided, in one write; change says in
// words what is new.
func (o *Office) changeSettings(ctx context.Context, p Person, key, kind string, change func(v view, next *Settings) (words string, err error)) (Receipt, error) {
	var out Receipt
	var next *Settings
	err := o.write(ctx, p, key, kind, &out, func(w *writing) error {
		return o.look(func(v view) error {
			changed := v.settings
			words, err := change(v, &changed)
			if err != nil {
				return err
			}
			next = &changed
			out = Receipt{Seq: w.journal.ID, Words: words, IDs: []int64{}}
			return store.SetSetting(ctx, w.tx, "school", changed)
		})
	})
	if err == nil && next != nil {
		o.mu.Lock()
		o.settings = *next
		o.mu.Unlock()
	}
	return out, err
}

// RegisterRules are what the school has decided about registers, in minutes.
type RegisterRules struct {
	Within      day.Minute `json:"within" minimum:"1" maximum:"120" doc:"After the slot's start a register is to be in"`
	LateGrace   day.Minute `json:"lateGrace" minimum:"0" maximum:"60" doc:"After the slot's start one is still on time"`
	RemindAfter day.Minute `json:"remindAfter" minimum:"0" maximum:"120" doc:"Overdue, its teacher is reminded; 0 for never"`
}

// SetRegisterRules stores what the school has decided about registers.
func (o *Office) SetRegisterRules(ctx context.Context, p Person, key string, r RegisterRules) (Receipt, error) {
	return o.changeSettings(ctx, p, key, "register rules", func(_ view, next *Settings) (string, error) {
		next.RegisterWithin, next.LateGrace, next.RemindAfter = r.Within, r.LateGrace, r.RemindAfter
		return "The rules are kept, and hold from now on", nil
	})
}

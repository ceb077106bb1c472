package work

import (
	"context"
	"slices"

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
	Name           string      `json:"name"`
	Codes          string      `json:"codes"`
	LateGrace      day.Minutes `json:"lateGrace"`
	ReturnGrace    day.Minutes `json:"returnGrace"`
	DayMargin      day.Minutes `json:"dayMargin"`
	RegisterWithin day.Minutes `json:"registerWithin"`
	TryAgain       day.Minutes `json:"tryAgain"`
	RemindAfter    day.Minutes `json:"remindAfter" doc:"Minutes overdue after which the teacher of a register is reminded; 0 for never"`
	Distance       string      `json:"distance" doc:"Code of those who attend at a distance; empty where nobody may"`
	Reasons        []Reason    `json:"reasons"`
}

// OnTheWay is the reason that explains a student only until a time.
const OnTheWay = "on the way"

// FerryReason is what those who come together by a ferry begin with.
const FerryReason = "ferry"

// NoReason is given when nothing is known.
const NoReason = "no reason"

// UsualSettings are what a school starts with (common practice, no source).
func UsualSettings() Settings {
	return Settings{
		Name: "School", Codes: "plain", LateGrace: 5, ReturnGrace: 5, DayMargin: 15, RegisterWithin: 15, TryAgain: 20, RemindAfter: 5, Distance: "R",
		Reasons: []Reason{
			{Word: "ill", Absent: "M", Late: "LX", Excused: true, Leave: true, Home: true, Key: "i"},
			{Word: "appointment", Absent: "X", Late: "LX", Excused: true, Arrive: true, Leave: true, Home: true, Key: "a"},
			{Word: OnTheWay, Absent: "N", Late: "L", Home: true, Key: "w"},
			{Word: "away", Absent: "X", Late: "LX", Excused: true, Home: true, Key: "y"},
			{Word: FerryReason, Absent: "X", Late: "LX", Excused: true, Arrive: true},
			{Word: "overslept", Absent: "U", Late: "L", Arrive: true},
			{Word: "family", Absent: "X", Late: "LX", Excused: true, Arrive: true, Leave: true},
			{Word: "truant", Absent: "U", Late: "L", Home: true, Key: "t"},
			{Word: NoReason, Absent: "N", Late: "L", Arrive: true, Leave: true},
		},
	}
}

// Reason returns the school's reason with this word; another word is one of the
// office's own and counts as excused.
func (s Settings) Reason(word string) Reason {
	if word == "" {
		word = NoReason
	}
	for _, r := range s.Reasons {
		if r.Word == word {
			return r
		}
	}
	return Reason{Word: word, Absent: "X", Late: "LX", Excused: true}
}

// ReasonCode returns the code of a slot that was missed, or come late to, for a reason.
func (s Settings) ReasonCode(word string, absent bool) string {
	r := s.Reason(word)
	if absent {
		return r.Absent
	}
	return r.Late
}

// settingsName is the name under which the settings are stored.
const settingsName = "school"

// ChangeSettings changes what the school has decided, within a write. They hold from the
// present day on; earlier days stand as they stood.
func (tx *Tx) ChangeSettings(ctx context.Context, next Settings) error {
	tx.settings = &next
	return store.SetSettingFrom(ctx, tx.Tx, settingsName, next, tx.Now.Date())
}

// DecideAlways changes what the school has decided, as if it always had, within a write that
// changes the school.
func (tx *Tx) DecideAlways(ctx context.Context, next Settings) error {
	tx.Changed()
	return store.SetSetting(ctx, tx.Tx, settingsName, next)
}

// decide keeps in memory what the school decided from a date on.
func (o *Office) decide(next Settings, from day.Date) {
	r := o.records
	decided := SettingsFrom{From: from, Settings: next, Codes: r.SettingsOn(from).Codes}
	kept := slices.DeleteFunc(slices.Clone(r.Settings), func(s SettingsFrom) bool { return s.From == from })
	at := slices.IndexFunc(kept, func(s SettingsFrom) bool { return s.From > from })
	if at < 0 {
		at = len(kept)
	}
	o.records = &Records{Rows: r.Rows, Settings: slices.Insert(kept, at, decided), years: r.years, named: r.named, changes: r.changes, made: map[int]*School{}}
}

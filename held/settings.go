package held

import (
	"context"
	"encoding/json"
	"fmt"
	"iter"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/files/policyfile"
	"meldung/store"
)

// Reason is one of the school's reasons with the codes it is tied to.
type Reason struct {
	Word    string `json:"word" maxLength:"60"`
	Absent  string `json:"absent" doc:"Code of a missed slot; empty where it makes no difference"`
	Late    string `json:"late" doc:"Code of a slot come late to; empty where it makes no difference"`
	Excused bool   `json:"excused" doc:"Whether leaving early for it is excused"`
	Arrive  bool   `json:"arrive" doc:"Offered to those who arrive late"`
	Leave   bool   `json:"leave" doc:"Offered to those who leave"`
	Home    bool   `json:"home" doc:"Offered when home rings or is rung"`
	Key     string `json:"key" maxLength:"1" doc:"Key that picks it on a call"`
	Retired bool   `json:"retired,omitempty" doc:"Offered no more; what was said with it stands"`
	Unknown bool   `json:"unknown,omitempty" doc:"Says not where the student is: no answer of a home, and nobody is explained by it"`
}

// MeetingPoint is where some go when everybody leaves the building.
type MeetingPoint struct {
	Name string   `json:"name" minLength:"1" maxLength:"60"`
	Who  []string `json:"who" maxItems:"200" doc:"Forms by name, Staff, Visitors"`
}

// Settings are what the school has decided.
type Settings struct {
	Name           string      `json:"name"`
	Codes          string      `json:"codes" doc:"The code set, shipped or the school's own"`
	LateGrace      day.Minutes `json:"lateGrace"`
	ReturnGrace    day.Minutes `json:"returnGrace"`
	DayMargin      day.Minutes `json:"dayMargin"`
	RegisterWithin day.Minutes `json:"registerWithin"`
	TryAgain       day.Minutes `json:"tryAgain"`
	CallAfter      day.Minutes `json:"callAfter" doc:"Minutes after the first slot began from which homes are rung; 0 is as soon as its registers are due"`
	RemindAfter    day.Minutes `json:"remindAfter" doc:"Minutes overdue after which the teacher of a register is reminded; 0 for never"`
	AloneFrom      int         `json:"aloneFrom" doc:"Age in years from which students may leave alone; 0 for any age"`
	Reasons        []Reason    `json:"reasons" doc:"Stored as none where they are the usual ones, tied to codes by what these are used for"`

	Steps StepRules `json:"steps,omitzero"`

	Grading GradingRule `json:"grading,omitzero"`

	MeetingPoints []MeetingPoint `json:"meetingPoints,omitempty" doc:"None where each form is one of its own"`

	other Reason // what any other word means
}

// OnTheWay is the reason that explains a student only until a time.
const OnTheWay = "on the way"

// BelievesIn is what a home says that was reached and believes its child to be at school. It is no
// reason: it makes the child one to be worried for.
const BelievesIn = "believes at school"

// FerryReason is what those who come together by a ferry begin with.
const FerryReason = "ferry"

// NoReason is given when nothing is known.
const NoReason = "no reason"

// UsualSettings are what a school starts with (common practice, no source).
func UsualSettings() Settings {
	return Settings{Name: "School", Codes: "plain", LateGrace: 5, ReturnGrace: 5, DayMargin: 15, RegisterWithin: 15, TryAgain: 20, RemindAfter: 5}
}

// CallFrom is the minute of a day from which homes are rung, where its first slot is this.
func (s Settings) CallFrom(first day.Slot) day.Minute {
	if s.CallAfter > 0 {
		return first.Start.Add(s.CallAfter)
	}
	return first.Start.Add(s.RegisterWithin)
}

// usualReasons are what a school starts with (common practice, no source).
var usualReasons = []struct {
	Reason
	absent policy.Use
	late   policy.Use
}{
	{Reason{Word: "ill", Excused: true, Leave: true, Home: true, Key: "i"}, policy.UseIll, policy.UseLateWithReason},
	{Reason{Word: "appointment", Excused: true, Arrive: true, Leave: true, Home: true, Key: "a"}, policy.UseAway, policy.UseLateWithReason},
	{Reason{Word: OnTheWay, Home: true, Key: "w"}, policy.UseNoReason, policy.UseLate},
	{Reason{Word: "away", Excused: true, Home: true, Key: "y"}, policy.UseAway, policy.UseLateWithReason},
	{Reason{Word: FerryReason, Excused: true, Arrive: true}, policy.UseAway, policy.UseLateWithReason},
	{Reason{Word: "overslept", Arrive: true}, policy.UseUnexcused, policy.UseLate},
	{Reason{Word: "family", Excused: true, Arrive: true, Leave: true}, policy.UseAway, policy.UseLateWithReason},
	{Reason{Word: "truant", Unknown: true}, policy.UseUnexcused, policy.UseLate},
	{Reason{Word: NoReason, Arrive: true, Leave: true, Unknown: true}, policy.UseNoReason, policy.UseLate},
}

// UsualReasons are the usual reasons, tied to the codes of a set by what these are used for.
func UsualReasons(set *policy.CodeSet) []Reason {
	out := make([]Reason, len(usualReasons))
	for i, u := range usualReasons {
		out[i] = u.Reason
		out[i].Absent, out[i].Late = codeFor(set, u.absent), codeFor(set, u.late)
	}
	return out
}

// codeFor returns the code that a set uses for something, or for what comes nearest; empty
// where it has none.
func codeFor(set *policy.CodeSet, u policy.Use) string {
	for _, one := range append([]policy.Use{u}, map[policy.Use][]policy.Use{
		policy.UseIll: {policy.UseAway}, policy.UseAway: {policy.UseIll}, policy.UseLateWithReason: {policy.UseLate},
	}[u]...) {
		if c, ok := set.Always(one); ok {
			return c.Code
		}
	}
	return ""
}

// tied returns the settings ready for use with a code set: the usual reasons where there are
// no own, and what any other word means, which is a reason of the office's that counts.
func (s Settings) tied(set *policy.CodeSet) Settings {
	if len(s.Reasons) == 0 {
		s.Reasons = UsualReasons(set)
	}
	s.other = Reason{Absent: codeFor(set, policy.UseAway), Late: codeFor(set, policy.UseLateWithReason), Excused: true}
	return s
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
	other := s.other
	other.Word = word
	return other
}

// Offered returns the reasons that are offered, in their order.
func (s Settings) Offered() []Reason {
	return slices.DeleteFunc(slices.Clone(s.Reasons), func(r Reason) bool { return r.Retired })
}

// Together returns the settings of several sections as one: the first, with the reasons of all.
// A word that is offered in one is offered; none is given without settings.
func Together(list []Settings) Settings {
	var out Settings
	for n, s := range list {
		if n == 0 {
			out = s
			out.Reasons = slices.Clone(s.Reasons)
			continue
		}
		for _, r := range s.Reasons {
			switch i := slices.IndexFunc(out.Reasons, func(o Reason) bool { return o.Word == r.Word }); {
			case i < 0:
				out.Reasons = append(out.Reasons, r)
			case out.Reasons[i].Retired && !r.Retired:
				out.Reasons[i] = r
			}
		}
	}
	return out
}

// ReasonOf returns what a reason makes of a slot, as the core's rules take it.
func (s Settings) ReasonOf(word string) register.Reason {
	r := s.Reason(word)
	return register.Reason{Absent: r.Absent, Late: r.Late, Excused: r.Excused}
}

// The names under which it is stored what the school has decided: its settings, and its codes.
const (
	SettingsName = "school"
	CodesName    = "codes"
)

// SettingsFrom are what the school had decided from a date on, with its codes.
type SettingsFrom struct {
	From day.Date // day.NoStart for the first
	Settings
	Codes *policy.CodeSet
}

// CodesChosen is a code set that the school uses from a date on, with what becomes of the
// codes before it where reasons name them.
type CodesChosen struct {
	Set   string            `json:"set"`
	Table map[string]string `json:"table"` // by old code
	From  day.Date          `json:"-"`
	set   *policy.CodeSet
}

// mapped ties reasons to the set that tied them to the one before.
func (c CodesChosen) mapped(reasons []Reason) []Reason {
	out := slices.Clone(reasons)
	for i := range out {
		out[i].Absent, out[i].Late = c.Table[out[i].Absent], c.Table[out[i].Late]
	}
	return out
}

// decisions are what a section has decided over all time, as it is stored: settings, and
// code sets, each in the order of the dates from which they hold.
type decisions struct {
	settings []SettingsFrom // without codes; there is one at least
	codes    []CodesChosen  // there is one at least
}

// loadDecisions reads what each section has decided over all time.
func loadDecisions(ctx context.Context, q store.Queryer, sections []store.Section) (map[ids.Section]decisions, error) {
	settings, err := store.SettingsOver(ctx, q, SettingsName)
	if err != nil {
		return nil, err
	}
	own, err := store.CodeSets(ctx, q)
	if err != nil {
		return nil, err
	}
	chosen, err := store.SettingsOver(ctx, q, CodesName)
	if err != nil {
		return nil, err
	}
	of := func(r store.SettingFrom) ids.Section { return r.SectionID }
	settingsOf, chosenOf := grouped(settings, of), grouped(chosen, of)
	out := map[ids.Section]decisions{}
	for _, s := range sections {
		if out[s.ID], err = readDecisions(settingsOf[s.ID], chosenOf[s.ID], own); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// readDecisions reads the settings and code sets of a section as they are stored.
func readDecisions(rows, chosen []store.SettingFrom, own map[string]string) (decisions, error) {
	var out decisions
	if len(rows) == 0 || rows[0].From > 0 {
		rows = append([]store.SettingFrom{{Value: "{}"}}, rows...)
	}
	for _, r := range rows {
		s := SettingsFrom{From: r.From, Settings: UsualSettings()}
		if err := json.Unmarshal([]byte(r.Value), &s.Settings); err != nil {
			return out, fmt.Errorf("reading the settings from %s on: %w", r.From, err)
		}
		out.settings = append(out.settings, s)
	}
	out.codes = []CodesChosen{{Set: out.settings[0].Settings.Codes}}
	for _, r := range chosen {
		c := CodesChosen{From: r.From}
		if err := json.Unmarshal([]byte(r.Value), &c); err != nil {
			return out, fmt.Errorf("reading the codes from %s on: %w", r.From, err)
		}
		if c.From == 0 {
			out.codes = out.codes[:0]
		}
		out.codes = append(out.codes, c)
	}
	for i := range out.codes {
		set, err := codeSet(out.codes[i].Set, own)
		if err != nil {
			return out, err
		}
		out.codes[i].set = set
	}
	return out, nil
}

// over puts together what held from each date on which anything began. Reasons were tied to
// the codes of when they were decided; each later code set says what became of these.
func (d decisions) over() []SettingsFrom {
	var dates []day.Date
	for _, s := range d.settings {
		dates = append(dates, s.From)
	}
	for _, c := range d.codes {
		dates = append(dates, c.From)
	}
	slices.Sort(dates)
	var out []SettingsFrom
	for _, at := range slices.Compact(dates) {
		s := d.settings[0]
		for _, x := range d.settings {
			if x.From <= at {
				s = x
			}
		}
		for _, c := range d.codes {
			if c.From > at {
				break
			}
			if c.From > s.From {
				s.Reasons = c.mapped(s.Reasons)
			}
			s.Settings.Codes, s.Codes = c.Set, c.set
		}
		s.From = store.Held{From: at}.Dates().From
		s.Settings = s.tied(s.Codes)
		out = append(out, s)
	}
	return out
}

// codeSet returns a code set by name, the school's own or a shipped one.
func codeSet(name string, own map[string]string) (*policy.CodeSet, error) {
	if text, ok := own[name]; ok {
		return policyfile.ParseCodes(name, []byte(text))
	}
	return policyfile.ShippedCodes(name)
}

// SettingsOn returns what the section had decided by a date.
func (s *SectionRecords) SettingsOn(d day.Date) SettingsFrom {
	out := s.Settings[0]
	for _, x := range s.Settings {
		if x.From <= d {
			out = x
		}
	}
	return out
}

// CodesOver returns the settings by which marks of some dates are read: the first, with the
// dates' beginning, and each that brought other codes, with its own.
func (s *SectionRecords) CodesOver(over day.Dates) []SettingsFrom {
	first := s.SettingsOn(over.From)
	first.From = over.From
	out := []SettingsFrom{first}
	for _, x := range s.Settings {
		if x.From > over.From && x.From <= over.To && x.Settings.Codes != out[len(out)-1].Settings.Codes {
			out = append(out, x)
		}
	}
	return out
}

// Retied returns the settings by the dates from which they were decided, as if their reasons
// had been tied to a code set all along.
func (s *SectionRecords) Retied(c CodesChosen) iter.Seq2[day.Date, Settings] {
	return func(yield func(day.Date, Settings) bool) {
		for _, x := range s.decided.settings {
			x.Reasons = c.mapped(x.Reasons)
			if !yield(x.From, x.Settings) {
				return
			}
		}
	}
}

// Decided returns the records of a school of which a section has decided otherwise from a date
// on.
func (r *Records) Decided(section ids.Section, next Settings, from day.Date) *Records {
	out := &Records{Rows: r.Rows, index: r.index, changes: r.changes, made: map[int]*School{}, sections: slices.Clone(r.sections)}
	for i, s := range out.sections {
		if s.ID != section {
			continue
		}
		d := decisions{codes: s.decided.codes}
		d.settings = slices.DeleteFunc(slices.Clone(s.decided.settings), func(x SettingsFrom) bool { return x.From == from })
		at := slices.IndexFunc(d.settings, func(x SettingsFrom) bool { return x.From > from })
		if at < 0 {
			at = len(d.settings)
		}
		d.settings = slices.Insert(d.settings, at, SettingsFrom{From: from, Settings: next})
		changed := *s
		changed.decided, changed.Settings = d, d.over()
		out.sections[i] = &changed
	}
	return out
}

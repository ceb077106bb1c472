// Package outlooks holds the outlook of a school: a fit to its own past students, what it says of those of today,
// and whether it is used at all.
package outlooks

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/outlook"
	"meldung/core/policy"
	"meldung/files/outlookfile"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
)

// HistoryFile is the name under which past students are brought.
const HistoryFile = "history.csv"

// setting names the rule of the outlook among the settings.
const setting = "outlook"

// OutlookRule says whether a school uses an outlook, and how it is fitted.
type OutlookRule struct {
	On      bool               `json:"on"`
	Ridge   string             `json:"ridge" maxLength:"20" doc:"Weight of a ridge penalty; a decimal, 0 for none"`
	From    string             `json:"from" maxLength:"20" doc:"From which factor on the odds an area is called a concern; a decimal above 1"`
	History ids.OutlookHistory `json:"history" doc:"The file of past students that it was read on; another one has to be read first"`
}

// RuleOf returns the school's rule: off until it says otherwise.
func RuleOf(ctx context.Context, q store.Queryer) (OutlookRule, error) {
	r := OutlookRule{Ridge: "0", From: "1.5"}
	_, err := store.Setting(ctx, q, setting, &r)
	return r, err
}

// numbers reads the weight of the ridge, and the log-odds from which an area is a concern.
func (r OutlookRule) numbers() (ridge, from float64, err error) {
	parse := func(what, text string) (float64, error) {
		f, err := policy.ParseDecimal(text)
		if err != nil {
			return 0, work.Wrongf("%s %v", what, err)
		}
		x, _ := f.Rat().Float64()
		return x, nil
	}
	if ridge, err = parse("the ridge", r.Ridge); err != nil {
		return 0, 0, err
	}
	if from, err = parse("the factor", r.From); err != nil {
		return 0, 0, err
	}
	if from <= 1 || math.IsInf(from, 0) || math.IsInf(ridge, 0) {
		return 0, 0, work.Wrongf("the factor from which an area is a concern is above 1")
	}
	return ridge, math.Log(from), nil
}

// SetRule switches the outlook on or off. It is on only by the history that whoever switches it on has read about.
func SetRule(ctx context.Context, o *work.Office, p work.Person, key string, r OutlookRule) (work.Receipt, error) {
	var out work.Receipt
	if _, _, err := r.numbers(); err != nil {
		return out, err
	}
	if r.On {
		if _, err := Ready(ctx, o, r.Ridge, func(int, int) bool { return ctx.Err() == nil }); err != nil {
			return out, err
		}
	}
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetOutlook, Kind: "outlook", In: r, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		h, err := store.LastHistory(ctx, tx.Tx)
		switch {
		case err != nil:
			return err
		case r.On && (h == nil || h.ID != r.History):
			return work.Conflictf("another history was brought meanwhile; read what it says first. Nothing was changed")
		}
		out = tx.Receipt(map[bool]string{true: "The outlook is on", false: "The outlook is off"}[r.On])
		return store.SetSetting(ctx, tx.Tx, setting, r)
	})
	return out, err
}

// Model is a fit with how far it can be trusted.
type Model struct {
	*outlook.Fit
	Trust   outlook.Trust
	Noise   *outlook.Noise // nil where too many refits did not fit
	ID      ids.OutlookHistory
	By      string
	Brought day.Date
	inputs  []input
}

// input is an input of the history with where its value of a student of today comes from.
type input struct {
	name      string
	area      string
	indicator attention.Indicator
	policy    *policy.Policy // by which it is measured; nil for none
	known     bool           // there is a source here
}

// areas are those of inputs that are no indicator's.
const ofChanges, otherArea = "changes of school", "other"

// known are the inputs that the school itself can fill in, by their name in the history.
var known = map[string]attention.Indicator{
	"absence_rate":   {ID: "absence_rate", Window: policy.Window{Kind: policy.Year}},
	"unexcused_days": {ID: "absence", Count: "days", Of: policy.SideUnexcused, Window: policy.Window{Kind: policy.Year}},
	"lates":          {ID: "lates", Per: "school", Window: policy.Window{Kind: policy.Year}},
	"incidents":      {ID: "incidents", Roles: []string{"did it"}},
	"failing":        {ID: "failing"}, "nearly_failing": {ID: "nearly_failing"}, "mean_points": {ID: "mean_points"},
	"courses_away": {ID: "courses_away"}, "credits_behind": {ID: "credits_behind"}, "school_changes": {ID: "school_changes"},
}

// Known are the names of the inputs that the school itself can fill in, in order; others come from own fields.
func Known() []string {
	out := []string{YearInput}
	for name := range known {
		out = append(out, name)
	}
	slices.Sort(out)
	return out
}

// YearInput is the year group.
const YearInput = "year"

// sourceOf says where an input comes from; policies are those of the section, fields the names of own fields.
func sourceOf(name string, policies []*policy.Policy, fields []string) input {
	in, ok := known[name]
	out := input{name: name, area: otherArea, indicator: in, known: ok}
	switch {
	case name == YearInput:
		out.known = true
	case !ok:
		i := slices.IndexFunc(fields, func(f string) bool { return plain(f) == plain(name) })
		if i >= 0 {
			out.known, out.indicator = true, attention.Indicator{ID: "field", Field: fields[i]}
		}
	default:
		if area := in.Area(); area != "" {
			out.area = area
		}
		if slices.Contains(attention.Define(in.ID).Params, "policy") {
			if out.known = len(policies) > 0; out.known {
				out.policy = usual(policies)
				out.indicator.Policy = out.policy.ID
			}
		}
	}
	if name == "school_changes" {
		out.area = ofChanges
	}
	return out
}

// usual is the policy by which a section measures where no other is asked for, or else its first.
func usual(policies []*policy.Policy) *policy.Policy {
	for _, p := range policies {
		if p.ID == work.UsualPolicy {
			return p
		}
	}
	return policies[0]
}

// plain writes a name as a column's: a field "Changes of school" is the input changes_of_school.
func plain(name string) string {
	return strings.ReplaceAll(strings.ToLower(strings.TrimSpace(name)), " ", "_")
}

// Source says in words where an input comes from; empty for nowhere.
func (m *Model) Source(i int) string {
	in := m.inputs[i]
	switch {
	case !in.known:
		return ""
	case in.name == YearInput:
		return "the student’s year"
	case in.indicator.ID == "field":
		return "the own field " + in.indicator.Field
	case in.policy != nil:
		return fmt.Sprintf("%s this year, by “%s”", attention.Define(in.indicator.ID).Title, in.policy.Title)
	}
	return attention.Define(in.indicator.ID).Title
}

// Area is what an input is about.
func (m *Model) Area(i int) string { return m.inputs[i].area }

var errNotReady = errors.New("the outlook is not fitted yet")

func key(h ids.OutlookHistory, ridge string) string { return fmt.Sprint("outlook ", h, " ", ridge) }

// Ready fits the outlook where that was not done yet, while nobody waits for it. Each step is told: how many
// refits there are of how many; false ends it.
func Ready(ctx context.Context, o *work.Office, ridge string, step func(done, of int) bool) (*Model, error) {
	var h *store.OutlookHistory
	var m *Model
	err := o.Read(ctx, func(v work.Snapshot) (err error) {
		if h, err = store.LastHistory(ctx, v.Store()); err != nil || h == nil {
			return err
		}
		m, err = work.Remember(v, key(h.ID, ridge), []string{"outlook_history"}, func() (*Model, error) { return nil, errNotReady })
		return err
	})
	switch {
	case err == nil && h == nil:
		return nil, work.Conflictf("no past students have been brought yet: %s, under School, Import", HistoryFile)
	case !errors.Is(err, errNotReady):
		return m, err
	}
	if m, err = fit(h, ridge, step); err != nil {
		return nil, err
	}
	if !step(0, 1) {
		return nil, ctx.Err()
	}
	return m, o.Read(ctx, func(v work.Snapshot) error {
		m, err = work.Remember(v, key(h.ID, ridge), []string{"outlook_history"}, func() (*Model, error) { return m, nil })
		return err
	})
}

func fit(h *store.OutlookHistory, ridge string, step func(done, of int) bool) (*Model, error) {
	weight, _, err := OutlookRule{Ridge: ridge, From: "2"}.numbers()
	if err != nil {
		return nil, err
	}
	past, _, wrong := outlookfile.Read(HistoryFile, h.Content, "", nil)
	if len(wrong) > 0 {
		return nil, work.Conflictf("%s", wrong[0])
	}
	m := &Model{ID: h.ID, By: h.By, Brought: h.Known.Date()}
	if m.Fit, err = outlook.New(past, weight); err != nil {
		return nil, work.Conflictf("%v", err)
	}
	m.Trust = m.Fit.Trust()
	m.Noise = m.Fit.Noise(1, step)
	return m, nil
}

// Warm fits the outlook that the school uses, where that was not done yet, while nobody waits for it.
func Warm(ctx context.Context, o *work.Office) error {
	r, err := RuleOf(ctx, o.Store().Read())
	if err != nil || !r.On {
		return err
	}
	_, err = Ready(ctx, o, r.Ridge, func(int, int) bool { return ctx.Err() == nil })
	var told *work.Error
	if errors.As(err, &told) {
		return nil // its own page says so
	}
	return err
}

// Held returns the model that the school uses, and its rule; nil while it is off, or not fitted yet.
func Held(ctx context.Context, v work.Snapshot) (*Model, OutlookRule, error) {
	r, err := RuleOf(ctx, v.Store())
	if err != nil || !r.On {
		return nil, r, err
	}
	h, err := store.LastHistory(ctx, v.Store())
	if err != nil || h == nil || h.ID != r.History {
		return nil, r, err
	}
	m, err := work.Remember(v, key(h.ID, r.Ridge), []string{"outlook_history"}, func() (*Model, error) {
		return fit(h, r.Ridge, func(int, int) bool { return true })
	})
	return m, r, err
}

// Of is a model of inputs alone, fitted on nothing: it reads them.
func Of(names []string) *Model {
	h := &outlook.History{}
	for _, n := range names {
		h.Inputs = append(h.Inputs, outlook.Input{Name: n, Number: true})
	}
	return &Model{Fit: &outlook.Fit{History: h}}
}

// For puts the model to a section: where its inputs come from there.
func (m *Model) For(ctx context.Context, s work.Section, on day.Date) (*Model, error) {
	policies, err := s.PoliciesOn(on)
	if err != nil {
		return nil, err
	}
	rows, err := store.OwnFields(ctx, s.Store())
	if err != nil {
		return nil, err
	}
	var fields []string
	for _, f := range rows {
		if !f.Retired {
			fields = append(fields, f.Name)
		}
	}
	out := *m
	out.inputs = nil
	for _, in := range m.History.Inputs {
		out.inputs = append(out.inputs, sourceOf(in.Name, policies, fields))
	}
	return &out, nil
}

// Reader gives the inputs of the students of a section: of one, and then as at a school day.
func (m *Model) Reader(s *attention.School) func(i int) func(d int) []outlook.Value {
	of := make([]func(i int) func(d int) attention.Value, len(m.inputs))
	for n, in := range m.inputs {
		switch {
		case !in.known:
			of[n] = func(int) func(int) attention.Value { return func(int) attention.Value { return attention.Value{} } }
		case in.name == YearInput:
			of[n] = func(i int) func(int) attention.Value {
				return func(int) attention.Value { return attention.WordOf(s.Students[i].Year) }
			}
		default:
			of[n] = s.Evaluator(in.indicator)
		}
	}
	return func(i int) func(d int) []outlook.Value {
		at := make([]func(d int) attention.Value, len(of))
		for n := range of {
			at[n] = of[n](i)
		}
		return func(d int) []outlook.Value {
			out := make([]outlook.Value, len(at))
			for n := range at {
				out[n] = value(at[n](d), m.History.Inputs[n].Number)
			}
			return out
		}
	}
}

func value(v attention.Value, number bool) outlook.Value {
	switch {
	case v.Kind == attention.Number && number:
		return outlook.Value{Known: true, Number: float64(v.Num) / float64(v.Den)}
	case v.Kind == attention.Number:
		return outlook.Value{Known: true, Word: v.Text(false)}
	case v.Kind == attention.Word && number:
		x, err := strconv.ParseFloat(v.Word, 64)
		return outlook.Value{Known: err == nil, Number: x}
	case v.Kind == attention.Word && v.Word != "":
		return outlook.Value{Known: true, Word: v.Word}
	}
	return outlook.Value{}
}

// Share is what an area gives to the log-odds beside the mean student.
type Share struct {
	Area string  `json:"area"`
	Odds float64 `json:"odds"`
}

// Shares are those of the areas, in the order of their first inputs.
func (m *Model) Shares(o outlook.Outlook) []Share {
	var out []Share
	for i, x := range o.Shares {
		n := slices.IndexFunc(out, func(s Share) bool { return s.Area == m.inputs[i].area })
		if n < 0 {
			out = append(out, Share{m.inputs[i].area, x})
			continue
		}
		out[n].Odds += x
	}
	return out
}

// Concern is the log-odds from which an area's share is a concern.
func (r OutlookRule) Concern() float64 {
	_, from, err := r.numbers()
	if err != nil {
		return math.Inf(1)
	}
	return from
}

// Check says what is wrong with a history, and how many rows it has.
func Check(content []byte) (h *outlook.History, wrong []table.Problem) {
	h, _, wrong = outlookfile.Read(HistoryFile, bytes.Clone(content), "", nil)
	return h, wrong
}

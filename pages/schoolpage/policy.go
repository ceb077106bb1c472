package schoolpage

import (
	"context"
	"errors"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// PolicyView is a policy as it holds on a date: in plain words, and as it is written.
type PolicyView struct {
	ID       string                `json:"id"`
	Title    string                `json:"title"`
	Source   string                `json:"source"`
	Version  string                `json:"version" doc:"Tells one wording from another"`
	On       string                `json:"on" doc:"The date on which it holds, in words"`
	Plain    []policy.Matter       `json:"plain" doc:"What it says, in sentences"`
	Text     string                `json:"text" doc:"As it is written"`
	Form     policyfile.PolicyForm `json:"form"`
	Versions []PolicyVersion       `json:"versions" doc:"Its wordings in the order of the dates from which they hold"`
	Section  string                `json:"section" doc:"Whose it is, where the sections in scope measure by different ones; else empty"`
}

// PolicyVersion is one wording of a policy.
type PolicyVersion struct {
	From    string `json:"from" doc:"In words: as it ships, or from which date on"`
	Date    string `json:"date" doc:"YYYY-MM-DD, a date on which it holds; empty for every date"`
	Version string `json:"version" doc:"Empty where it is taken away"`
	Title   string `json:"title"`
	Now     bool   `json:"now" doc:"It is the one that is shown"`
}

// ShowPolicy returns a policy as it holds on a date, in the first of some sections; an empty date
// is today.
func ShowPolicy(ctx context.Context, o *work.Office, id, on string, of ...ids.Section) (out PolicyView, err error) {
	m, err := o.Moment("", of...)
	if err != nil {
		return out, err
	}
	d := m.Date
	if on != "" {
		if d, err = day.ParseDate(on); err != nil {
			return out, work.Wrongf("%v", err)
		}
	}
	return out, o.Read(ctx, func(v work.Snapshot) error {
		s := v.In(m.Scope)[0]
		list, err := s.PoliciesOn(d)
		if err != nil {
			return err
		}
		for _, p := range list {
			if p.ID != id {
				continue
			}
			text, err := s.PolicyText(id, d)
			if err != nil {
				return err
			}
			out = PolicyView{ID: id, Title: p.Title, Source: p.Source, Version: p.Version, On: d.Spoken() + d.Time().Format(" 2006"),
				Plain: p.Plainly(), Text: string(text), Form: policyfile.FormOf(p)}
			for _, other := range v.In(m.Scope)[1:] {
				same, err := measuresBy(other, p, d)
				if err != nil {
					return err
				}
				if !same {
					out.Section = s.Name
				}
			}
			out.Versions, err = versions(s, id, d)
			return err
		}
		return work.NotFoundf("the school measures by no policy %q on %s", id, d.Spoken())
	})
}

// measuresBy reports whether a section measures by a policy, in this wording, on a date.
func measuresBy(s work.Section, p *policy.Policy, d day.Date) (bool, error) {
	list, err := s.PoliciesOn(d)
	return slices.ContainsFunc(list, func(o *policy.Policy) bool { return o.ID == p.ID && o.Version == p.Version }), err
}

// versions lists the wordings of a policy in a section; the one that holds on the date is marked.
func versions(s work.Section, id string, on day.Date) ([]PolicyVersion, error) {
	out := []PolicyVersion{}
	if p, err := policyfile.Shipped(id); err == nil {
		out = append(out, PolicyVersion{From: "as it comes with the program", Version: p.Version, Title: p.Title})
	}
	now := len(out) - 1
	for _, p := range s.OwnPolicies() {
		if p.ID != id {
			continue
		}
		if len(out) == 1 && out[0].Date == "" {
			out[0].Date = (p.From - 1).String()
		}
		one := PolicyVersion{From: "from " + p.From.Spoken() + p.From.Time().Format(" 2006") + " on", Date: p.From.String()}
		if p.Policy != nil {
			one.Version, one.Title = p.Policy.Version, p.Policy.Title
		}
		if p.From <= on {
			now = len(out)
		}
		out = append(out, one)
	}
	if now >= 0 {
		out[now].Now = true
	}
	return out, nil
}

// PolicyDraft is a policy that is being written, as a file or filled in.
type PolicyDraft struct {
	Text string                 `json:"text,omitempty" maxLength:"100000"`
	Form *policyfile.PolicyForm `json:"form,omitempty" doc:"In place of the text"`
}

// PolicyDrafted is what a draft says, or what is wrong in it.
type PolicyDrafted struct {
	Text    string                 `json:"text" doc:"As a file"`
	Form    *policyfile.PolicyForm `json:"form,omitempty" doc:"Filled in; none while something is wrong"`
	Line    int                    `json:"line" doc:"In which line of the text something is wrong; 0 for the whole, or for nothing"`
	Problem string                 `json:"problem" doc:"Empty where nothing is wrong"`
	Plain   []policy.Matter        `json:"plain" doc:"What it says, in sentences; none while something is wrong"`
}

// DraftPolicy says what a draft says in plain words, or what is wrong in which line.
func DraftPolicy(ctx context.Context, o *work.Office, d PolicyDraft) (PolicyDrafted, error) {
	out := PolicyDrafted{Text: d.Text, Plain: []policy.Matter{}}
	if d.Form != nil {
		out.Text = string(d.Form.Text())
	}
	return out, o.Read(ctx, func(v work.Snapshot) error {
		own, err := store.CodeSets(ctx, v.Store())
		if err != nil {
			return err
		}
		p, err := held.ParsePolicy([]byte(out.Text), own)
		var wrong *policyfile.Problem
		switch {
		case errors.As(err, &wrong):
			out.Line, out.Problem = wrong.Line, wrong.Text
			return nil
		case err != nil:
			return err
		}
		form := policyfile.FormOf(p)
		out.Form, out.Plain = &form, p.Plainly()
		return nil
	})
}

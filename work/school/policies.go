package school

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// PolicyChoice is a policy of the school's own to be taken, or to be taken away.
type PolicyChoice struct {
	Section ids.Section `json:"section,omitempty" doc:"The section that is measured by it; 0 for every one"`
	Text    string      `json:"text,omitempty" maxLength:"100000" doc:"The policy as YAML; empty takes one away"`
	ID      string      `json:"id,omitempty" maxLength:"60" doc:"The policy that is taken away"`
	From    string      `json:"from,omitempty" maxLength:"10" doc:"The date from which it holds, today or later; empty is today"`
	Seen    string      `json:"seen,omitempty" maxLength:"20" doc:"The version whose place it is to take, as the plan named it, none for a policy more; empty does not ask"`
	Apply   bool        `json:"apply" doc:"Take it; else only look"`
}

// noPolicy is what is seen where a policy takes the place of none.
const noPolicy = "none"

// PolicyPlan is what taking a policy means, or has done.
type PolicyPlan struct {
	Applied bool          `json:"applied"`
	ID      string        `json:"id"`
	Title   string        `json:"title"`
	When    string        `json:"when" doc:"From when it holds, in words"`
	Instead string        `json:"instead" doc:"The title of the policy whose place it takes; empty for none"`
	Version string        `json:"version" doc:"The version whose place it takes; empty for none"`
	Under   []string      `json:"under" doc:"How the school stands under it today, and under the one before, a line each"`
	Moved   int           `json:"moved" doc:"Students in another band under this one, up to yesterday"`
	Stay    int           `json:"stay" doc:"Students in the same band under both"`
	Moves   []BandMove    `json:"moves" doc:"Who stands in which band under the one before and under this one, up to yesterday"`
	Lines   []LineUnder   `json:"lines" doc:"Who came to each line under the one before and under this one, up to yesterday"`
	Receipt *work.Receipt `json:"receipt,omitempty"`
}

// TakePolicy looks at a policy of the school's own, or takes it from a date on. What is looked
// at as of an earlier date is measured as it was.
func TakePolicy(ctx context.Context, o *work.Office, p work.Person, key string, c PolicyChoice) (PolicyPlan, error) {
	var out PolicyPlan
	job := work.Job{By: p, Key: key, Needs: work.MayTakePolicy, Kind: "policy", In: c, Out: &out}
	if !c.Apply {
		return out, o.Look(ctx, job, func(v work.Snapshot) error {
			_, _, err := c.plan(ctx, v, &out)
			return err
		})
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		sections, row, err := c.plan(ctx, v, &out)
		if err != nil {
			return err
		}
		row.Journal = tx.Entry
		receipt := tx.Receipt(out.Title + " holds " + out.When)
		if row.Text == "" {
			receipt.Text = out.Title + " is taken away " + out.When
		}
		out.Applied, out.Receipt = true, &receipt
		tx.Changed()
		for _, s := range sections {
			row.SectionID = s.ID
			if err := store.SetPolicyFile(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// plan works out what the choice means, and for which sections: those that do not measure by
// it already.
func (c PolicyChoice) plan(ctx context.Context, v work.Snapshot, out *PolicyPlan) ([]work.Section, store.PolicyFile, error) {
	row := store.PolicyFile{Policy: c.ID, From: v.Now.Date(), Text: c.Text}
	asked, err := v.SectionsWith(c.Section)
	if err != nil {
		return nil, row, err
	}
	if c.From != "" {
		from, err := day.ParseDate(c.From)
		if err != nil {
			return nil, row, work.Wrongf("%v; nothing was changed", err)
		}
		if row.From = from; from < v.Now.Date() {
			return nil, row, work.Refusedf("figures up to yesterday were measured by what held then: a policy can hold from today on; nothing was changed")
		}
	}
	*out = PolicyPlan{ID: row.Policy, When: "from " + row.From.Spoken() + " on", Under: []string{}, Moves: []BandMove{}, Lines: []LineUnder{}}
	var sections []work.Section
	var same error
	for _, s := range asked {
		next, err := c.read(ctx, s)
		if err != nil {
			return nil, row, err
		}
		if next != nil {
			row.Policy, out.ID = next.ID, next.ID
		}
		changes, err := c.planIn(s, row, next, out)
		switch {
		case err != nil && !changes:
			return nil, row, err
		case err != nil:
			same = err // in this section; in another it may be new
		default:
			sections = append(sections, s)
		}
	}
	if len(sections) == 0 {
		return nil, row, same
	}
	return sections, row, nil
}

// planIn says what the choice means in a section. Where it would change nothing there, it says
// so and reports true.
func (c PolicyChoice) planIn(s work.Section, row store.PolicyFile, next *policy.Policy, out *PolicyPlan) (bool, error) {
	before, err := s.PoliciesOn(row.From)
	if err != nil {
		return false, err
	}
	old := slices.IndexFunc(before, func(p *policy.Policy) bool { return p.ID == row.Policy })
	if old >= 0 {
		out.Instead, out.Title, out.Version = before[old].Title, before[old].Title, before[old].Version
	}
	if c.Seen != "" && c.Seen != cmp.Or(out.Version, noPolicy) {
		return false, work.Conflictf("somebody else has changed that policy in between; nothing was changed, look at it again")
	}
	switch {
	case next == nil && !slices.ContainsFunc(s.OwnPolicies(), func(p held.PolicyFrom) bool { return p.ID == c.ID }):
		return true, work.NotFoundf("the school has no policy of its own called %q; nothing was changed", c.ID)
	case next == nil && old < 0:
		return true, work.Conflictf("%q is taken away already; nothing was changed", c.ID)
	case next != nil && old >= 0 && before[old].Version == next.Version:
		return true, work.Conflictf("that policy holds already; nothing was changed")
	}
	in := ""
	if len(s.Sections()) > 1 {
		in = s.Name + ", "
	}
	var was *policy.Policy
	if old >= 0 {
		was = before[old]
		out.stands(s, in+"now", was)
	}
	if next != nil {
		out.Title = next.Title
		out.stands(s, in+"under this one", next)
	}
	out.compare(s, was, next)
	return true, nil
}

// read reads the policy, in which every code must be one of the section's, since by these it is
// measured; nil where one is taken away.
func (c PolicyChoice) read(ctx context.Context, s work.Section) (*policy.Policy, error) {
	if c.Text == "" {
		return nil, nil
	}
	own, err := store.CodeSets(ctx, s.Store())
	if err != nil {
		return nil, err
	}
	next, err := held.ParsePolicy([]byte(c.Text), own)
	if err == nil {
		_, err = policyfile.WithCodes([]byte(c.Text), s.Codes.ID)
	}
	if err != nil {
		return nil, work.Wrongf("%v; nothing was changed", err)
	}
	return next, nil
}

// stands says how a section stands under a policy up to yesterday.
func (out *PolicyPlan) stands(s work.Section, what string, p *policy.Policy) {
	if s.Ledger == nil {
		return
	}
	g := absence.NewMeasure(s.Ledger, p).Group(onRoll(s), s.Ledger.YearTo(s.On-1))
	line := fmt.Sprintf("%s, %s: absence %s %%", what, p.Title, g.Rate())
	for i, b := range p.Bands {
		line += fmt.Sprintf(", %d %s", g.Bands[i], b.Name)
	}
	out.Under = append(out.Under, line)
}

// onRoll returns the rows in the ledger of those on a section's roll.
func onRoll(s work.Section) []int {
	var out []int
	for i, st := range s.Students {
		if st.Section == s.ID && st.EnrolledOn(s.On) {
			out = append(out, i)
		}
	}
	return out
}

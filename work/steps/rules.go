package steps

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Rules are what a section does about what its policies say is due.
type Rules struct {
	Section ids.Section    `json:"section,omitempty" doc:"The section whose rules they are; 0 for every one"`
	Rules   held.StepRules `json:"rules"`
	Seen    string         `json:"seen,omitempty" maxLength:"40" doc:"The stamp of the rules that were looked at when these were written; others meanwhile stop the write"`
}

// Stamp tells rules from others.
func Stamp(r held.StepRules) string {
	text, _ := json.Marshal(r) // of texts and numbers only
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:8])
}

// SetRules stores on which policies the school acts and what it does; it holds from now on.
func SetRules(ctx context.Context, o *work.Office, p work.Person, key string, r Rules) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetSteps, Kind: "step rules", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		sections, err := v.SectionsWith(r.Section)
		if err != nil {
			return err
		}
		templates, err := store.LetterTemplates(ctx, tx.Tx)
		if err != nil {
			return err
		}
		seen := map[string]bool{}
		for _, a := range r.Rules.Actions {
			switch {
			case !slices.Contains(held.ActionKinds, a.Kind):
				return work.Wrongf("%q is no kind of action; nothing was saved", a.Kind)
			case seen[a.Key]:
				return work.Wrongf("the action %q is there twice; nothing was saved", a.Name)
			case a.Letter != 0 && !slices.ContainsFunc(templates, func(t store.LetterTemplate) bool { return t.ID == a.Letter }):
				return work.NotFoundf("there is no such letter for %q; nothing was saved", a.Name)
			}
			seen[a.Key] = true
		}
		for _, s := range sections {
			if r.Seen != "" && Stamp(s.Settings.Steps) != r.Seen {
				return work.Conflictf("somebody else has changed what is due since you opened it; nothing was saved. Load the page again to see theirs")
			}
			if err := checkIn(s, r.Rules); err != nil {
				return err
			}
			next := s.Settings
			next.Steps = r.Rules
			if err := tx.ChangeSettings(ctx, s.ID, next); err != nil {
				return err
			}
		}
		out = tx.Receipt("Saved: what is due follows from now on")
		return nil
	})
	return out, err
}

// checkIn refuses policies by which a section does not measure, and lines that they do not have.
func checkIn(s work.Section, r held.StepRules) error {
	list, err := s.PoliciesOn(s.On)
	if err != nil {
		return err
	}
	seen := map[string]bool{}
	for _, f := range r.Follows {
		if _, err := day.ParseDate(f.From); err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		known := false
		for _, p := range list {
			known = known || p.ID == f.Policy
		}
		switch {
		case !known:
			return work.NotFoundf("%s does not measure by a policy %q; nothing was saved", s.Name, f.Policy)
		case seen[f.Policy]:
			return work.Wrongf("%s is there twice; nothing was saved", f.Policy)
		}
		seen[f.Policy] = true
	}
	actions := r.All()
	for _, l := range r.Lines {
		if l.Action != "" && !slices.ContainsFunc(actions, func(a held.Action) bool { return a.Key == l.Action }) {
			return work.NotFoundf("there is no action %q; nothing was saved", l.Action)
		}
	}
	return nil
}

package concerns

import (
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"slices"
	"strconv"
	"strings"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/rulesfile"
	"meldung/files/yamlfile"
	"meldung/store"
	"meldung/work"
)

// HeldRule is a rule that stands, with the version that it is.
type HeldRule struct {
	rulesfile.Rule
	Version int64    // 0 for one that ships
	By      string   // who changed it last; empty for one that ships
	From    day.Date // since when it stands so; NoStart for one that ships
	Problem string   // why it can't be read any more: a policy that it names is gone
}

// Policies are those that rules may name: every section's of a date.
func Policies(v work.Snapshot) (map[string]*policy.Policy, error) {
	out := map[string]*policy.Policy{}
	for _, s := range v.Sections() {
		list, err := s.PoliciesOn(v.On)
		if err != nil {
			return nil, err
		}
		for _, p := range list {
			out[p.ID] = p
		}
	}
	return out, nil
}

// Names give the words of what rules name.
func Names(policies map[string]*policy.Policy) attention.Names {
	return attention.Names{Policy: func(id string) string {
		if p := policies[id]; p != nil {
			return p.Title
		}
		return id
	}}
}

// Rules returns the school's rules in their order; those that ship where it has none.
func Rules(ctx context.Context, q store.Queryer, policies map[string]*policy.Policy) ([]HeldRule, error) {
	rows, err := store.AttentionRules(ctx, q)
	if err != nil {
		return nil, err
	}
	var out []HeldRule
	if ever, err := store.AnyAttentionRule(ctx, q); err != nil || !ever {
		if err != nil {
			return nil, err
		}
		shipped, err := rulesfile.Parse(rulesfile.Shipped(), policies)
		for _, r := range shipped {
			out = append(out, HeldRule{Rule: r, From: day.NoStart})
		}
		return out, err
	}
	for _, row := range rows {
		out = append(out, heldOf(row, policies))
	}
	return out, nil
}

func heldOf(row store.AttentionRule, policies map[string]*policy.Policy) HeldRule {
	list, err := rulesfile.Parse([]byte(row.Words), policies)
	if err != nil {
		return HeldRule{Rule: rulesfile.Rule{Rule: attention.Rule{ID: row.Key, Title: row.Key}}, Version: int64(row.ID), By: row.By, Problem: wrongIn(err)}
	}
	return HeldRule{Rule: list[0], Version: int64(row.ID), By: row.By, From: row.Known.Date()}
}

func wrongIn(err error) string {
	var p *yamlfile.Problem
	if errors.As(err, &p) {
		return p.Text
	}
	return err.Error()
}

// RuleChange saves a rule, or takes it off.
type RuleChange struct {
	Rule    RuleForm `json:"rule"`
	Version int64    `json:"version" doc:"The version that was seen; 0 for a new rule or one that ships"`
	Off     bool     `json:"off" doc:"Take the rule off"`
}

// SaveRule saves a version of a rule as the one that was seen; the versions before stay on record.
func SaveRule(ctx context.Context, o *work.Office, p work.Person, key string, c RuleChange) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetRules, Kind: "rule of attention", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		policies, err := Policies(v)
		if err != nil {
			return err
		}
		held, err := Rules(ctx, tx.Tx, policies)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(held, func(h HeldRule) bool { return h.ID == c.Rule.ID })
		switch {
		case c.Rule.ID != "" && i < 0:
			return work.NotFoundf("there is no rule %q", c.Rule.ID)
		case i >= 0 && held[i].Version != c.Version:
			return work.Conflictf("%s has changed “%s” meanwhile; nothing was saved", held[i].By, held[i].Title)
		}
		row := store.AttentionRule{Key: c.Rule.ID, Place: i}
		var r rulesfile.Rule
		if c.Off {
			if i < 0 {
				return work.Wrongf("say which rule to take off")
			}
			r = held[i].Rule
		} else if r, err = c.Rule.Rule(policies); err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		if i < 0 {
			row.Place = len(held)
			row.Key = newKey(r.Title, held)
			r.ID = row.Key
		}
		if err := own(ctx, tx, held); err != nil {
			return err
		}
		words := "“" + r.Title + "” "
		if !c.Off {
			row.Words = string(rulesfile.Format([]rulesfile.Rule{r}))
			words += map[bool]string{true: "saved", false: "saved; it is off"}[r.On]
		} else {
			words += "is taken off"
		}
		if err := store.SaveAttentionRule(ctx, tx.Tx, row, tx.Entry); err != nil {
			return err
		}
		out = work.ReceiptOf[int64](tx, words)
		return nil
	})
	return out, err
}

// own makes the rules that ship the school's own, before the first of them changes.
func own(ctx context.Context, tx *work.Tx, held []HeldRule) error {
	for i, h := range held {
		if h.Version != 0 {
			continue
		}
		row := store.AttentionRule{Key: h.ID, Place: i, Words: string(rulesfile.Format([]rulesfile.Rule{h.Rule}))}
		if err := store.SaveAttentionRule(ctx, tx.Tx, row, tx.Entry); err != nil {
			return err
		}
	}
	return nil
}

// newKey makes a key of a title that no rule has.
func newKey(title string, held []HeldRule) string {
	base := strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, title), "-")
	if base == "" {
		base = "rule"
	}
	base = base[:min(len(base), 40)]
	key := base
	for n := 2; slices.ContainsFunc(held, func(h HeldRule) bool { return h.ID == key }); n++ {
		key = fmt.Sprintf("%s-%d", base, n)
	}
	return key
}

// RulesText is the text of a file of rules.
type RulesText struct {
	Text  string `json:"text" maxLength:"200000"`
	Apply bool   `json:"apply" doc:"Take them; else only look"`
	Seen  string `json:"seen,omitempty" maxLength:"20" doc:"The stamp of the look; what is taken is what was looked at"`
}

// RulesPlan is what a file of rules says and what it would change.
type RulesPlan struct {
	Problem string   `json:"problem" doc:"The first mistake, by its line; empty where there is none"`
	Changes []string `json:"changes" doc:"What each rule of the file is: new, changed, the same"`
	Stamp   string   `json:"stamp"`
	Applied bool     `json:"applied"`
}

// BringRules looks at a file of rules, and takes it when asked to: a rule takes the place of the one of its
// id, others come after those that are there; what the file lacks stays.
func BringRules(ctx context.Context, o *work.Office, p work.Person, key string, in RulesText) (RulesPlan, error) {
	out := RulesPlan{Changes: []string{}}
	var next []rulesfile.Rule
	look := func(v work.Snapshot, q store.Queryer) ([]HeldRule, error) {
		out.Changes = []string{}
		policies, err := Policies(v)
		if err != nil {
			return nil, err
		}
		if next, err = rulesfile.Parse([]byte(in.Text), policies); err != nil {
			out.Problem = err.Error()
			return nil, nil
		}
		held, err := Rules(ctx, q, policies)
		for _, r := range next {
			i := slices.IndexFunc(held, func(h HeldRule) bool { return h.ID == r.ID })
			state := "new"
			if i >= 0 {
				state = map[bool]string{true: "the same", false: "changed"}[slices.Equal(rulesfile.Format([]rulesfile.Rule{r}), rulesfile.Format([]rulesfile.Rule{held[i].Rule}))]
			}
			out.Changes = append(out.Changes, fmt.Sprintf("%s (%s): %s", r.Title, state, r.Sentence(Names(policies))))
		}
		out.Stamp = stampOf(in.Text, held)
		return held, err
	}
	job := work.Job{By: p, Key: key, Needs: work.MayBringRules, Kind: "rules of attention brought in", In: in, Out: &out}
	if !in.Apply {
		return out, o.Look(ctx, job, func(v work.Snapshot) error {
			_, err := look(v, v.Store())
			return err
		})
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		held, err := look(v, tx.Tx)
		if err != nil {
			return err
		}
		if out.Problem != "" {
			return work.Wrongf("%s; nothing was changed", out.Problem)
		}
		if in.Seen != "" && in.Seen != out.Stamp {
			return work.Conflictf("somebody has changed the rules since you looked; nothing was changed: look again")
		}
		if err := own(ctx, tx, held); err != nil {
			return err
		}
		for n, r := range next {
			place := slices.IndexFunc(held, func(h HeldRule) bool { return h.ID == r.ID })
			if place < 0 {
				place = len(held) + n
			}
			if err := store.SaveAttentionRule(ctx, tx.Tx, store.AttentionRule{Key: r.ID, Place: place, Words: string(rulesfile.Format([]rulesfile.Rule{r}))}, tx.Entry); err != nil {
				return err
			}
		}
		out.Applied = true
		return nil
	})
	return out, err
}

// stampOf tells one look at a file from another: by the file, and the versions that it was looked at beside.
func stampOf(text string, held []HeldRule) string {
	h := fnv.New64a()
	_, _ = h.Write([]byte(text))
	for _, r := range held {
		_, _ = fmt.Fprintf(h, " %s %d", r.ID, r.Version)
	}
	return strconv.FormatUint(h.Sum64(), 36)
}

package coursework

import (
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"strconv"
	"strings"

	"meldung/core/results"
	"meldung/files/gradebook"
	"meldung/files/yamlfile"
	"meldung/store"
	"meldung/work"
)

// RuleDraft is the text of a rule file, to look at or to take.
type RuleDraft struct {
	Text  string `json:"text" maxLength:"20000" doc:"A rule file; empty is the usual rule"`
	Seen  string `json:"seen,omitempty" maxLength:"20" doc:"The stamp of the rule that was open; where another holds by now, nothing is saved"`
	Apply bool   `json:"apply,omitempty" doc:"Else it is only looked at"`
}

// RulePlan is what a rule says and what it would change.
type RulePlan struct {
	Text    string   `json:"text" doc:"The text that holds"`
	Stamp   string   `json:"stamp" doc:"Of the rule that holds"`
	Title   string   `json:"title"`
	Words   []string `json:"words" doc:"What the rule says, in plain sentences"`
	Problem string   `json:"problem" doc:"What is wrong with it, by line; empty for nothing"`
	Effect  []string `json:"effect" doc:"What it would change"`
	Applied bool     `json:"applied"`
}

func stampOf(text string) string {
	h := fnv.New64a()
	_, _ = h.Write([]byte(text))
	return strconv.FormatUint(h.Sum64(), 36)
}

// ShowRule returns the rule that holds.
func ShowRule(ctx context.Context, o *work.Office) (RulePlan, error) {
	out := RulePlan{Words: []string{}, Effect: []string{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		rule, text, err := Rule(ctx, v.Store())
		if err != nil {
			return err
		}
		out.Text, out.Stamp, out.Title, out.Words = text, stampOf(text), rule.Title, rule.Plainly()
		return nil
	})
	return out, err
}

var errLooked = errors.New("only looked at")

// SetRule says what another rule would change, and takes it when asked to. No grade changes: they are read
// anew.
func SetRule(ctx context.Context, o *work.Office, p work.Person, key string, in RuleDraft) (RulePlan, error) {
	out := RulePlan{Words: []string{}, Effect: []string{}}
	look := func(v work.Snapshot) error {
		_, text, err := Rule(ctx, v.Store())
		if err != nil {
			return err
		}
		out.Text, out.Stamp = text, stampOf(text)
		rule := results.DefaultRule()
		if strings.TrimSpace(in.Text) != "" {
			rule, err = gradebook.ParseRule([]byte(in.Text))
			var wrong *yamlfile.Problem
			if errors.As(err, &wrong) {
				out.Problem = wrong.Place()
				return errLooked
			}
			if err != nil {
				return err
			}
		}
		out.Title, out.Words = rule.Title, rule.Plainly()
		out.Effect, err = effect(ctx, v, rule)
		return err
	}
	job := work.Job{By: p, Key: key, Needs: work.MaySetResultRule, Kind: "rule of course results", In: in, Out: &out}
	if !in.Apply {
		err := o.Look(ctx, job, look)
		if errors.Is(err, errLooked) {
			err = nil
		}
		return out, err
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		if err := look(v); err != nil {
			return err
		}
		if in.Seen != out.Stamp {
			return work.Conflictf("somebody has set another rule meanwhile; nothing was saved. Look at it as it is now")
		}
		out.Applied = true
		return store.AddResultRule(ctx, tx.Tx, in.Text, tx.Entry)
	})
	if errors.Is(err, errLooked) {
		return out, nil
	}
	return out, err
}

// effect says how many students would stand otherwise.
func effect(ctx context.Context, v work.Snapshot, rule *results.Rule) ([]string, error) {
	shelf, err := Read(ctx, v, v.On)
	if err != nil || !shelf.Any {
		return []string{"There are no grades yet."}, err
	}
	next := shelf.By(rule)
	type count struct{ whole, not, behind, unread int }
	tally := func(b *results.Book) (c count) {
		for i, s := range v.School.Students {
			if !s.EnrolledOn(v.On) {
				continue
			}
			sum := b.Sum(i, shelf.At)
			if len(sum.Standings) > 0 && sum.Lost == 0 {
				c.whole++
			}
			if sum.Track() != results.OnTrack {
				c.not++
			}
			if sum.Behind != nil && sum.Behind.Sign() > 0 {
				c.behind++
			}
			for _, st := range sum.Standings {
				for _, m := range st.Parts {
					if m.Written != "" && !m.Given() {
						c.unread++
					}
				}
			}
		}
		return c
	}
	was, now := tally(shelf.Book), tally(next)
	out := []string{
		moved("With it", was.whole, now.whole, "lost no credit"),
		moved("With it", was.not, now.not, "are not on track"),
		moved("With it", was.behind, now.behind, "are behind in credits"),
	}
	if n := now.unread - was.unread; n > 0 {
		out = append(out, fmt.Sprintf("%s on record can't be read by it: they would count as none.", work.Count(n, "grade")))
	}
	return out, nil
}

// moved says how many more or fewer students something is true of.
func moved(with string, was, now int, what string) string {
	switch {
	case now == was:
		return fmt.Sprintf("As many students as now %s: %d.", what, now)
	case now > was:
		return fmt.Sprintf("%s %s more %s: %d, now %d.", with, work.Count(now-was, "student"), what, now, was)
	}
	return fmt.Sprintf("%s %s fewer %s: %d, now %d.", with, work.Count(was-now, "student"), what, now, was)
}

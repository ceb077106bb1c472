package concerns

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
)

// Decide is what is decided about a student.
type Decide struct {
	Student ids.Student        `json:"student"`
	Kind    attention.Decision `json:"kind" enum:"case,wait,none"`
	Owner   ids.Account        `json:"owner,omitempty" doc:"Of a case: in whose hands it is"`
	Until   string             `json:"until,omitempty" maxLength:"10" doc:"Of a case the next date, of waiting its end: YYYY-MM-DD"`
	Text    string             `json:"text,omitempty" maxLength:"400" doc:"Why; needed where nothing is done"`
	work.Since
}

// until reads the date of a decision; nil where it needs none.
func (d Decide) until(today day.Date) (*day.Date, error) {
	if d.Kind == attention.NoAction {
		return nil, nil
	}
	on, err := day.ParseDate(d.Until)
	switch {
	case err != nil && d.Kind == attention.WaitFor:
		return nil, work.Wrongf("say until when to wait; nothing was saved")
	case err != nil:
		return nil, work.Wrongf("say when the case is looked at next; nothing was saved")
	case on < today, on == today && d.Kind == attention.WaitFor:
		return nil, work.Wrongf("%s is not ahead; nothing was saved", on.Spoken())
	}
	return &on, nil
}

// Settle decides about a student at the review that is held now, which begins with the first decision.
func Settle(ctx context.Context, o *work.Office, p work.Person, key string, d Decide) (work.Receipt, error) {
	var out work.Receipt
	d.Text = strings.TrimSpace(d.Text)
	looks, err := LookNow(ctx, o)
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayDecide, Kind: "decision", In: d, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(d.Student)
		if err != nil {
			return err
		}
		section := v.Of(s.ID)
		look, any := looks[section.ID]
		if !any {
			return work.Conflictf("no school day is over yet; nothing was saved")
		}
		r, err := begun(ctx, tx, section, look)
		if err != nil {
			return err
		}
		if err := d.untold(ctx, tx, r.ID, s); err != nil {
			return err
		}
		row := store.ReviewDecision{ReviewID: r.ID, StudentID: s.ID, Kind: string(d.Kind), Text: d.Text, AsAt: tx.Now.Date(), Origin: tx.Origin()}
		if row.Until, err = d.until(tx.Now.Date()); err != nil {
			return err
		}
		cases, err := caseload.Cases(ctx, tx.Tx, tx.Now)
		if err != nil {
			return err
		}
		if c := caseload.OpenCaseOf(cases, s.ID); c != nil && d.Kind != attention.OpenCase {
			return work.Conflictf("%s is in a case with %s: keep it with its next date, or close it under Cases. Nothing was saved", s.Name(), c.Last().Owner)
		}
		found, any := look.Found[s.ID]
		if !any {
			found, _ = look.FiguresOf(s.ID)
		}
		said := ""
		switch d.Kind {
		case attention.OpenCase:
			words, err := text(found)
			if err != nil {
				return err
			}
			c, owner, err := caseload.Take(ctx, tx, s, words, caseload.CaseChange{Owner: d.Owner, Text: d.Text, From: caseload.FromReview}, row.Until)
			if err != nil {
				return err
			}
			row.CaseID, said = &c, fmt.Sprintf("case with %s, next %s", owner, row.Until.Spoken())
		case attention.WaitFor:
			said = "waits until " + row.Until.Spoken()
		default:
			if d.Text == "" {
				return work.Wrongf("say why nothing is done; nothing was saved")
			}
			said = "no action"
		}
		if row.Rules, err = text(idsOf(found)); err != nil {
			return err
		}
		if err := put(ctx, tx, r.ID, []Found{found}, false); err != nil {
			return err
		}
		id, err := store.AddReviewDecision(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, s.Name()+": "+said, id)
		return err
	})
	return out, err
}

// untold refuses a decision where somebody else has decided about the student meanwhile.
func (d Decide) untold(ctx context.Context, tx *work.Tx, review ids.Review, s store.Student) error {
	all, err := store.ReviewDecisions(ctx, tx.Tx, tx.Now)
	if err != nil {
		return err
	}
	for _, o := range all {
		if o.ReviewID == review && o.StudentID == s.ID && d.IsNews(tx, o.Origin) {
			return work.FirstTold(o.Origin, work.Join(", ", s.Name()+": "+DecisionWords(o), o.Text))
		}
	}
	return nil
}

// DecisionWords says a decision: waits until Fri 20 March.
func DecisionWords(d store.ReviewDecision) string {
	switch attention.Decision(d.Kind) {
	case attention.OpenCase:
		return "case opened"
	case attention.WaitFor:
		return "waits until " + d.Until.Spoken()
	}
	return "no action"
}

func idsOf(f Found) []string {
	out := make([]string, len(f.Rules))
	for i, r := range f.Rules {
		out[i] = r.Rule
	}
	return out
}

func text(v any) (string, error) {
	out, err := json.Marshal(v)
	return string(out), err
}

// DecidedOf is a decision as the core judges it, at a review that is held; 0 for none of them. Cases are those
// there are.
func DecidedOf(d store.ReviewDecision, here ids.Review, cases []caseload.Case) (attention.Decided, error) {
	out := attention.Decided{Kind: attention.Decision(d.Kind), Here: d.ReviewID == here, AsAt: d.AsAt, Until: day.NoStart,
		Open: d.CaseID != nil && slices.ContainsFunc(cases, func(c caseload.Case) bool { return c.ID == *d.CaseID && c.Open() })}
	if d.Until != nil {
		out.Until = *d.Until
	}
	err := json.Unmarshal([]byte(d.Rules), &out.Rules)
	return out, err
}

// FoundOf reads what was kept of a student.
func FoundOf(student ids.Student, kept string) (Found, error) {
	out := Found{Student: student}
	err := json.Unmarshal([]byte(kept), &out)
	return out, err
}

// Word is what somebody has to say about a student at the next review.
type Word struct {
	Student ids.Student `json:"student"`
	Text    string      `json:"text" minLength:"1" maxLength:"400"`
}

// Tell keeps a word about a student for those who hold the review, on which it puts the student.
func Tell(ctx context.Context, o *work.Office, p work.Person, key string, w Word) (work.Receipt, error) {
	var out work.Receipt
	w.Text = strings.TrimSpace(w.Text)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayTellConcern, Kind: "concern told", In: w, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(w.Student)
		if err != nil {
			return err
		}
		if err := v.MaySee(p, s.ID); err != nil {
			return err
		}
		if w.Text == "" {
			return work.Wrongf("say what is to be known; nothing was saved")
		}
		id, err := store.AddConcernWord(ctx, tx.Tx, store.ConcernWord{StudentID: s.ID, Text: w.Text, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, s.Name()+": told to those who hold the review", id)
		return err
	})
	return out, err
}

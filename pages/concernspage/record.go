package concernspage

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// ReviewLine is a review that was begun.
type ReviewLine struct {
	ID       ids.Review `json:"id"`
	Section  string     `json:"section" doc:"Empty where the school has one"`
	Date     string     `json:"date" doc:"In words"`
	Day      string     `json:"day" doc:"YYYY-MM-DD"`
	Students int        `json:"students" doc:"Whom a rule found"`
	Decided  int        `json:"decided"`
	Finished string     `json:"finished" doc:"By whom and when; empty where nobody finished it"`
}

// ReviewsView is the reviews there were, the newest first.
type ReviewsView struct {
	Scope   string       `json:"scope"`
	Reviews []ReviewLine `json:"reviews"`
}

// Reviews lists the reviews that were begun by a moment.
func Reviews(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (ReviewsView, error) {
	out := ReviewsView{Reviews: []ReviewLine{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.Read(ctx, func(v work.Snapshot) error {
		out.Scope = v.ScopeText(m.Scope)
		all, err := store.Reviews(ctx, v.Store(), m.Known)
		if err != nil {
			return err
		}
		counts, err := store.ReviewCounts(ctx, v.Store(), day.NoStart)
		if err != nil {
			return err
		}
		decided, err := decidedAt(ctx, v, m.Known)
		if err != nil {
			return err
		}
		on := map[ids.Review]int{}
		for _, c := range counts {
			if c.Rules > 0 {
				on[c.ReviewID]++
			}
		}
		for _, r := range all {
			if m.Scope.Has(r.SectionID) && r.Date <= m.Date {
				line := lineOf(v, r, m.Known)
				line.Students, line.Decided = on[r.ID], len(decided[r.ID])
				out.Reviews = append(out.Reviews, line)
			}
		}
		return nil
	})
	return out, err
}

func lineOf(v work.Snapshot, r store.Review, known day.Instant) ReviewLine {
	out := ReviewLine{ID: r.ID, Section: v.Among(r.SectionID), Date: pages.SpokenBy(r.Date, v.On), Day: r.Date.String()}
	if r.FinishedAt != nil && *r.FinishedAt <= known {
		out.Finished = fmt.Sprintf("by %s, %s", cmp.Or(r.Finisher, "the program"), pages.SpokenAt(*r.FinishedAt, v.On))
	}
	return out
}

// decidedAt returns the last decision about each student at each review.
func decidedAt(ctx context.Context, v work.Snapshot, known day.Instant) (map[ids.Review]map[ids.Student]store.ReviewDecision, error) {
	all, err := store.ReviewDecisions(ctx, v.Store(), known)
	out := map[ids.Review]map[ids.Student]store.ReviewDecision{}
	for _, d := range all {
		if out[d.ReviewID] == nil {
			out[d.ReviewID] = map[ids.Student]store.ReviewDecision{}
		}
		out[d.ReviewID][d.StudentID] = d
	}
	return out, err
}

// ReviewedRow is a student as a review showed them, with what was decided.
type ReviewedRow struct {
	Student  pages.StudentRef    `json:"student"`
	Turn     string              `json:"turn" enum:"new,rising,holding,easing"`
	Concerns []pages.ConcernView `json:"concerns"`
	Rate     string              `json:"rate"`
	Chance   *Chance             `json:"chance,omitempty"`
	Decision string              `json:"decision" doc:"Empty where none was made at this review"`
	Text     string              `json:"text"`
	By       string              `json:"by"`
}

// TurnCount is how many students had a turn at a review, and at the one before.
type TurnCount struct {
	Turn   string `json:"turn" enum:"new,rising,holding,easing"`
	Now    int    `json:"now"`
	Before int    `json:"before"`
}

// ReviewRecord is a review as it was.
type ReviewRecord struct {
	Review   ReviewLine         `json:"review"`
	AsAt     string             `json:"asAt" doc:"The last school day that it read, in words"`
	Begun    string             `json:"begun" doc:"By whom and when"`
	Before   *ReviewLine        `json:"before,omitempty" doc:"The review before"`
	Rows     []ReviewedRow      `json:"rows"`
	Turns    []TurnCount        `json:"turns"`
	Decided  []DecidedCount     `json:"decided"`
	Gone     []pages.StudentRef `json:"gone" doc:"Whom a rule found at the review before, and none at this one"`
	Students int                `json:"students" doc:"Whom a rule found"`
	Earlier  int                `json:"earlier" doc:"Whom a rule found at the review before"`
}

// DecidedCount is how many decisions of a kind were made at a review, and at the one before.
type DecidedCount struct {
	Kind   string `json:"kind" enum:"case,wait,none,before,undecided"`
	Now    int    `json:"now"`
	Before int    `json:"before"`
}

// Record shows a review as it was, beside the one before.
func Record(ctx context.Context, o *work.Office, id ids.Review) (ReviewRecord, error) {
	out := ReviewRecord{Rows: []ReviewedRow{}, Turns: []TurnCount{}, Decided: []DecidedCount{}, Gone: []pages.StudentRef{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		all, err := store.Reviews(ctx, v.Store(), v.Now)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(all, func(r store.Review) bool { return r.ID == id })
		if at < 0 {
			return work.NotFoundf("there is no such review")
		}
		r := all[at]
		before := func(of store.Review) *store.Review {
			for i := range all {
				if all[i].SectionID == of.SectionID && all[i].Date < of.Date {
					return &all[i]
				}
			}
			return nil
		}
		rec := recording{v: v, out: &out}
		if rec.decided, err = decidedAt(ctx, v, v.Now); err != nil {
			return err
		}
		if rec.cases, err = caseload.Cases(ctx, v.Store(), v.Now); err != nil {
			return err
		}
		if rec.rule, err = outlooks.RuleOf(ctx, v.Store()); err != nil {
			return err
		}
		out.Review, out.AsAt, out.Begun = lineOf(v, r, v.Now), r.AsAt.Spoken(), fmt.Sprintf("by %s, %s", cmp.Or(r.By, "the program"), pages.SpokenAt(r.Known, v.On))
		out.Review.Decided = len(rec.decided[r.ID])
		return rec.make(ctx, r, before)
	})
	return out, err
}

type recording struct {
	v       work.Snapshot
	out     *ReviewRecord
	decided map[ids.Review]map[ids.Student]store.ReviewDecision
	cases   []caseload.Case // as they are now: for whom their words are
	rule    outlooks.OutlookRule
}

func (rec recording) make(ctx context.Context, r store.Review, before func(store.Review) *store.Review) error {
	counts, err := store.ReviewCounts(ctx, rec.v.Store(), day.NoStart)
	if err != nil {
		return err
	}
	of := map[ids.Review]map[ids.Student]int{}
	for _, c := range counts {
		if of[c.ReviewID] == nil {
			of[c.ReviewID] = map[ids.Student]int{}
		}
		of[c.ReviewID][c.StudentID] = c.Rules
	}
	last := before(r)
	had := map[ids.Student]int{}
	if last != nil {
		had = of[last.ID]
		line := lineOf(rec.v, *last, rec.v.Now)
		rec.out.Before = &line
	}
	rows, err := store.ReviewRowsOf(ctx, rec.v.Store(), r.ID, rec.v.Now)
	if err != nil {
		return err
	}
	if err := rec.rows(ctx, rows, r, had); err != nil {
		return err
	}
	for id, n := range had {
		if n > 0 && of[r.ID][id] == 0 {
			rec.out.Gone = append(rec.out.Gone, pages.Student(rec.v, rec.v.School.StudentOf(id), rec.v.On))
		}
	}
	slices.SortFunc(rec.out.Gone, func(a, b pages.StudentRef) int { return cmp.Compare(a.Sorted, b.Sorted) })
	var earlier map[string]int
	if last != nil {
		var two map[ids.Student]int
		if third := before(*last); third != nil {
			two = of[third.ID]
		}
		earlier = turns(of[last.ID], two)
	}
	now := turns(of[r.ID], had)
	for _, t := range turnNames {
		rec.out.Turns = append(rec.out.Turns, TurnCount{t, now[t], earlier[t]})
		rec.out.Students += now[t]
		rec.out.Earlier += earlier[t]
	}
	made, err := rec.kinds(ctx, r, rows)
	if err != nil {
		return err
	}
	var then map[string]int
	if last != nil {
		earlier, err := store.ReviewRowsOf(ctx, rec.v.Store(), last.ID, rec.v.Now)
		if err != nil {
			return err
		}
		if then, err = rec.kinds(ctx, *last, earlier); err != nil {
			return err
		}
	}
	for _, k := range []string{"case", "wait", "none", "before", "undecided"} {
		rec.out.Decided = append(rec.out.Decided, DecidedCount{k, made[k], then[k]})
	}
	return nil
}

// turnNames are the turns of the core, by their place.
var turnNames = []string{"new", "rising", "holding", "easing"}

// turns counts the students whom a rule found by their turn.
func turns(now, before map[ids.Student]int) map[string]int {
	out := map[string]int{}
	for id, n := range now {
		if n > 0 {
			out[turnNames[attention.Reviewed{Rules: n, Before: before[id]}.Turn()]]++
		}
	}
	return out
}

// kinds counts what was decided at a review, who was in hand by what had been decided before, and who was not
// decided.
func (rec recording) kinds(ctx context.Context, r store.Review, rows []store.ReviewRow) (map[string]int, error) {
	before, err := rec.before(ctx, r)
	if err != nil {
		return nil, err
	}
	out := map[string]int{}
	for _, row := range rows {
		if d, here := rec.decided[r.ID][row.StudentID]; here {
			out[d.Kind]++
			continue
		}
		f, err := concerns.FoundOf(row.StudentID, row.Found)
		if err != nil {
			return nil, err
		}
		d, any := before[row.StudentID]
		switch {
		case any && d.Holds(f.Stood(), r.Date):
			out["before"]++
		case len(f.Rules) > 0:
			out["undecided"]++
		}
	}
	return out, nil
}

// before returns the last decision about each student that was made before a review, as it stood at its end.
func (rec recording) before(ctx context.Context, r store.Review) (map[ids.Student]attention.Decided, error) {
	end := rec.v.Now
	if r.FinishedAt != nil {
		end = *r.FinishedAt
	}
	all, err := store.ReviewDecisions(ctx, rec.v.Store(), end)
	if err != nil {
		return nil, err
	}
	cases, err := caseload.Cases(ctx, rec.v.Store(), end)
	if err != nil {
		return nil, err
	}
	out := map[ids.Student]attention.Decided{}
	for _, d := range all {
		if d.ReviewID == r.ID || d.AsAt > r.Date {
			continue
		}
		if out[d.StudentID], err = concerns.DecidedOf(d, 0, cases); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (rec recording) rows(ctx context.Context, rows []store.ReviewRow, r store.Review, had map[ids.Student]int) error {
	before, err := rec.before(ctx, r)
	if err != nil {
		return err
	}
	list, of := []attention.Reviewed{}, map[int]ReviewedRow{}
	for _, kept := range rows {
		f, err := concerns.FoundOf(kept.StudentID, kept.Found)
		if err != nil {
			return err
		}
		s := rec.v.School.StudentOf(kept.StudentID)
		one := ReviewedRow{Student: pages.Student(rec.v, s, r.Date), Concerns: pages.Concerns(f, true), Rate: f.Rate, Chance: chanceOf(f.Outlook, rec.rule)}
		if d, any := rec.decided[r.ID][kept.StudentID]; any {
			one.Decision, one.Text, one.By = concerns.DecisionWords(d), caseload.DecisionText(d, rec.cases), work.Join(", ", d.By, pages.SpokenAt(d.Known, rec.v.On))
		} else if d, any := before[kept.StudentID]; any && d.Holds(f.Stood(), r.Date) {
			one.Decision = map[attention.Decision]string{attention.OpenCase: "in a case", attention.WaitFor: "waits until " + d.Until.Spoken(), attention.NoAction: "no action"}[d.Kind]
			one.By = "decided before"
		}
		reviewed := attention.Reviewed{Student: int(s.ID), Name: one.Student.Sorted, Year: s.Year, Rules: len(f.Rules), Before: had[s.ID], Since: int(f.Since()), Rate: f.AbsenceRate()}
		if f.Outlook != nil {
			reviewed.Outlook, reviewed.Moved = f.Outlook.Value(), f.Outlook.Moved
		}
		one.Turn = turnNames[reviewed.Turn()]
		list, of[int(s.ID)] = append(list, reviewed), one
	}
	attention.Order(list)
	for _, x := range list {
		rec.out.Rows = append(rec.out.Rows, of[x.Student])
	}
	return nil
}

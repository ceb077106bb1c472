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

// courseLength is over how many reviews a row shows its course.
const courseLength = 8

// Show finds the students who need a look, in the order of the decision to be made, as at a moment. A teacher
// sees their own students, without what was said in the office.
func Show(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (ConcernsView, error) {
	out := ConcernsView{Kinds: []ConcernCount{}, Rows: []ConcernRow{}, Outcomes: caseload.Outcomes, Owners: []pages.OwnerRef{}, Groups: []pages.Choice{},
		Review: ReviewNow{Deciders: []Decider{}}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	out.MayDecide, out.MayTell, out.MaySet = m.Live && p.May(work.MayDecide), m.Live && p.May(work.MayTellConcern), m.Live && p.May(work.MaySetReviews)
	if err := outlooks.Warm(ctx, o); err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		l := &listing{v: v, p: p, m: m, ask: ask, out: &out, deciders: map[string]*Decider{}}
		return l.make(ctx)
	})
	return out, err
}

// listing is the list that is being made.
type listing struct {
	v    work.Snapshot
	p    work.Person
	m    work.Moment
	ask  Ask
	out  *ConcernsView
	rule concerns.ReviewRule

	on        map[ids.Student]bool // of the group that is asked for, whom the person may see
	followed  map[ids.Student]*FollowupView
	decisions map[ids.Student]decided // the last of each
	cases     []caseload.Case
	words     map[ids.Student][]store.ConcernWord
	deciders  map[string]*Decider
	rows      []row
	of        int // on the review, of everybody whom the person may see
	due       int
}

// decided is a decision, and as the core judges it.
type decided struct {
	store.ReviewDecision
	as attention.Decided
}

// row is a student with what puts it in order.
type row struct {
	ConcernRow
	reviewed attention.Reviewed
}

func (l *listing) make(ctx context.Context) error {
	l.out.Scope, l.out.Today = l.v.ScopeText(l.m.Scope), l.m.Date.String()
	looks, rules, err := concerns.Find(ctx, l.v, l.m)
	if err != nil {
		return err
	}
	for _, h := range rules {
		if l.p.Role == work.Teacher && concerns.GoesByOutlook(&h.Rule.Rule) {
			continue
		}
		l.out.Kinds = append(l.out.Kinds, ConcernCount{Kind: h.ID, Title: h.Title, Area: concerns.AreaOf(&h.Rule.Rule)})
	}
	for _, step := range []func(context.Context) error{l.group, l.record, l.owners} {
		if err := step(ctx); err != nil {
			return err
		}
	}
	asAt := day.NoStart
	for _, look := range looks {
		asAt = max(asAt, look.AsAt)
		if look.Outlook != nil && l.p.May(work.MaySeeOutlook) {
			l.out.Chances = fmt.Sprintf("A chance is how often past students with such figures left without finishing, learned from %d of them.", len(look.Outlook.History.Rows))
		}
		if err := l.section(ctx, look); err != nil {
			return err
		}
	}
	if asAt != day.NoStart {
		l.out.AsAt, l.out.Label = asAt.String(), asAt.Spoken()
	}
	l.order()
	return nil
}

// group finds of whom the list is, and offers of whom it could be.
func (l *listing) group(_ context.Context) error {
	students, words, err := pages.GroupOf(l.v, l.m.Scope, l.m.Date, l.ask.Group)
	if err != nil {
		return err
	}
	l.out.Group, l.on = words, map[ids.Student]bool{}
	for _, s := range students {
		if l.v.MaySee(l.p, s.ID) == nil {
			l.on[s.ID] = true
		}
	}
	l.out.Students = len(l.on)
	for _, c := range pages.GroupChoices(l.v, l.m.Scope) {
		if l.p.Role != work.Teacher || l.teaches(c) {
			l.out.Groups = append(l.out.Groups, c)
		}
	}
	return nil
}

// teaches reports whether a choice is a class or a form of the teacher's own.
func (l *listing) teaches(c pages.Choice) bool {
	var class ids.Class
	n, err := fmt.Sscanf(c.Value, "class:%d", &class)
	return n == 1 && err == nil && l.v.School.Teaches(l.p.Staff, class)
}

// record reads what was decided, said and done, as it was known.
func (l *listing) record(ctx context.Context) (err error) {
	q, known := l.v.Store(), l.m.Known
	if l.rule, err = concerns.RuleOfReviews(ctx, l.v); err != nil {
		return err
	}
	if l.followed, err = lastFollowups(ctx, l.v, l.m); err != nil {
		return err
	}
	decisions, err := store.ReviewDecisions(ctx, q, known)
	if err != nil {
		return err
	}
	if l.cases, err = caseload.Cases(ctx, q, known); err != nil {
		return err
	}
	l.decisions = map[ids.Student]decided{}
	for _, d := range decisions {
		as, err := concerns.DecidedOf(d, 0, l.cases)
		if err != nil {
			return err
		}
		l.decisions[d.StudentID] = decided{d, as}
	}
	words, err := store.ConcernWords(ctx, q, known)
	l.words = map[ids.Student][]store.ConcernWord{}
	for _, w := range words {
		l.words[w.StudentID] = append(l.words[w.StudentID], w)
	}
	return err
}

func (l *listing) owners(ctx context.Context) error {
	if !l.p.May(work.MaySeeCases) {
		return nil
	}
	var err error
	l.out.Owners, err = pages.Owners(ctx, l.v, l.p)
	return err
}

// section adds those of a section who are on its review.
func (l *listing) section(ctx context.Context, look concerns.Look) error {
	reviews, err := concerns.ReviewsOf(ctx, look.Section, l.rule, l.m)
	if err != nil {
		return err
	}
	before, course, err := l.past(ctx, reviews)
	if err != nil {
		return err
	}
	kept := map[ids.Student]concerns.Found{}
	if reviews.Now != nil {
		rows, err := store.ReviewRowsOf(ctx, l.v.Store(), reviews.Now.ID, l.m.Known)
		if err != nil {
			return err
		}
		for _, r := range rows {
			if kept[r.StudentID], err = concerns.FoundOf(r.StudentID, r.Found); err != nil {
				return err
			}
		}
	}
	l.head(reviews, look)
	for _, id := range look.IDs {
		if l.v.MaySee(l.p, id) != nil {
			continue
		}
		if r := (rowing{l, look, reviews, kept, before, course, id}).row(); r != nil {
			if len(r.Concerns) > 0 || len(r.Words) > 0 {
				l.of++
			}
			if r.Due {
				l.due++
			}
			l.take(*r)
		}
	}
	return nil
}

// past returns how many rules found each student at the review before, and at the last ones.
func (l *listing) past(ctx context.Context, reviews concerns.Reviews) (before map[ids.Student]int, course []map[ids.Student]int, err error) {
	if reviews.Before == nil {
		return nil, nil, nil
	}
	past := reviews.Past[:min(len(reviews.Past), courseLength-1)]
	from := past[len(past)-1].Date
	counts, err := work.Remember(l.v, fmt.Sprint("counts of reviews from ", from), []string{"review", "review_row"}, func() (map[ids.Review]map[ids.Student]int, error) {
		return countsFrom(ctx, l.v.Store(), from)
	})
	for _, r := range slices.Backward(past) {
		course = append(course, counts[r.ID])
	}
	return counts[reviews.Before.ID], course, err
}

func countsFrom(ctx context.Context, q store.Queryer, from day.Date) (map[ids.Review]map[ids.Student]int, error) {
	all, err := store.ReviewCounts(ctx, q, from)
	out := map[ids.Review]map[ids.Student]int{}
	for _, c := range all {
		if out[c.ReviewID] == nil {
			out[c.ReviewID] = map[ids.Student]int{}
		}
		out[c.ReviewID][c.StudentID] = c.Rules
	}
	return out, err
}

// head says which review is held; of several sections what the first says.
func (l *listing) head(reviews concerns.Reviews, look concerns.Look) {
	h := &l.out.Review
	if h.Day != "" {
		h.Begun = h.Begun || reviews.Now != nil
		if reviews.Now == nil || reviews.Now.FinishedBy == nil {
			h.Finished = ""
		}
		return
	}
	h.Day, h.Date, h.AsAt, h.Rule, h.RuleText = reviews.Date.String(), reviews.Date.Spoken(), look.AsAt.Spoken(), l.rule, l.rule.Words()
	if reviews.Before != nil {
		h.Before = reviews.Before.Date.Spoken()
	}
	if reviews.Next != day.NoEnd {
		h.Next = reviews.Next.Spoken()
	}
	if r := reviews.Now; r != nil {
		h.Begun, h.AsAt = true, r.AsAt.Spoken()
		if r.FinishedBy != nil && *r.FinishedAt <= l.m.Known {
			h.Finished = fmt.Sprintf("by %s, %s at %s", cmp.Or(r.Finisher, "the program"), r.FinishedAt.Date().Spoken(), r.FinishedAt.Minute())
		}
	}
}

// take puts a row on the list where it is asked for.
func (l *listing) take(r row) {
	if !l.on[r.Student.ID] {
		return
	}
	asked := l.ask.Rule == ""
	for i, k := range l.out.Kinds {
		if slices.ContainsFunc(r.Concerns, func(c pages.ConcernView) bool { return c.Kind == k.Kind }) {
			l.out.Kinds[i].N++
			asked = asked || k.Kind == l.ask.Rule
		}
	}
	if len(r.Concerns) > 0 {
		l.out.Any++
	}
	if asked && (!l.ask.Undecided || r.Due) && (l.ask.Owner == 0 || r.Case != nil && r.Case.OwnerID == l.ask.Owner) {
		l.rows = append(l.rows, r)
	}
}

func (l *listing) order() {
	list, of := make([]attention.Reviewed, len(l.rows)), map[int]ConcernRow{}
	for i, r := range l.rows {
		list[i], of[r.reviewed.Student] = r.reviewed, r.ConcernRow
	}
	attention.Order(list)
	for _, r := range list {
		l.out.Rows = append(l.out.Rows, of[r.Student])
	}
	l.out.Review.Of, l.out.Review.Due = l.of, l.due
	for _, d := range l.deciders {
		l.out.Review.Deciders = append(l.out.Review.Deciders, *d)
	}
	slices.SortFunc(l.out.Review.Deciders, func(a, b Decider) int { return cmp.Or(cmp.Compare(b.Last, a.Last), cmp.Compare(a.By, b.By)) })
}

// lastFollowups returns each student's last follow-up that was known.
func lastFollowups(ctx context.Context, v work.Snapshot, m work.Moment) (map[ids.Student]*FollowupView, error) {
	all, err := store.Followups(ctx, v.Store(), m.Known)
	if err != nil {
		return nil, err
	}
	out := map[ids.Student]*FollowupView{}
	for _, f := range all {
		fv := &FollowupView{Date: f.Date.Spoken(), Outcome: f.Outcome, Note: caseload.Shown(f.Kept, f.Note), By: f.By}
		if f.NextDate != nil {
			fv.Next, fv.NextDay, fv.Overdue = f.NextDate.Spoken(), f.NextDate.String(), *f.NextDate < m.Date
		}
		out[f.StudentID] = fv
	}
	return out, nil
}

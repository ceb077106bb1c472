package concernspage

import (
	"slices"

	"meldung/core/attention"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
)

// rowing is a student whose row is made.
type rowing struct {
	l       *listing
	look    concerns.Look
	reviews concerns.Reviews
	kept    map[ids.Student]concerns.Found // on the review that is held
	before  map[ids.Student]int            // at the review before
	course  []map[ids.Student]int
	id      ids.Student
}

// row makes a student's row; nil for whom no rule finds nor found at the review before, and of whom nothing
// was said.
func (r rowing) row() *row {
	l := r.l
	now, isNow := r.look.Found[r.id]
	found, wasHere := r.kept[r.id]
	if r.reviews.Now == nil {
		found, wasHere = now, isNow
	}
	said := r.said()
	if l.p.Role == work.Teacher {
		now, found = now.WithoutOutlook(), found.WithoutOutlook()
		isNow, wasHere = len(now.Rules) > 0, len(found.Rules) > 0
		if !isNow && !wasHere && len(said) == 0 {
			return nil
		}
	}
	if !wasHere && !isNow && r.before[r.id] == 0 && len(said) == 0 {
		return nil
	}
	found, late := withNew(found, now)
	s := l.v.School.StudentOf(r.id)
	if !s.EnrolledOn(l.m.Date) {
		return nil
	}
	if !isNow && !wasHere {
		if f, ok := r.look.FiguresOf(r.id); ok {
			found = f // somebody whom no rule finds now
		}
	}
	decision := r.decision(now)
	out := &row{ConcernRow: ConcernRow{Student: pages.Student(l.v, s, l.m.Date), Late: late, Gone: len(now.Rules) == 0, Before: r.before[r.id], Words: said,
		Rate: found.Rate, Absent: found.Absent, Possible: found.Possible, Unexcused: found.Unexcused, Areas: []AreaCount{}, Course: []int{},
		Contacts: []pages.ContactRef{}, Last: l.followed[r.id], Case: r.openCase(), Decision: decision}}
	if l.p.May(work.MaySeeContacts) {
		out.Contacts = pages.Contacts(l.v.School.ContactsOf(r.id))
	} else {
		out.Last = nil
	}
	r.concerns(&out.ConcernRow, found)
	if l.p.May(work.MaySeeOutlook) {
		out.InStage = r.look.InStage(r.id)
		out.Chance = chanceOf(found.Outlook, r.look.OutlookRule)
	}
	for _, past := range r.course {
		out.Course = append(out.Course, past[r.id])
	}
	out.Course = append(out.Course, len(found.Rules))
	out.reviewed = attention.Reviewed{Student: int(r.id), Name: out.Student.Sorted, Year: s.Year, Rules: len(found.Rules), Before: out.Before, Since: int(found.Since()), Rate: found.AbsenceRate()}
	if found.Outlook != nil {
		out.reviewed.Outlook, out.reviewed.Moved = found.Outlook.Value(), found.Outlook.Moved
	}
	out.Turn = turnNames[out.reviewed.Turn()]
	out.Due = r.due(len(found.Rules) > 0, decision)
	return out
}

// withNew adds to what was kept the rules that have come to find the student since.
func withNew(kept, now concerns.Found) (out concerns.Found, late bool) {
	if len(now.Rules) == 0 {
		return kept, false
	}
	if len(kept.Rules) == 0 {
		return now, false
	}
	out = kept
	out.Rules = slices.Clone(kept.Rules)
	for _, r := range now.Rules {
		if !slices.ContainsFunc(kept.Rules, func(o concerns.FoundRule) bool { return o.Rule == r.Rule }) {
			out.Rules, late = append(out.Rules, r), true
		}
	}
	return out, late
}

func (r rowing) concerns(out *ConcernRow, found concerns.Found) {
	of, fresh := map[string]int{}, r.fresh()
	out.Concerns = pages.Concerns(found, r.l.p.Role != work.Teacher)
	for i := range out.Concerns {
		c := &out.Concerns[i]
		c.Fresh = slices.Contains(fresh, c.Kind)
		of[c.Area]++
	}
	for _, area := range []string{"absence", "punctuality", "conduct", "courses", ""} {
		if of[area] > 0 {
			out.Areas = append(out.Areas, AreaCount{area, of[area]})
		}
	}
	if since := found.Since(); len(found.Rules) > 0 {
		out.Since = since.Spoken()
	}
}

// decided is the last decision about the student, as the core judges it.
func (r rowing) decided() (d attention.Decided, any bool) {
	row, any := r.l.decisions[r.id]
	if !any {
		return d, false
	}
	d = row.as
	d.Here = r.reviews.Now != nil && row.ReviewID == r.reviews.Now.ID
	return d, true
}

// fresh are the rules that have come since the last decision.
func (r rowing) fresh() []string {
	d, any := r.decided()
	if !any {
		return nil
	}
	return d.Fresh(r.look.Found[r.id].Stood())
}

func (r rowing) decision(now concerns.Found) *DecisionView {
	d, any := r.decided()
	if !any {
		return nil
	}
	row := r.l.decisions[r.id]
	out := &DecisionView{Kind: row.Kind, Words: concerns.DecisionWords(row.ReviewDecision), By: row.By, On: pages.SpokenAt(row.Known, r.l.m.Date), Here: d.Here, Holds: d.Holds(now.Stood(), r.l.m.Date)}
	if r.l.p.Role != work.Teacher {
		out.Text = caseload.DecisionText(row.ReviewDecision, r.l.cases)
	}
	if d.Here {
		one := r.l.deciders[row.By]
		if one == nil {
			one = &Decider{By: row.By}
			r.l.deciders[row.By] = one
		}
		one.N++
		one.Last = max(one.Last, row.Known.Minute().String())
	}
	return out
}

// openCase is the case in which the student is.
func (r rowing) openCase() *CaseRef {
	c := caseload.OpenCaseOf(r.l.cases, r.id)
	if c == nil {
		return nil
	}
	last := c.Last()
	out := &CaseRef{ID: c.ID, Owner: last.Owner, OwnerID: last.OwnerID, Mine: last.OwnerID == r.l.p.Account}
	if r.l.p.Role == work.Teacher {
		return out
	}
	out.Text = c.Shown(last.Text)
	if last.NextDate != nil {
		out.Next, out.NextDay, out.Overdue = last.NextDate.Spoken(), last.NextDate.String(), *last.NextDate < r.l.m.Date
	}
	return out
}

// said is what was said of the student since the review before, and not decided upon at it.
func (r rowing) said() []WordView {
	out := []WordView{}
	for _, w := range r.l.words[r.id] {
		if r.answered(w) && (r.reviews.Before == nil || w.Known.Date() < r.reviews.Date) {
			continue
		}
		out = append(out, WordView{Text: w.Text, By: w.By, On: pages.SpokenAt(w.Known, r.l.m.Date)})
	}
	return out
}

// answered reports whether something was decided since a word was said.
func (r rowing) answered(w store.ConcernWord) bool {
	d, any := r.l.decisions[r.id]
	return any && d.Journal > w.Journal
}

// due reports whether a decision is to be made: a rule finds the student, or something was said, and no
// decision holds. An open case that somebody opened by hand holds too.
func (r rowing) due(found bool, d *DecisionView) bool {
	unanswered := slices.ContainsFunc(r.l.words[r.id], func(w store.ConcernWord) bool { return !r.answered(w) })
	switch {
	case unanswered:
		return true
	case !found || len(r.look.Found[r.id].Rules) == 0:
		return false
	case d == nil:
		return caseload.OpenCaseOf(r.l.cases, r.id) == nil
	}
	return !d.Holds && !(len(r.fresh()) == 0 && caseload.OpenCaseOf(r.l.cases, r.id) != nil)
}

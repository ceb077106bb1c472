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
)

// setting names when reviews are among the settings.
const setting = "reviews"

// ReviewRule says when reviews are.
type ReviewRule struct {
	Weekday int `json:"weekday" minimum:"1" maximum:"7" doc:"1 is Monday"`
	Weeks   int `json:"weeks" minimum:"0" maximum:"12" doc:"Every so many weeks; 0 where somebody begins them"`
}

// RuleOfReviews returns when the school has its reviews: weekly on Monday until it says otherwise.
func RuleOfReviews(ctx context.Context, v work.Snapshot) (ReviewRule, error) {
	r := ReviewRule{Weekday: 1, Weeks: 1}
	_, err := store.Setting(ctx, v.Store(), setting, &r)
	return r, err
}

// SetReviews stores when the school has its reviews.
func SetReviews(ctx context.Context, o *work.Office, p work.Person, key string, r ReviewRule) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetReviews, Kind: "when reviews are", In: r, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		out = tx.Receipt("Reviews are " + r.Words())
		return store.SetSetting(ctx, tx.Tx, setting, r)
	})
	return out, err
}

// Words says when reviews are: every week on Tuesday.
func (r ReviewRule) Words() string {
	if r.Weeks == 0 {
		return "when somebody begins one"
	}
	weekday := []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}[r.Weekday-1]
	if r.Weeks == 1 {
		return "every week on " + weekday
	}
	return fmt.Sprintf("every %d weeks on %s", r.Weeks, weekday)
}

// Reviews are those of a section as they stand at a moment.
type Reviews struct {
	Date   day.Date       // of the one that is held now
	Now    *store.Review  // nil while nobody has begun it
	Before *store.Review  // the last one begun before; nil for none
	Past   []store.Review // those begun before, the newest first
	Next   day.Date       // when the next one is; NoEnd where nothing says so
}

// ReviewsOf puts the reviews of a section together.
func ReviewsOf(ctx context.Context, v work.Section, rule ReviewRule, m work.Moment) (Reviews, error) {
	all, err := store.Reviews(ctx, v.Store(), m.Known)
	return reviewsOf(v, all, rule, m.Date), err
}

func reviewsOf(v work.Section, all []store.Review, rule ReviewRule, on day.Date) Reviews {
	out := Reviews{Date: day.NoStart, Next: day.NoEnd}
	for _, d := range (attention.Schedule(rule)).Days(v.Calendar) {
		if d <= on {
			out.Date = d
		} else {
			out.Next = min(out.Next, d)
		}
	}
	for i := range all {
		r := &all[i]
		if r.SectionID != v.ID || r.Date > on {
			continue
		}
		if out.Now == nil && out.Before == nil && r.Date >= out.Date {
			out.Date, out.Now = r.Date, r
			continue
		}
		if out.Before == nil {
			out.Before = r
		}
		out.Past = append(out.Past, *r)
	}
	if out.Date == day.NoStart {
		out.Date = on
	}
	return out
}

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
	looks, err := lookNow(ctx, o)
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
		row := store.ReviewDecision{ReviewID: r.ID, StudentID: s.ID, Kind: string(d.Kind), Text: d.Text, AsAt: look.AsAt, Origin: tx.Origin()}
		if row.Until, err = d.until(tx.Now.Date()); err != nil {
			return err
		}
		cases, err := Cases(ctx, tx.Tx, tx.Now)
		if err != nil {
			return err
		}
		if c := OpenCaseOf(cases, s.ID); c != nil && d.Kind != attention.OpenCase {
			return work.Conflictf("%s is in a case with %s: keep it with its next date, or close it under Cases. Nothing was saved", s.Name(), c.Last().Owner)
		}
		found := look.Found[s.ID]
		words := ""
		switch d.Kind {
		case attention.OpenCase:
			c, owner, err := take(ctx, tx, s, found, CaseChange{Owner: d.Owner, Text: d.Text}, row.Until)
			if err != nil {
				return err
			}
			row.CaseID, words = &c, fmt.Sprintf("case with %s, next %s", owner, row.Until.Spoken())
		case attention.WaitFor:
			words = "waits until " + row.Until.Spoken()
		default:
			if d.Text == "" {
				return work.Wrongf("say why nothing is done; nothing was saved")
			}
			words = "no action"
		}
		if row.Rules, err = text(idsOf(found)); err != nil {
			return err
		}
		if err := put(ctx, tx, r.ID, []Found{withStudent(found, s.ID)}, false); err != nil {
			return err
		}
		id, err := store.AddReviewDecision(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, s.Name()+": "+words, id)
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

func withStudent(f Found, id ids.Student) Found {
	f.Student = id
	return f
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
func DecidedOf(d store.ReviewDecision, here ids.Review, cases []Case) (attention.Decided, error) {
	out := attention.Decided{Kind: attention.Decision(d.Kind), Here: d.ReviewID == here, AsAt: d.AsAt, Until: day.NoStart,
		Open: d.CaseID != nil && slices.ContainsFunc(cases, func(c Case) bool { return c.ID == *d.CaseID && c.Open() })}
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

// lookNow finds whom the rules find now, by section. It is made before a write, so that nobody waits for it.
func lookNow(ctx context.Context, o *work.Office) (map[ids.Section]Look, error) {
	out := map[ids.Section]Look{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		looks, _, err := Find(ctx, v, v.Moment())
		for _, l := range looks {
			out[l.Section.ID] = l
		}
		return err
	})
	return out, err
}

// begun returns the review of a section that is held now; where nobody has begun it, it begins with whom the
// rules find.
func begun(ctx context.Context, tx *work.Tx, section work.Section, look Look) (store.Review, error) {
	rule, err := RuleOfReviews(ctx, section.Snapshot)
	if err != nil {
		return store.Review{}, err
	}
	all, err := store.Reviews(ctx, tx.Tx, tx.Now)
	if err != nil {
		return store.Review{}, err
	}
	now := reviewsOf(section, all, rule, tx.Now.Date())
	if now.Now != nil {
		return *now.Now, nil
	}
	return begin(ctx, tx, now.Date, look)
}

func begin(ctx context.Context, tx *work.Tx, on day.Date, look Look) (store.Review, error) {
	r := store.Review{SectionID: look.Section.ID, Date: on, AsAt: look.AsAt, Origin: tx.Origin()}
	var err error
	if r.ID, err = store.AddReview(ctx, tx.Tx, r); err != nil {
		return r, err
	}
	return r, put(ctx, tx, r.ID, found(look), true)
}

// found are those whom the rules find, in the order of the section's students.
func found(look Look) []Found {
	var out []Found
	if look.School == nil {
		return nil // no school day is over yet
	}
	for _, id := range look.IDs {
		if f, any := look.Found[id]; any {
			out = append(out, f)
		}
	}
	return out
}

// put writes students on a review. Unless all is set, those who are on it stay as they were, unless a rule has
// come to find them since.
func put(ctx context.Context, tx *work.Tx, id ids.Review, list []Found, all bool) error {
	kept := map[ids.Student]Found{}
	if !all {
		rows, err := store.ReviewRowsOf(ctx, tx.Tx, id, tx.Now)
		if err != nil {
			return err
		}
		for _, r := range rows {
			if kept[r.StudentID], err = FoundOf(r.StudentID, r.Found); err != nil {
				return err
			}
		}
	}
	var rows []store.ReviewRow
	for _, f := range list {
		before, there := kept[f.Student]
		if there && !slices.ContainsFunc(f.Rules, func(r FoundRule) bool { return !slices.Contains(idsOf(before), r.Rule) }) {
			continue
		}
		words, err := text(f)
		if err != nil {
			return err
		}
		rows = append(rows, store.ReviewRow{ReviewID: id, StudentID: f.Student, Rules: len(f.Rules), Found: words, JournalID: tx.Entry})
	}
	return store.PutReviewRows(ctx, tx.Tx, rows)
}

// OfSections are the sections whose reviews are meant; none is every one.
type OfSections struct {
	Sections []ids.Section `json:"sections,omitempty" maxItems:"50"`
}

// each does something with the review of each section of a scope that has one, and returns the names of the
// dates.
func (of OfSections) each(ctx context.Context, tx *work.Tx, v work.Snapshot, looks map[ids.Section]Look, do func(s work.Section, look Look, now Reviews) error) error {
	rule, err := RuleOfReviews(ctx, v)
	if err != nil {
		return err
	}
	all, err := store.Reviews(ctx, tx.Tx, tx.Now)
	if err != nil {
		return err
	}
	any := false
	for _, id := range of.Sections {
		if _, err := v.SectionWith(id); err != nil {
			return err
		}
	}
	for _, s := range v.In(of.Sections) {
		look, there := looks[s.ID]
		if !there {
			continue
		}
		any = true
		if err := do(s, look, reviewsOf(s, all, rule, tx.Now.Date())); err != nil {
			return err
		}
	}
	if !any {
		return work.Conflictf("no school day is over yet; nothing was changed")
	}
	return nil
}

// Begin begins a review: the one that is due where nobody has begun it, else one of today.
func Begin(ctx context.Context, o *work.Office, p work.Person, key string, of OfSections) (work.Receipt, error) {
	var out work.Receipt
	looks, err := lookNow(ctx, o)
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayBeginReview, Kind: "review begun", In: of, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		n, begun, on := 0, 0, day.NoStart
		err := of.each(ctx, tx, v, looks, func(_ work.Section, look Look, now Reviews) error {
			on = now.Date
			if now.Now != nil {
				if now.Date == tx.Now.Date() {
					return nil // in another section it may not
				}
				on = tx.Now.Date()
			}
			begun++
			n += len(look.Found)
			_, err := begin(ctx, tx, on, look)
			return err
		})
		if err == nil && begun == 0 {
			return work.Conflictf("the review of %s has begun already; run the rules again, or decide", on.Spoken())
		}
		out = tx.Receipt(fmt.Sprintf("Review of %s begun with %d students", on.Spoken(), n))
		return err
	})
	return out, err
}

// ReadAgain has the rules read the school as it is now, for the review that is held: whom they find comes on
// it, and whom they do not find any more goes, unless something was decided about them.
func ReadAgain(ctx context.Context, o *work.Office, p work.Person, key string, of OfSections) (work.Receipt, error) {
	var out work.Receipt
	looks, err := lookNow(ctx, o)
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayReadReviewAgain, Kind: "review read again", In: of, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		decisions, err := store.ReviewDecisions(ctx, tx.Tx, tx.Now)
		if err != nil {
			return err
		}
		came, went := 0, 0
		err = of.each(ctx, tx, v, looks, func(_ work.Section, look Look, now Reviews) error {
			if now.Now == nil {
				return work.Conflictf("nobody has begun the review of %s; it shows what is known now", now.Date.Spoken())
			}
			rows, err := store.ReviewRowsOf(ctx, tx.Tx, now.Now.ID, tx.Now)
			if err != nil {
				return err
			}
			list, had := found(look), map[ids.Student]bool{}
			for _, r := range rows {
				had[r.StudentID] = true
				if _, still := look.Found[r.StudentID]; still {
					continue
				}
				if !slices.ContainsFunc(decisions, func(d store.ReviewDecision) bool { return d.ReviewID == r.ReviewID && d.StudentID == r.StudentID }) {
					went++
					continue
				}
				f, err := FoundOf(r.StudentID, r.Found)
				if err != nil {
					return err
				}
				list = append(list, f)
			}
			for _, f := range list {
				if !had[f.Student] {
					came++
				}
			}
			if err := store.DropReviewRows(ctx, tx.Tx, now.Now.ID); err != nil {
				return err
			}
			if err := store.SetReviewAsAt(ctx, tx.Tx, now.Now.ID, look.AsAt); err != nil {
				return err
			}
			return put(ctx, tx, now.Now.ID, list, true)
		})
		out = tx.Receipt(fmt.Sprintf("Read again: %d came, %d went", came, went))
		return err
	})
	return out, err
}

// Finish finishes the review that is held, with what it shows now; what is not decided stays so.
func Finish(ctx context.Context, o *work.Office, p work.Person, key string, of OfSections) (work.Receipt, error) {
	var out work.Receipt
	looks, err := lookNow(ctx, o)
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayFinishReview, Kind: "review finished", In: of, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		on, done := day.NoStart, 0
		err := of.each(ctx, tx, v, looks, func(s work.Section, look Look, now Reviews) error {
			on = now.Date
			r, err := begun(ctx, tx, s, look)
			if err != nil {
				return err
			}
			if r.FinishedBy != nil {
				return nil
			}
			if err := put(ctx, tx, r.ID, found(look), false); err != nil {
				return err
			}
			did, err := store.FinishReview(ctx, tx.Tx, r.ID, tx.Entry)
			if did {
				done++
			}
			return err
		})
		if err == nil && done == 0 {
			return work.Conflictf("that review is finished already")
		}
		out = work.ReceiptOf(tx, "Review of "+on.Spoken()+" finished", int64(done))
		return err
	})
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

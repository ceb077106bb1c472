package concerns

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/outlooks"
)

// LookNow finds whom the rules find now, by section. Before a write it is made first, so that nobody waits for it.
func LookNow(ctx context.Context, o *work.Office) (map[ids.Section]Look, error) {
	out := map[ids.Section]Look{}
	if err := outlooks.Warm(ctx, o); err != nil {
		return nil, err
	}
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

// each does something with the review of each section of a scope of which a school day is over.
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
	looks, err := LookNow(ctx, o)
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
	looks, err := LookNow(ctx, o)
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
	looks, err := LookNow(ctx, o)
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

package concerns

import (
	"context"
	"fmt"

	"meldung/core/attention"
	"meldung/core/day"
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

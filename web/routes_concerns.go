package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/concernspage"
	"meldung/pages/outlookpage"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// ConcernsAsked is of whom the list of concerns is.
type ConcernsAsked struct {
	LookedIn
	Grouped
	Rule      string      `query:"rule" maxLength:"100" doc:"Whom this rule finds; empty for any"`
	Owner     ids.Account `query:"owner" doc:"In whose hands; 0 for anybody's"`
	Undecided bool        `query:"undecided" doc:"Only those of whom a decision is to be made"`
}

func (a ConcernsAsked) ask() concernspage.Ask {
	return concernspage.Ask{Group: a.Group, Rule: a.Rule, Owner: a.Owner, Undecided: a.Undecided}
}

// concernRoutes are the reviews of those whom the rules find.
func (s *server) concernRoutes() {
	get(s, work.MaySeeConcerns, "/concerns", "Students who need a look, in the order of the decision to be made", func(ctx context.Context, in *ConcernsAsked) (*body[concernspage.ConcernsView], error) {
		return answer(concernspage.Show(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepConcerns, "/concerns/file", "The same as a file", func(ctx context.Context, in *struct {
		ConcernsAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := concernspage.Keep(ctx, s.office, person(ctx), in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayDecide, "/concerns/decide", "Decide about a student at the review that is held", func(ctx context.Context, in *Keyed[concerns.Decide]) (*body[work.Receipt], error) {
		return answer(concerns.Settle(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayTellConcern, "/concerns/tell", "Say something about a student for the review", func(ctx context.Context, in *Keyed[concerns.Word]) (*body[work.Receipt], error) {
		return answer(concerns.Tell(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeReviews, "/reviews", "The reviews there were", func(ctx context.Context, in *LookedIn) (*body[concernspage.ReviewsView], error) {
		return answer(concernspage.Reviews(ctx, s.office, in.At, in.scope()...))
	})
	get(s, work.MaySeeReview, "/reviews/{review}", "A review as it was, beside the one before", func(ctx context.Context, in *struct {
		Review ids.Review `path:"review"`
	}) (*body[concernspage.ReviewRecord], error) {
		return answer(concernspage.Record(ctx, s.office, in.Review))
	})
	get(s, work.MayKeepReview, "/reviews/{review}/file", "The same as a file", func(ctx context.Context, in *struct {
		Review ids.Review `path:"review"`
		Format string     `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := concernspage.KeepRecord(ctx, s.office, person(ctx), in.Review, in.Format)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayBeginReview, "/reviews/begin", "Begin a review", func(ctx context.Context, in *Keyed[concerns.OfSections]) (*body[work.Receipt], error) {
		return answer(concerns.Begin(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayReadReviewAgain, "/reviews/again", "Have the rules read the school again for the review that is held", func(ctx context.Context, in *Keyed[concerns.OfSections]) (*body[work.Receipt], error) {
		return answer(concerns.ReadAgain(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayFinishReview, "/reviews/finish", "Finish the review that is held", func(ctx context.Context, in *Keyed[concerns.OfSections]) (*body[work.Receipt], error) {
		return answer(concerns.Finish(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetReviews, "/reviews/rule", "Say when reviews are", func(ctx context.Context, in *Keyed[concerns.ReviewRule]) (*body[work.Receipt], error) {
		return answer(concerns.SetReviews(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeOutlook, "/outlook", "What the outlook was fitted on, and how well it predicts", func(ctx context.Context, _ *struct{}) (*body[outlookpage.OutlookView], error) {
		return answer(outlookpage.Show(ctx, s.office, person(ctx)))
	})
	post(s, work.MayFitOutlook, "/outlook/fit", "Fit the outlook, and show what it is worth", func(ctx context.Context, in *struct{ Body outlookpage.Fitting }) (*body[outlookpage.OutlookView], error) {
		return answer(outlookpage.Fit(ctx, s.office, person(ctx), in.Body))
	})
	get(s, work.MayKeepInputs, "/outlook/inputs", "The inputs of today's students as a file", func(ctx context.Context, in *struct {
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := outlookpage.Keep(ctx, s.office, person(ctx), in.Format)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MaySetOutlook, "/outlook/rule", "Switch the outlook on or off", func(ctx context.Context, in *Keyed[outlooks.OutlookRule]) (*body[work.Receipt], error) {
		return answer(outlooks.SetRule(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeProgress, "/progress", "How far something is that one has asked for", func(ctx context.Context, in *struct {
		Name string `query:"name" required:"true" maxLength:"40"`
	}) (*body[work.Progress], error) {
		return answer(s.office.HowFar(person(ctx), in.Name), nil)
	})
}

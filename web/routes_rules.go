package web

import (
	"context"

	"meldung/pages/rulespage"
	"meldung/work"
	"meldung/work/concerns"
)

// ruleRoutes are the rules by which a school finds who needs attention.
func (s *server) ruleRoutes() {
	get(s, work.MaySeeRules, "/rules", "The rules of attention, with whom each finds", func(ctx context.Context, in *LookedIn) (*body[rulespage.RulesView], error) {
		return answer(rulespage.Show(ctx, s.office, person(ctx), in.At, in.scope()...))
	})
	get(s, work.MaySeeRule, "/rules/one", "A rule filled in, with its versions", func(ctx context.Context, in *struct {
		ID string `query:"id" required:"true" maxLength:"60"`
	}) (*body[rulespage.RuleView], error) {
		return answer(rulespage.One(ctx, s.office, person(ctx), in.ID))
	})
	get(s, work.MayKeepRules, "/rules/file", "The rules as a file", func(ctx context.Context, _ *struct{}) (*fileBody, error) {
		f, err := rulespage.Keep(ctx, s.office, person(ctx))
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayLookAtRule, "/rules/look", "What a rule that is being built means, and whom it finds", func(ctx context.Context, in *struct{ Body rulespage.Looking }) (*body[rulespage.RuleFound], error) {
		return answer(rulespage.Look(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayTryRule, "/rules/try", "How a rule would have done", func(ctx context.Context, in *struct{ Body rulespage.Trying }) (*body[rulespage.RuleTrial], error) {
		return answer(rulespage.Try(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MaySetRules, "/rules", "Save a rule, or take it off", func(ctx context.Context, in *Keyed[concerns.RuleChange]) (*body[work.Receipt], error) {
		return answer(concerns.SaveRule(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayBringRules, "/rules/files", "Look at a file of rules, or take it", func(ctx context.Context, in *Keyed[concerns.RulesText]) (*body[concerns.RulesPlan], error) {
		return answer(concerns.BringRules(ctx, s.office, person(ctx), in.Key, in.Body))
	})
}

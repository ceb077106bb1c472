package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/stepspage"
	"meldung/work"
	"meldung/work/steps"
)

// StepNamed names a step in a query.
type StepNamed struct {
	Student ids.Student `query:"of" required:"true"`
	Policy  string      `query:"policy" maxLength:"60"`
	Rule    string      `query:"rule" maxLength:"100"`
	Do      string      `query:"do" maxLength:"100"`
	Scope   string      `query:"scope" maxLength:"200"`
	Number  int         `query:"number"`
	Reached string      `query:"reached" maxLength:"10"`
}

func (n StepNamed) ref() steps.Ref {
	return steps.Ref{Student: n.Student, Policy: n.Policy, Rule: n.Rule, Do: n.Do, Scope: n.Scope, Number: n.Number, Reached: n.Reached}
}

// stepRoutes are what policies say is due: the list, what is done about it, and letters.
func (s *server) stepRoutes() {
	get(s, work.MaySeeSteps, "/steps", "What policies say is due", func(ctx context.Context, in *LookedIn) (*body[stepspage.StepsView], error) {
		return answer(stepspage.Show(ctx, s.office, person(ctx), in.At, in.scope()...))
	})
	get(s, work.MayKeepSteps, "/steps/file", "What is due as a file", func(ctx context.Context, in *struct {
		LookedIn
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := stepspage.KeepFile(ctx, s.office, person(ctx), in.At, in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayDoSteps, "/steps", "Say what was done about steps", func(ctx context.Context, in *Keyed[steps.Act]) (*body[work.Receipt], error) {
		return answer(steps.Do(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetSteps, "/school/steps", "Set on which policies the school acts, and how", func(ctx context.Context, in *Keyed[steps.Rules]) (*body[work.Receipt], error) {
		return answer(steps.SetRules(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeLetters, "/letters", "The school's letters", func(ctx context.Context, _ *struct{}) (*body[stepspage.LettersView], error) {
		return answer(stepspage.ShowLetters(ctx, s.office))
	})
	get(s, work.MaySeePreview, "/letters/preview", "The letters that a step asks for", func(ctx context.Context, in *StepNamed) (*body[[]stepspage.LetterView], error) {
		return answer(stepspage.Preview(ctx, s.office, person(ctx), in.ref()))
	})
	post(s, work.MayTryLetter, "/letters/try", "Fill a wording that is not saved", func(ctx context.Context, in *Keyed[stepspage.Trial]) (*body[[]stepspage.LetterView], error) {
		return answer(stepspage.Try(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MaySetLetter, "/letters", "Save a letter's wording", func(ctx context.Context, in *Keyed[steps.Letter]) (*body[work.Receipt], error) {
		return answer(steps.SetLetter(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayPrintLetter, "/letters/print", "Write the letters that steps ask for", func(ctx context.Context, in *Keyed[steps.Printing]) (*body[work.Receipt], error) {
		return answer(steps.Print(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayLookAtMany, "/letters/many/look", "To whom a letter to many goes, and how it reads", func(ctx context.Context, in *struct{ Body steps.ToMany }) (*body[stepspage.ManyView], error) {
		return answer(stepspage.LookAtMany(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayWriteToMany, "/letters/many", "Write to many students, or to their homes", func(ctx context.Context, in *Keyed[steps.ToMany]) (*body[work.Receipt], error) {
		return answer(steps.WriteToMany(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeLetter, "/letters/sheet", "Letters as they were printed", func(ctx context.Context, in *struct {
		Letters []int64 `query:"letters" required:"true" minItems:"1" maxItems:"1000"`
	}) (*fileBody, error) {
		letters := make([]ids.Letter, len(in.Letters))
		for i, id := range in.Letters {
			letters[i] = ids.Letter(id)
		}
		f, err := stepspage.LetterSheets(ctx, s.office, letters)
		return answerFile(f, err, "inline")
	})
}

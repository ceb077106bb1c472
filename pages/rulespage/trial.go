package rulespage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/work"
	"meldung/work/concerns"
)

// Trying is what a rule is tried on.
type Trying struct {
	Where
	Rule    concerns.RuleForm `json:"rule"`
	Span    string            `json:"span" maxLength:"40" doc:"Two dates; empty is the term before the present one"`
	Name    string            `json:"name,omitempty" maxLength:"40" doc:"Under which it can be asked how far it is"`
	Against string            `json:"against" maxLength:"120" doc:"rule:id, or band:policy:place; empty is the second band of ten per cent of days"`
}

// usualOutcome is what a rule is tried against where nothing is said.
const usualOutcome = "band:" + work.UsualPolicy + ":2"

// Try judges a rule on every school day of a span, each from what was on record by then, and the version that
// holds beside it where that is another.
func Try(ctx context.Context, o *work.Office, p work.Person, in Trying) (RuleTrial, error) {
	out := RuleTrial{Days: []TrialDay{}}
	err := with(ctx, o, p, in.At, in.Section, func(l *look) error {
		in.Rule.Title = cmp.Or(strings.TrimSpace(in.Rule.Title), "A rule") // no part of what it finds
		r, err := l.draft(in.Rule)
		if err != nil {
			out.Problem = err.Error()
			return nil
		}
		held, err := l.rules(ctx)
		if err != nil {
			return err
		}
		from, to, err := l.span(in.Span)
		if err != nil {
			return err
		}
		outcome, words, err := l.outcome(in.Against, held)
		if err != nil {
			return err
		}
		out.Label, out.Against = from.Spoken()+" to "+to.Spoken(), words
		step, end := o.Step(ctx, p, in.Name)
		defer end()
		now, ok := l.try(&r.Rule, outcome, from, to, step)
		if !ok {
			return ctx.Err()
		}
		out.Rule = now.sums
		var before *tried
		if i := slices.IndexFunc(held, func(h concerns.HeldRule) bool { return h.ID == in.Rule.ID && h.Problem == "" }); i >= 0 && held[i].Sentence(l.names) != r.Sentence(l.names) {
			if before, ok = l.try(&held[i].Rule.Rule, outcome, from, to, step); !ok {
				return ctx.Err()
			}
			out.Before = &before.sums
		}
		for _, d := range now.dates() {
			one := TrialDay{Date: d.String(), Label: d.Spoken(), N: now.onDay[d]}
			if before != nil {
				n := before.onDay[d]
				one.Before = &n
			}
			out.Days = append(out.Days, one)
		}
		return nil
	})
	return out, err
}

// span reads the dates of a trial; the term before the present one where nothing is said, or the year so far.
func (l *look) span(text string) (from, to day.Date, err error) {
	if text == "" {
		terms := l.terms()
		if len(terms) == 0 {
			return 0, 0, work.Wrongf("no school day is over yet on which a rule could be tried")
		}
		text = terms[max(0, len(terms)-3)].Value
	}
	first, last, _ := strings.Cut(text, " ")
	if from, err = day.ParseDate(first); err == nil {
		to, err = day.ParseDate(last)
	}
	if err != nil || to < from {
		return 0, 0, work.Wrongf("%q is no span of two dates", text)
	}
	return from, to, nil
}

// outcome reads what a rule is tried against.
func (l *look) outcome(text string, held []concerns.HeldRule) (attention.Outcome, string, error) {
	if text == "" {
		text = usualOutcome
	}
	kind, rest, _ := strings.Cut(text, ":")
	if kind == "rule" {
		i := slices.IndexFunc(held, func(h concerns.HeldRule) bool { return h.ID == rest && h.Problem == "" })
		if i >= 0 {
			return attention.Outcome{Rule: &held[i].Rule.Rule}, held[i].Title, nil
		}
	}
	id, place, _ := strings.Cut(rest, ":")
	if n, err := strconv.Atoi(place); kind == "band" && err == nil {
		for _, s := range l.schools {
			if p := s.Policies[id]; p != nil && n >= 0 && n < len(p.Bands) {
				return attention.Outcome{Policy: id, Band: n}, fmt.Sprintf("%s or worse at the end (%s)", p.Bands[n].Name, p.Title), nil
			}
		}
	}
	return attention.Outcome{}, "", work.NotFoundf("there is no outcome %q to try a rule against", text)
}

// tried is a trial over every section.
type tried struct {
	sums  TrialSums
	onDay map[day.Date]int
}

func (t *tried) dates() []day.Date {
	var out []day.Date
	for d := range t.onDay {
		out = append(out, d)
	}
	slices.Sort(out)
	return out
}

func (l *look) try(r *attention.Rule, o attention.Outcome, from, to day.Date, step func(done, of int) bool) (*tried, bool) {
	out := &tried{sums: TrialSums{Found: []TrialStudent{}, Missed: []TrialStudent{}, Alarms: []TrialStudent{}, Back: []TrialStudent{}}, onDay: map[day.Date]int{}}
	var leads []float64
	for _, s := range l.schools {
		if o.Rule == nil && s.Policies[o.Policy] == nil {
			continue // the section measures otherwise
		}
		span := s.Ledger.Between(from, to)
		span.To = min(span.To, s.Upto)
		if span.From > span.To {
			continue
		}
		got, ok := s.Try(r, o, span.From, span.To, step)
		if !ok {
			return nil, false
		}
		out.sums.Of += got.Of
		out.sums.Matched += len(got.Matched)
		out.sums.Outcome += len(got.Outcome)
		for n, matched := range got.OnDay {
			out.onDay[s.Date(span.From+n)] += matched
		}
		first := map[int]attention.Tried{}
		for _, t := range got.Matched {
			first[t.Student] = t
		}
		student := func(i int, words string) TrialStudent { return TrialStudent{l.ref(s, i), words} }
		for _, t := range got.Before {
			leads = append(leads, float64(t.Came-t.First))
			out.sums.Found = append(out.sums.Found, student(t.Student, fmt.Sprintf("found %s, %s ahead, %s", s.Date(t.First).Spoken(), work.Count(t.Came-t.First, "school day"), work.Count(t.Helped, "follow-up"))))
		}
		for _, i := range got.Missed {
			out.sums.Missed = append(out.sums.Missed, student(i, ""))
		}
		for _, i := range got.Alarms {
			out.sums.Alarms = append(out.sums.Alarms, student(i, fmt.Sprintf("found %s, %s", s.Date(first[i].First).Spoken(), work.Count(first[i].Helped, "follow-up"))))
		}
		for _, i := range got.Back {
			out.sums.Back = append(out.sums.Back, student(i, "found "+s.Date(first[i].First).Spoken()))
		}
	}
	if all := attention.LeadsOf(leads); all != nil {
		out.sums.Leads = fmt.Sprintf("half of them %s school days ahead or more; %s at least, %s at most", days(all.Median), days(all.Least), days(all.Most))
	}
	return out, true
}

func days(n float64) string { return strconv.FormatFloat(n, 'f', -1, 64) }

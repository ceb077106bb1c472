package rulespage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/attention"
	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/rulesfile"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/coursework"
	"meldung/work/incidents"
	"meldung/work/outlooks"
)

// look is the rules and the facts as at a moment.
type look struct {
	v       work.Snapshot
	p       work.Person
	m       work.Moment
	schools []*concerns.School
	names   attention.Names
}

// with reads the facts that rules are judged by.
func with(ctx context.Context, o *work.Office, p work.Person, asAt string, of []ids.Section, f func(*look) error) error {
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return err
	}
	if err := outlooks.Warm(ctx, o); err != nil {
		return err
	}
	return o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		schools, err := concerns.Read(ctx, v, m)
		if err != nil {
			return err
		}
		policies, err := concerns.Policies(v)
		if err != nil {
			return err
		}
		return f(&look{v, p, m, schools, concerns.Names(policies)})
	})
}

func (l *look) rules(ctx context.Context) ([]concerns.HeldRule, error) {
	policies, err := concerns.Policies(l.v)
	if err != nil {
		return nil, err
	}
	return concerns.Rules(ctx, l.v.Store(), policies)
}

func (l *look) draft(f concerns.RuleForm) (rulesfile.Rule, error) {
	policies, err := concerns.Policies(l.v)
	if err != nil {
		return rulesfile.Rule{}, err
	}
	return f.Rule(policies)
}

// asAt is the last school day that is judged, of the section that is furthest.
func (l *look) asAt() string {
	last := day.NoStart
	for _, s := range l.schools {
		last = max(last, s.Date(s.Upto))
	}
	if last == day.NoStart {
		return "the day before the first"
	}
	return last.Spoken()
}

// Show shows the rules with whom each finds.
func Show(ctx context.Context, o *work.Office, p work.Person, asAt string, of ...ids.Section) (RulesView, error) {
	out := RulesView{Rules: []RuleLine{}, Indicators: []IndicatorView{}, MayChange: p.May(work.MaySetRules) && asAt == ""}
	err := with(ctx, o, p, asAt, of, func(l *look) error {
		out.AsAt = l.asAt()
		held, err := l.rules(ctx)
		if err != nil {
			return err
		}
		for _, h := range held {
			line := RuleLine{ID: h.ID, Title: h.Title, Source: h.Source, On: h.On, Problem: h.Problem, By: h.By}
			if h.Problem == "" {
				line.Sentence = h.Sentence(l.names)
				for _, s := range l.schools {
					f := s.Find(&h.Rule.Rule, s.Upto)
					line.N, line.Of, line.Unknown = line.N+len(f.Matches), line.Of+f.Of, line.Unknown+len(f.Unknown)
				}
			}
			out.Rules = append(out.Rules, line)
		}
		if err := l.choices(ctx, held, &out.Choices); err != nil {
			return err
		}
		for _, d := range attention.Definitions {
			if l.offered(d.ID, out.Choices) {
				out.Indicators = append(out.Indicators, IndicatorView{d.ID, d.Title, string(d.Unit), d.Less, d.Whole, append([]string{}, d.Params...)})
			}
		}
		return nil
	})
	return out, err
}

// offered reports whether a rule can be built of an indicator: of what the school has no source of yet it
// can't.
func (l *look) offered(id string, c RuleChoices) bool {
	switch id {
	case "activity_last", "activity_count":
		return len(c.Sources) > 0
	case "outlook", "outlook_change":
		return slices.ContainsFunc(l.schools, func(s *concerns.School) bool { return s.Outlook != nil })
	case "field", "school_changes":
		return len(c.Fields) > 0
	}
	return id != "last_session"
}

func (l *look) choices(ctx context.Context, held []concerns.HeldRule, out *RuleChoices) error {
	*out = RuleChoices{Policies: []pages.Choice{}, Years: []string{}, Forms: []string{}, Classes: []string{}, Lists: []string{}, Slots: []string{}, Kinds: []string{}, Places: []string{}, Roles: []string{}, Periods: []string{}, Items: []string{}, Sources: []string{}, Fields: []string{}, Against: []pages.Choice{}, Terms: []pages.Choice{}}
	add := func(to *[]string, x string) {
		if x != "" && !slices.Contains(*to, x) {
			*to = append(*to, x)
		}
	}
	for _, s := range l.schools {
		for _, f := range s.Students {
			add(&out.Years, f.Year)
			add(&out.Forms, f.Form)
			for _, c := range f.Classes {
				add(&out.Classes, c)
			}
			for _, x := range f.Lists {
				add(&out.Lists, x)
			}
			for _, x := range f.Items {
				add(&out.Items, x.Title)
			}
		}
		for _, p := range s.Section.Calendar.Patterns() {
			for _, slot := range p.Slots {
				add(&out.Slots, slot.Name)
			}
		}
		for _, p := range s.Policies {
			if slices.ContainsFunc(out.Policies, func(c pages.Choice) bool { return c.Value == p.ID }) {
				continue
			}
			out.Policies = append(out.Policies, pages.Choice{Value: p.ID, Label: p.Title})
			for n, b := range p.Bands {
				if n > 0 {
					out.Against = append(out.Against, pages.Choice{Value: fmt.Sprintf("band:%s:%d", p.ID, n), Label: b.Name + " or worse at the end", Kind: p.Title})
				}
			}
		}
	}
	slices.SortFunc(out.Policies, func(a, b pages.Choice) int { return strings.Compare(a.Label, b.Label) })
	slices.SortFunc(out.Against, func(a, b pages.Choice) int {
		return cmp.Or(strings.Compare(a.Kind, b.Kind), strings.Compare(a.Value, b.Value))
	})
	for _, h := range held {
		if h.Problem == "" {
			out.Against = append(out.Against, pages.Choice{Value: "rule:" + h.ID, Label: h.Title, Kind: "rules"})
		}
	}
	for _, list := range []*[]string{&out.Years, &out.Forms, &out.Classes} {
		slices.SortFunc(*list, pages.ByNumber)
	}
	slices.Sort(out.Lists)
	slices.Sort(out.Items)
	lists, err := incidents.ReadLists(ctx, l.v.Store())
	if err != nil {
		return err
	}
	if out.Sources, err = store.ActivitySources(ctx, l.v.Store()); err != nil {
		return err
	}
	fields, err := store.OwnFields(ctx, l.v.Store())
	if err != nil {
		return err
	}
	for _, f := range fields {
		if !f.Retired {
			add(&out.Fields, f.Name)
		}
	}
	for _, w := range lists.Of(incidents.Kinds) {
		add(&out.Kinds, w.Name)
	}
	for _, w := range lists.Of(incidents.Places) {
		add(&out.Places, w.Name)
	}
	for _, r := range []conduct.Role{conduct.Did, conduct.Harmed, conduct.Saw} {
		add(&out.Roles, string(r))
	}
	shelf, err := coursework.Read(ctx, l.v, l.m.Date)
	if err != nil {
		return err
	}
	for q := range shelf.Periods {
		if shelf.Any && q/4 == int(shelf.At)/4 {
			add(&out.Periods, shelf.Periods[q].Name)
		}
	}
	out.Terms = l.terms()
	return nil
}

// terms are the spans of the school year on which a rule can be tried: each term that has begun, and the year.
func (l *look) terms() []pages.Choice {
	out := []pages.Choice{}
	if len(l.schools) == 0 {
		return out
	}
	s := l.schools[0]
	name, from := "", day.NoStart
	for d := 0; d <= s.Upto; d++ {
		one := s.Section.Calendar.Day(d)
		if one.Term != name && name != "" {
			out = append(out, spanOf(name, from, s.Date(d-1)))
		}
		if one.Term != name {
			name, from = one.Term, one.Date
		}
	}
	if name != "" {
		out = append(out, spanOf(name, from, s.Date(s.Upto)))
	}
	return append(out, spanOf("This year", s.Date(0), s.Date(s.Upto)))
}

func spanOf(name string, from, to day.Date) pages.Choice {
	return pages.Choice{Value: from.String() + " " + to.String(), Label: name}
}

// One shows a rule filled in, with its versions.
func One(ctx context.Context, o *work.Office, p work.Person, id string) (RuleView, error) {
	out := RuleView{Versions: []RuleVersion{}}
	err := with(ctx, o, p, "", nil, func(l *look) error {
		held, err := l.rules(ctx)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(held, func(h concerns.HeldRule) bool { return h.ID == id })
		if i < 0 {
			return work.NotFoundf("there is no rule %q", id)
		}
		h := held[i]
		out.Form, out.Version = concerns.FormOf(h.Rule), h.Version
		if h.Problem == "" {
			out.Sentence = h.Sentence(l.names)
		}
		rows, err := store.AttentionRuleVersions(ctx, l.v.Store(), id)
		if err != nil {
			return err
		}
		policies, err := concerns.Policies(l.v)
		if err != nil {
			return err
		}
		for _, row := range rows {
			one := RuleVersion{By: row.By, At: row.Known.Date().Spoken() + " " + row.Known.Minute().String(), Sentence: "can’t be read any more"}
			if list, err := rulesfile.Parse([]byte(row.Words), policies); err == nil {
				one.Sentence = list[0].Sentence(l.names)
				form := concerns.FormOf(list[0])
				one.Form = &form
				if !list[0].On {
					one.Sentence += " (off)"
				}
			}
			if row.EndedAt != nil {
				one.Until = row.EndedAt.Date().Spoken()
			}
			out.Versions = append(out.Versions, one)
		}
		return nil
	})
	return out, err
}

// Where is the moment and the section that a rule is looked at in.
type Where struct {
	At      string        `json:"at,omitempty" maxLength:"20" doc:"A date or an instant; empty is now"`
	Section []ids.Section `json:"section,omitempty" maxItems:"20" doc:"Empty for every one"`
}

// Looking is a rule that is being built.
type Looking struct {
	Where
	Rule concerns.RuleForm `json:"rule"`
}

// Look says what a rule that is being built means, and whom it finds.
func Look(ctx context.Context, o *work.Office, p work.Person, in Looking) (RuleFound, error) {
	out := RuleFound{Students: []RuleStudent{}, Unknown: []RuleStudent{}}
	f := in.Rule
	err := with(ctx, o, p, in.At, in.Section, func(l *look) error {
		out.AsAt = l.asAt()
		f.Title = cmp.Or(strings.TrimSpace(f.Title), "A rule") // the title is no part of what it finds
		r, err := l.draft(f)
		if err != nil {
			out.Problem = err.Error()
			return nil
		}
		out.Sentence = r.Sentence(l.names)
		type found struct {
			RuleStudent
			since day.Date
		}
		var list []found
		for _, s := range l.schools {
			got := s.Find(&r.Rule, s.Upto)
			out.Of += got.Of
			for _, m := range got.Matches {
				since := s.Date(m.Since)
				list = append(list, found{RuleStudent{l.ref(s, m.Student), since.Spoken(), l.why(m.Held)}, since})
			}
			for _, i := range got.Unknown {
				out.Unknown = append(out.Unknown, RuleStudent{Student: l.ref(s, i)})
			}
		}
		slices.SortStableFunc(list, func(a, b found) int {
			return cmp.Or(cmp.Compare(a.since, b.since), strings.Compare(a.Student.Sorted, b.Student.Sorted))
		})
		for _, x := range list {
			out.Students = append(out.Students, x.RuleStudent)
		}
		return nil
	})
	return out, err
}

func (l *look) ref(s *concerns.School, i int) pages.StudentRef {
	return pages.Student(l.v, l.v.School.StudentOf(s.IDs[i]), l.m.Date)
}

// why says which pieces of a rule hold, each with its figure.
func (l *look) why(held []attention.Held) string {
	var out []string
	for _, h := range held {
		if words := h.Told(l.names); !slices.Contains(out, words) {
			out = append(out, words)
		}
	}
	return strings.Join(out, ", ")
}

// Keep writes the rules as a file that reads as the same rules.
func Keep(ctx context.Context, o *work.Office, p work.Person) (pages.File, error) {
	var out pages.File
	err := with(ctx, o, p, "", nil, func(l *look) error {
		held, err := l.rules(ctx)
		var list []rulesfile.Rule
		for _, h := range held {
			if h.Problem == "" {
				list = append(list, h.Rule)
			}
		}
		out = pages.File{Name: "rules.yaml", Type: "application/yaml", Content: rulesfile.Format(list)}
		return err
	})
	return out, err
}

package absencepage

import (
	"strings"

	"meldung/core/absence"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// part is a section of what is measured: its students by its own calendar.
type part struct {
	work.Section
	measure  *absence.Measure
	span     pages.Span
	students []store.Student
	places   []int
}

// partsOf makes the sections of a scope ready to be measured by a policy. Those that do not
// measure by the same wording of it, or have no calendar, are named apart.
func partsOf(v work.Snapshot, scope work.Scope, policyID string) (parts []part, apart []string, err error) {
	var refused error
	for _, s := range v.In(scope) {
		m, err := s.Measure(policyID)
		switch {
		case err != nil:
			refused = err
			apart = append(apart, s.Name)
		case len(parts) > 0 && m.Policy().Version != parts[0].measure.Policy().Version:
			apart = append(apart, s.Name)
		default:
			parts = append(parts, part{Section: s, measure: m})
		}
	}
	if len(parts) == 0 {
		return nil, nil, refused
	}
	return parts, apart, nil
}

// ask reads the span and the students that are asked for in each section, and says in words
// who they are.
func ask(v work.Snapshot, parts []part, m work.Moment, a pages.AbsenceAsk) (words string, err error) {
	for i := range parts {
		p := &parts[i]
		if p.span, err = pages.SpanOf(p.Section, m, a); err != nil {
			return "", err
		}
		if p.students, words, err = pages.GroupOf(v, work.Scope{p.ID}, m.Date, a.Group); err != nil {
			return "", err
		}
		for _, s := range p.students {
			p.places = append(p.places, p.Place(s.ID))
		}
	}
	return words, nil
}

// spanOf puts the sections' spans together: the first and last dates of any, in the words of
// the first that has one.
func spanOf(parts []part) pages.Span {
	out := pages.Span{Whole: true}
	for _, p := range parts {
		s := p.span
		out.Whole = out.Whole && s.Whole
		out.Days = max(out.Days, s.Days)
		if s.First == "" {
			continue
		}
		if out.First == "" || s.First < out.First {
			out.First = s.First
		}
		if s.Last > out.Last {
			out.Last, out.Sentence = s.Last, s.Sentence
		}
	}
	return out
}

// groupsOf adds up each section's students.
func groupsOf(parts []part) absence.Groups {
	var out absence.Groups
	for _, p := range parts {
		out = append(out, p.measure.Group(p.places, p.span.Span))
	}
	return out
}

// apartText says which sections are left out, and why.
func apartText(names []string) string {
	if len(names) == 0 {
		return ""
	}
	verb := "measures"
	if len(names) > 1 {
		verb = "measure"
	}
	return "Without " + strings.Join(names, " and ") + ", which " + verb + " otherwise: look at it alone."
}

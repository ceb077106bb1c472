package absencepage

import (
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/ids"
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
	places   []int                 // of the students in the measure's ledger
	lessons  func(d, pos int) bool // where a class is measured by its own lessons: whether it met; else nil
	whole    *absence.Measure      // by every lesson; the same where no class is measured
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
		if err := p.classOnly(v, a.Group); err != nil {
			return "", err
		}
	}
	return words, nil
}

// classOnly has a part measure by the lessons of a class, where one is asked for that is no form:
// those in which it met, while the student was on its roll.
func (p *part) classOnly(v work.Snapshot, group string) error {
	p.whole = p.measure
	if p.measure.Policy().RegistrationOnly {
		all, err := p.EverySlot()
		if err != nil {
			return err
		}
		p.whole = all
	}
	kind, name, _ := strings.Cut(group, ":")
	id, _ := strconv.ParseInt(name, 10, 64)
	class, known := v.School.Class(ids.Class(id))
	if kind != "class" || !known || class.Form() || len(p.students) == 0 {
		return nil
	}
	return p.lessonsOf(v, class)
}

// lessonsOf has the part measure by the lessons of a class or a form.
func (p *part) lessonsOf(v work.Snapshot, class store.Class) error {
	met := make([][]bool, p.Calendar.Days())
	roll := make([]map[ids.Student]bool, p.Calendar.Days())
	for d := range max(0, p.span.To+1) {
		sd := p.Calendar.Day(d)
		then := v.School.Records().On(sd.Date)
		section := then.Section(p.ID)
		met[d] = make([]bool, len(sd.Pattern.Slots))
		for pos, slot := range sd.Pattern.Slots {
			met[d][pos] = section.Meets(class.ID, slot.Name, sd)
		}
		roll[d] = map[ids.Student]bool{}
		for _, e := range then.EnrolledIn(class.ID) {
			roll[d][e.StudentID] = roll[d][e.StudentID] || e.On(sd.Date)
		}
	}
	p.lessons = func(d, pos int) bool { return met[d] != nil && met[d][pos] }
	own := map[int]ids.Student{}
	for i, s := range p.students {
		own[p.places[i]] = s.ID
		p.places[i] = i
	}
	places := make([]int, len(p.students))
	for i, s := range p.students {
		places[i] = p.Place(s.ID)
	}
	part := p.Ledger.Part(places, func(i, d, pos int) bool { return p.lessons(d, pos) && roll[d][own[i]] })
	p.measure = absence.NewMeasure(part, p.measure.Policy())
	return nil
}

// onSite counts a student's lessons that were missed while on site, within the span.
func (p part) onSite(student ids.Student) int {
	return p.whole.MissedOnSite(p.Place(student), p.span.Span, p.lessons)
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

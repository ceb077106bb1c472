package roster

import (
	"maps"
	"slices"
	"sort"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// stay is what a roster says of a place on the roll or in a class.
type stay struct {
	from, to *day.Date // as written; nil for not
	usual    day.Date  // the beginning of a new one without a date
}

// taken returns the dates of a place once a roster is taken over some dates; s is nil where
// the roster lacks it. What was before stays as it was, and so does what is known of later; a
// place that was over begins again when the roster has it again. It reports whether the
// roster would have the past otherwise.
func (s *stay) taken(old []day.Dates, over day.Dates) (now []day.Dates, past bool) {
	held := make([]day.Dated[struct{}], len(old))
	for i, o := range old {
		held[i] = day.Dated[struct{}]{On: o}
	}
	left := day.Supersede(held, nil, over)
	if s != nil {
		span := day.Dates{From: s.begins(held, over), To: over.To}
		if s.to != nil {
			span.To = *s.to
		}
		before := slices.IndexFunc(old, func(o day.Dates) bool { return over.From != day.NoStart && o.Has(over.From-1) })
		if before >= 0 {
			past = (s.from != nil && *s.from < over.From && *s.from != old[before].From) || span.To < over.From-1
		}
		left = day.Supersede(left, &struct{}{}, span)
	}
	for _, d := range left {
		now = append(now, d.On)
	}
	return now, past
}

// begins returns the date from which a place is held anew, or goes on.
func (s *stay) begins(old []day.Dated[struct{}], over day.Dates) day.Date {
	switch {
	case len(old) == 0 && s.from == nil:
		return s.usual
	case over.From == day.NoStart && s.from == nil:
		return old[0].On.From
	case len(old) == 0, over.From == day.NoStart:
		return *s.from
	}
	if _, goesOn := day.HeldOn(old, over.From-1); goesOn {
		if s.from != nil {
			return max(over.From, *s.from)
		}
		return over.From
	}
	begin, ended := over.From, day.NoStart
	for _, o := range old {
		if o.On.To < over.From {
			ended = o.On.To
		} else {
			begin = o.On.From // planned before
			break
		}
	}
	if s.from != nil && *s.from > ended {
		return *s.from
	}
	return begin
}

// stays takes who is on the roll, and when.
func (c *rosterChange) stays() {
	old := map[ids.Student][]day.Dates{}
	for _, x := range c.old.Spans {
		old[x.StudentID] = append(old[x.StudentID], x.Dates())
	}
	now, dated := map[ids.Student]*stay{}, map[string]bool{}
	for _, s := range c.read.Bundle.Students {
		now[c.students[s.ID]] = &stay{from: s.From, to: s.To, usual: c.begin()}
	}
	for _, e := range c.read.Bundle.Enrollments { // else a student begins with the first place in a class
		if s := now[c.students[e.Student]]; e.From != nil && !dated[e.Student] {
			s.usual, dated[e.Student] = *e.From, true
		} else if e.From != nil {
			s.usual = min(s.usual, *e.From)
		}
	}
	part := plans.PlanPart{What: "stay on the roll"}
	c.next.Spans = nil
	for _, s := range c.next.Students {
		was := old[s.ID]
		then, past := now[s.ID].taken(was, c.overOf(s.ID))
		if past {
			c.p.Note("%s %s: the roster has the stay on the roll otherwise before %s; what was measured stays as it is", s.Name(), s.Number, plans.SpokenYear(c.over.From))
		}
		switch {
		case slices.Equal(was, then):
			part.Same++
		case len(was) == 0:
			part.Added++
		case len(then) == 0 || then[len(then)-1].To < was[len(was)-1].To:
			part.Ended++
			c.p.Detail("%s %s leaves after %s", s.Name(), s.Number, lastDate(then))
		default:
			part.Changed++
			c.p.Detail("change stay on the roll of %s %s from %s to %s", s.Name(), s.Number, datesText(was), datesText(then))
		}
		for _, d := range then {
			c.next.Spans = append(c.next.Spans, store.StudentSpan{StudentID: s.ID, Held: store.HeldOn(d)})
		}
	}
	c.p.Parts = append(c.p.Parts, part)
}

func lastDate(list []day.Dates) string {
	if len(list) == 0 {
		return "no day at all"
	}
	return plans.SpokenYear(list[len(list)-1].To)
}

func datesText(list []day.Dates) string {
	var out []string
	for _, d := range list {
		text := "since " + plans.SpokenYear(d.From)
		if d.To != day.NoEnd {
			text = plans.SpokenYear(d.From) + " to " + plans.SpokenYear(d.To)
		}
		out = append(out, text)
	}
	return strings.Join(out, " and ")
}

// begin is the date from which something new without a date holds: when the roster does, or
// the school year.
func (c *rosterChange) begin() day.Date {
	if c.over.From != day.NoStart {
		return c.over.From
	}
	if first, _ := c.schoolYear(); first != day.NoStart {
		return first
	}
	return 0
}

// place is a student's place in a class.
type place struct {
	sourcedID string
	class     ids.Class
	student   ids.Student
}

// enrol takes who is in which class, and who teaches it.
func (c *rosterChange) enrol() {
	b := c.read.Bundle
	old, rows := map[place][]day.Dates{}, map[place]map[day.Date]int64{}
	var order []place
	next := int64(0)
	for _, e := range c.old.Enrollments {
		k := place{e.SourcedID, e.ClassID, e.StudentID}
		if rows[k] == nil {
			rows[k], order = map[day.Date]int64{}, append(order, k)
		}
		old[k] = append(old[k], e.Dates())
		rows[k][e.From] = e.ID
		next = max(next, e.ID)
	}
	began := map[ids.Student]day.Date{}
	for _, x := range c.next.Spans {
		if x.On(c.over.From) || began[x.StudentID] == 0 {
			began[x.StudentID] = x.From
		}
	}
	now := map[place]*stay{}
	for _, e := range b.Enrollments {
		student := c.students[e.Student]
		k := place{e.ID, c.classes[e.Class], student}
		if old[k] == nil && now[k] == nil {
			order = append(order, k)
		}
		now[k] = &stay{from: e.From, to: e.To, usual: max(began[student], c.begin())}
	}
	part := plans.PlanPart{What: "place in a class"}
	c.next.Enrollments = nil
	for _, k := range order {
		then, _ := now[k].taken(old[k], c.over)
		switch {
		case slices.Equal(old[k], then):
			if now[k] != nil {
				part.Same++
			}
		case len(old[k]) == 0:
			part.Added++
		case now[k] == nil:
			part.Ended++
		default:
			part.Changed++
		}
		for _, d := range then {
			row := store.Enrollment{ID: rows[k][store.HeldOn(d).From], SourcedID: k.sourcedID, ClassID: k.class, StudentID: k.student, Held: store.HeldOn(d)}
			if row.ID == 0 {
				next++
				row.ID = next
			}
			c.next.Enrollments = append(c.next.Enrollments, row)
		}
	}
	c.p.Parts = append(c.p.Parts, part)
	c.teach()
}

// teach takes who teaches which class.
func (c *rosterChange) teach() {
	type pair struct {
		class ids.Class
		staff ids.Staff
	}
	old, was, now, is := map[pair][]day.Dates{}, map[pair]store.ClassTeacher{}, map[pair]*stay{}, map[pair]store.ClassTeacher{}
	var order []pair
	for _, t := range c.old.Teachers {
		k := pair{t.ClassID, t.StaffID}
		if old[k] == nil {
			order = append(order, k)
		}
		old[k], was[k], is[k] = append(old[k], t.Dates()), t, t
	}
	for _, t := range c.read.Bundle.Teachings {
		k := pair{c.classes[t.Class], c.staff[t.Staff]}
		if old[k] == nil && now[k] == nil {
			order = append(order, k)
		}
		now[k] = &stay{from: t.From, to: t.To, usual: c.over.From}
		is[k] = store.ClassTeacher{SourcedID: t.ID, ClassID: k.class, StaffID: k.staff, Main: t.Primary}
	}
	names, titles := map[ids.Staff]string{}, map[ids.Class]string{}
	for _, s := range c.next.Staff {
		names[s.ID] = s.Short()
	}
	for _, x := range c.next.ClassDetails {
		titles[x.ClassID] = x.Title
	}
	part := plans.PlanPart{What: "teacher of a class"}
	c.next.Teachers = nil
	for _, k := range order {
		then, _ := now[k].taken(old[k], c.over)
		name := names[k.staff] + " of " + titles[k.class]
		switch {
		case slices.Equal(old[k], then) && (now[k] == nil || was[k].SourcedID == is[k].SourcedID && was[k].Main == is[k].Main):
			if now[k] != nil {
				part.Same++
			}
		case len(old[k]) == 0:
			part.Added++
			c.p.Detail("add teacher of a class %s", name)
		case now[k] == nil:
			part.Ended++
			c.p.Detail("end teacher of a class %s", name)
		default:
			part.Changed++
			c.p.Detail("change teacher of a class %s", name)
		}
		for _, d := range then {
			row := is[k]
			row.Held = store.HeldOn(d)
			c.next.Teachers = append(c.next.Teachers, row)
		}
	}
	c.p.Parts = append(c.p.Parts, part)
}

// moves says who goes from which form to which, and adds it up by year.
func (c *rosterChange) moves(v work.Snapshot) {
	if c.over.From == day.NoStart || len(c.p.Problems) > 0 {
		return
	}
	records, err := v.School.Records().With(c.next)
	if err != nil {
		return // said when it is to be applied
	}
	before, after := v.School.Records().On(c.over.From-1), records.On(c.over.From)
	type step struct{ from, to string }
	type group struct{ year, form, section string }
	years, sections := map[step]int{}, map[step]int{}
	for _, s := range c.next.Students {
		was, is := before.StudentOf(s.ID), after.StudentOf(s.ID)
		from, to := group{}, group{}
		if was.EnrolledOn(c.over.From - 1) {
			from = group{was.Year, before.Form(s.ID, c.over.From-1), c.among(was.Section)}
		}
		if is.EnrolledOn(c.over.From) {
			to = group{is.Year, after.Form(s.ID, c.over.From), c.among(is.Section)}
		}
		if from == to {
			continue
		}
		c.p.Detail("%s %s: %s to %s", s.Name(), s.Number, groupText(from.year, from.form, from.section), groupText(to.year, to.form, to.section))
		if from.year != to.year {
			years[step{from.year, to.year}]++
		}
		if from.section != to.section && from.section != "" && to.section != "" {
			sections[step{from.section, to.section}]++
		}
	}
	steps := slices.Collect(maps.Keys(years))
	sort.Slice(steps, func(a, b int) bool {
		if steps[a].from != steps[b].from {
			return number(steps[a].from) < number(steps[b].from) || (number(steps[a].from) == number(steps[b].from) && steps[a].from < steps[b].from)
		}
		return steps[a].to < steps[b].to
	})
	for _, s := range steps {
		switch {
		case s.from == "":
			c.p.Note("%s new in year %s", work.Count(years[s], "student"), s.to)
		case s.to == "":
			c.p.Note("%s of year %s: on the roll no more", work.Count(years[s], "student"), s.from)
		default:
			c.p.Note("%s from year %s to year %s", work.Count(years[s], "student"), s.from, s.to)
		}
	}
	for _, s := range slices.SortedFunc(maps.Keys(sections), func(a, b step) int { return strings.Compare(a.from+a.to, b.from+b.to) }) {
		c.p.Note("%s from %s to %s", work.Count(sections[s], "student"), s.from, s.to)
	}
}

func groupText(year, form, section string) string {
	if year == "" && form == "" {
		return "not on the roll"
	}
	return work.Join(", ", work.Join(" ", "year", year), form, section)
}

// number reads a year for its place in order; what is no number comes first.
func number(year string) int {
	n := 0
	for _, r := range year {
		if r < '0' || r > '9' {
			return 0
		}
		n = n*10 + int(r-'0')
	}
	return n
}

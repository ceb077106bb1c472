package paperpage

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/listing"
	"meldung/core/ownfield"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/coursework"
	"meldung/work/ownfields"
	"meldung/work/steps"
)

// FieldKind is what sort of thing a field puts into a column.
type FieldKind string

// The kinds.
const (
	textField   FieldKind = ""
	numberField FieldKind = "number"
	shareField  FieldKind = "share" // with one decimal
	dateField   FieldKind = "date"
	writeField  FieldKind = "write" // empty, to write in
	tickField   FieldKind = "tick"
	photoField  FieldKind = "photo"
)

// field is something that a column can hold.
type field struct {
	id, label, of string // of: under what it is found
	heading       string
	width         int // mm
	kind          FieldKind
	unit          string          // of its numbers in a file, which its heading names there
	needs         work.Permission // beside seeing the student; empty for nothing
	cell          func(r *reader, s store.Student) listing.Cell
}

// reader is what the cells of a list are read from, each part when it is asked for first.
type reader struct {
	v work.Snapshot
	m work.Moment
	x *work.Day

	own   map[ids.Student]map[ids.OwnField]string
	shelf *coursework.Shelf
	faces map[string][]byte // by the student's number in the store
	home  int               // which of a student's homes is read
}

// mostContacts is how many contacts have columns of their own.
const mostContacts = 4

// fieldsFor are the fields that a person may put on a list, in the order in which they are offered.
func fieldsFor(ctx context.Context, v work.Snapshot, p work.Person) ([]field, error) {
	out := slices.Clone(plainFields)
	for n := range mostContacts {
		out = append(out, contactFields(n)...)
	}
	for _, s := range v.Sections() {
		if s.Calendar == nil {
			continue
		}
		for _, pattern := range s.Calendar.Patterns() {
			for _, slot := range pattern.Slots {
				if !slices.ContainsFunc(out, func(f field) bool { return f.id == "class:"+slot.Name }) {
					out = append(out, classField(slot))
				}
			}
		}
	}
	figures, err := figureFields(v)
	if err != nil {
		return nil, err
	}
	out = append(append(out, figures...), courseFields...)
	own, err := ownfields.All(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	for _, f := range own {
		if !f.Retired && f.SeenBy(p) {
			out = append(out, ownColumn(f))
		}
	}
	return slices.DeleteFunc(out, func(f field) bool { return f.needs != "" && !p.May(f.needs) }), nil
}

func plain(text string) listing.Cell { return listing.Cell{Text: text} }

// dated is a date as people read it and as a file has it.
func dated(d day.Date, text string) listing.Cell {
	c := listing.Ranked(text, float64(d))
	c.File = d.String()
	return c
}

func bornOn(s store.Student) (day.Date, bool) {
	d, err := day.ParseDate(s.Born)
	return d, err == nil
}

var plainFields = []field{
	{id: "sorted", label: "Family name, given name", of: "Names", heading: "Name", width: 46, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Family + ", " + s.Given) }},
	{id: "name", label: "Given name and family name", of: "Names", heading: "Name", width: 46, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Name()) }},
	{id: "family", label: "Family name", of: "Names", heading: "Family name", width: 30, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Family) }},
	{id: "given", label: "Given name", of: "Names", heading: "Given name", width: 26, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Given) }},
	{id: "middle", label: "Middle names", of: "Names", heading: "Middle names", width: 26, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Middle) }},
	{id: "number", label: "Student number", of: "Student", heading: "Number", width: 17, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Number) }},
	{id: "form", label: "Form", of: "Student", heading: "Form", width: 22, cell: func(r *reader, s store.Student) listing.Cell { return plain(r.v.School.Form(s.ID, r.m.Date)) }},
	{id: "year", label: "Year", of: "Student", heading: "Year", width: 11, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Year) }},
	{id: "section", label: "Section", of: "Student", heading: "Section", width: 26, cell: func(r *reader, s store.Student) listing.Cell { return plain(r.v.Of(s.ID).Name) }},
	{id: "teacher", label: "Form teacher", of: "Student", heading: "Form teacher", width: 28, cell: formTeacher},
	{id: "photo", label: "Photo", of: "Student", heading: "Photo", width: 22, kind: photoField, needs: work.MaySeePhoto, cell: photo},
	{id: "born", label: "Date of birth", of: "Student", heading: "Born", width: 24, kind: dateField, cell: func(_ *reader, s store.Student) listing.Cell {
		if d, ok := bornOn(s); ok {
			return dated(d, d.Time().Format("2 January 2006"))
		}
		return plain(s.Born)
	}},
	{id: "birthday", label: "Birthday, by day of the year", of: "Student", heading: "Birthday", width: 26, cell: func(_ *reader, s store.Student) listing.Cell {
		if d, ok := bornOn(s); ok {
			return listing.Ranked(d.Time().Format("2 January"), float64(int(d.Time().Month())*100+d.Time().Day()))
		}
		return plain("")
	}},
	{id: "month", label: "Month of the birthday", of: "Student", heading: "Month", width: 22, cell: func(_ *reader, s store.Student) listing.Cell {
		if d, ok := bornOn(s); ok {
			return listing.Ranked(d.Time().Month().String(), float64(d.Time().Month()))
		}
		return plain("")
	}},
	{id: "age", label: "Age", of: "Student", heading: "Age", width: 11, kind: numberField, cell: func(r *reader, s store.Student) listing.Cell {
		if d, ok := bornOn(s); ok {
			n := age(d.Time(), r.m.Date.Time())
			return listing.Ranked(strconv.Itoa(n), float64(n))
		}
		return plain("")
	}},
	{id: "travels", label: "How they come to school", of: "Student", heading: "Comes by", width: 22, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Travels) }},
	{id: "card", label: "Card", of: "Student", heading: "Card", width: 22, needs: work.MayPrintCards, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Card) }},
	{id: "email", label: "The student’s own e-mail", of: "Student", heading: "E-mail", width: 46, needs: work.MaySeeContacts, cell: func(_ *reader, s store.Student) listing.Cell { return plain(s.Email) }},
	{id: "part-time", label: "Part-time", of: "Student", heading: "Part-time", width: 18, cell: func(r *reader, s store.Student) listing.Cell {
		if r.v.School.ScheduleOf(s.ID, r.m.Date) != nil || s.ShareHere != "1" {
			return plain("part-time")
		}
		return plain("")
	}},
	{id: "warnings", label: "Warnings: medical, plans, what to know", of: "Care", heading: "To know", width: 50, cell: func(r *reader, s store.Student) listing.Cell {
		return plain(strings.Join(pages.Warnings(r.v.School.WarningsOf(s.ID)), "\n"))
	}},
	{id: "care", label: "Warnings of those who are rung about first", of: "Care", heading: "Care first", width: 46, cell: func(r *reader, s store.Student) listing.Cell {
		list := slices.Clone(r.v.School.WarningsOf(s.ID))
		return plain(strings.Join(pages.Warnings(slices.DeleteFunc(list, func(w store.Warning) bool { return !w.CareFirst })), "\n"))
	}},
	{id: "contacts", label: "All contacts in the order of calling", of: "Contacts", heading: "Contacts, in the order of calling", width: 86, needs: work.MaySeeContacts, cell: allContacts},
	{id: "collect", label: "Who may collect", of: "Contacts", heading: "May collect", width: 44, needs: work.MaySeeContacts, cell: func(r *reader, s store.Student) listing.Cell {
		var out []string
		for _, c := range r.v.School.ContactsOf(s.ID) {
			if c.MayCollect {
				x := r.v.School.ContactOf(c.ID)
				out = append(out, work.Join(", ", x.Name(), c.Relation))
			}
		}
		return plain(strings.Join(out, "\n"))
	}},
	{id: "home-names", label: "Whom letters go to", of: "Contacts", heading: "To", width: 46, needs: work.MaySeeContacts, cell: func(r *reader, s store.Student) listing.Cell {
		return plain(home(r, s, func(x steps.Recipient) string { return x.Names }))
	}},
	{id: "home-address", label: "Address that letters go to", of: "Contacts", heading: "Address", width: 46, needs: work.MaySeeContacts, cell: func(r *reader, s store.Student) listing.Cell {
		return plain(home(r, s, func(x steps.Recipient) string { return x.Address }))
	}},
	{id: "where", label: "Where they are now", of: "Today", heading: "Now", width: 44, cell: func(r *reader, s store.Student) listing.Cell {
		if r.x == nil {
			return plain("")
		}
		return plain(work.Whereabouts(r.v.Position(r.x, s.ID, r.m)))
	}},
	{id: "tick", label: "A box to tick", of: "To fill in", heading: "", width: 12, kind: tickField, cell: nothing},
	{id: "write", label: "An empty column to write in", of: "To fill in", heading: "", width: 34, kind: writeField, cell: nothing},
}

func nothing(*reader, store.Student) listing.Cell { return listing.Cell{} }

func age(born, on time.Time) int {
	n := on.Year() - born.Year()
	if on.Month() < born.Month() || on.Month() == born.Month() && on.Day() < born.Day() {
		n--
	}
	return n
}

func formTeacher(r *reader, s store.Student) listing.Cell {
	for _, e := range r.v.School.EnrollmentsOf(s.ID) {
		if c := r.v.School.ClassOf(e.ClassID); c.Form() && e.On(r.m.Date) {
			return plain(r.v.School.TeachersOf(c.ID))
		}
	}
	return plain("")
}

func photo(r *reader, s store.Student) listing.Cell {
	if id := fmt.Sprint(s.ID); r.faces[id] != nil {
		return plain(id)
	}
	return plain("")
}

// home is what is known of those whom a letter about a student goes to, in one of the student's homes.
func home(r *reader, s store.Student, what func(steps.Recipient) string) string {
	to := steps.RecipientsOf(r.v, s.ID)
	if r.home >= len(to) {
		return ""
	}
	return what(to[r.home])
}

// noContact is what a list says of a student without one, so that nobody takes them for forgotten.
const noContact = "no contact on file"

// allContacts are all of a student's contacts, a line each. Who must not be called stands there too, without a number.
func allContacts(r *reader, s store.Student) listing.Cell {
	list := pages.Contacts(r.v.School.ContactsOf(s.ID))
	if len(list) == 0 {
		return plain(noContact)
	}
	lines := make([]string, len(list))
	for n, c := range list {
		lines[n] = fmt.Sprint(n+1, " ", work.Join(", ", work.Join(", ", c.Name, c.Relation), numberOf(c)))
	}
	return plain(strings.Join(lines, "\n"))
}

// contactFields are those of the n-th contact in the order of calling.
func contactFields(n int) []field {
	one := func(what, heading string, width int, cell func(r *reader, c pages.ContactRef, x store.Contact) string) field {
		label := fmt.Sprintf("Contact %d: %s", n+1, what)
		return field{id: fmt.Sprintf("contact:%d:%s", n+1, what), label: label, of: "Contacts", heading: heading, width: width, needs: work.MaySeeContacts, cell: func(r *reader, s store.Student) listing.Cell {
			list := pages.Contacts(r.v.School.ContactsOf(s.ID))
			if n >= len(list) {
				return plain(map[bool]string{true: noContact}[len(list) == 0 && n == 0])
			}
			return plain(cell(r, list[n], r.v.School.ContactOf(list[n].ID)))
		}}
	}
	named := map[bool]string{true: "Contact", false: fmt.Sprintf("Contact %d", n+1)}[n == 0]
	return []field{
		one("name, relation and phone", named, 52, func(_ *reader, c pages.ContactRef, _ store.Contact) string {
			return work.Join(", ", work.Join(", ", c.Name, c.Relation), numberOf(c))
		}),
		one("name", named, 36, func(_ *reader, c pages.ContactRef, _ store.Contact) string { return c.Name }),
		one("relation", "Relation", 20, func(_ *reader, c pages.ContactRef, _ store.Contact) string { return c.Relation }),
		one("phone", "Phone", 28, func(_ *reader, c pages.ContactRef, _ store.Contact) string { return numberOf(c) }),
		one("e-mail", "E-mail", 46, func(_ *reader, _ pages.ContactRef, x store.Contact) string { return x.Email }),
		one("address", "Address", 46, func(_ *reader, _ pages.ContactRef, x store.Contact) string { return x.Address }),
		one("language", "Language", 20, func(_ *reader, _ pages.ContactRef, x store.Contact) string { return x.Language }),
	}
}

// numberOf is a contact's number exactly as given, never parted by the end of a line.
func numberOf(c pages.ContactRef) string {
	if c.DoNotCall {
		return "must not be called"
	}
	return strings.ReplaceAll(c.Phone, " ", listing.Together)
}

// classField is the class that a student has in a slot of the day; of the next school day where there is no school.
func classField(slot day.Slot) field {
	heading := slot.Name
	if slot.Label() != "" {
		heading = slot.Label()
	}
	return field{id: "class:" + slot.Name, label: "Class in " + heading, of: "Today", heading: strings.ToUpper(heading[:1]) + heading[1:], width: 26, cell: func(r *reader, s store.Student) listing.Cell {
		section := r.v.Of(s.ID)
		sd, _, open := section.SchoolDay(r.m.Date)
		if next, ahead := r.v.School.Records().SchoolDayAfter(r.m.Date, section.ID); !open && ahead {
			sd, _, open = section.SchoolDay(next)
		}
		if !open {
			return plain("")
		}
		for _, e := range r.v.School.EnrollmentsOf(s.ID) {
			if e.On(sd.Date) && section.Meets(e.ClassID, slot.Name, sd) {
				return plain(r.v.School.ClassOf(e.ClassID).Title)
			}
		}
		return plain("")
	}}
}

// figureFields are the year's absence by each policy that is measured by, and lates.
func figureFields(v work.Snapshot) ([]field, error) {
	var out []field
	for _, s := range v.Sections() {
		if s.Ledger == nil {
			continue
		}
		list, err := s.PoliciesOn(v.On)
		if err != nil {
			return nil, err
		}
		for _, p := range list {
			if slices.ContainsFunc(out, func(f field) bool { return strings.HasPrefix(f.id, "figure:"+p.ID+":") }) {
				continue
			}
			out = append(out, policyFields(p)...)
		}
	}
	return out, nil
}

func policyFields(p *policy.Policy) []field {
	title := pages.TitleOr(p.Title, p.ID)
	units := map[bool]string{true: "time", false: fmt.Sprint(p.Unit, "s")}[p.Unit == policy.Minutes]
	one := func(what, words, heading string, kind FieldKind, cell func(f absence.Figures) listing.Cell) field {
		return field{id: "figure:" + p.ID + ":" + what, label: words + " this year, by " + title, of: "Absence", heading: heading, width: 18, kind: kind, needs: work.MaySeeAbsence, cell: func(r *reader, s store.Student) listing.Cell {
			f, ok := figuresOf(r, s, p.ID)
			if !ok {
				return plain("")
			}
			return cell(f)
		}}
	}
	amount := func(n int) listing.Cell {
		if p.Unit == policy.Minutes {
			c := listing.Ranked(day.Duration(n), float64(n))
			c.File = strconv.Itoa(n)
			return c
		}
		return listing.Ranked(strconv.Itoa(n), float64(n))
	}
	in := map[bool]string{true: "min"}[p.Unit == policy.Minutes]
	out := []field{
		one("share", "Share missed", "Missed, %", shareField, func(f absence.Figures) listing.Cell {
			if f.Possible == 0 {
				return plain("")
			}
			return listing.Ranked(f.Rate(), float64(f.Absent)/float64(f.Possible))
		}),
		one("missed", strings.ToUpper(units[:1])+units[1:]+" missed", "Missed", numberField, func(f absence.Figures) listing.Cell { return amount(f.Absent) }),
		one("excused", "Excused "+units, "Excused", numberField, func(f absence.Figures) listing.Cell { return amount(f.Excused) }),
		one("unexcused", "Unexcused "+units, "Unexcused", numberField, func(f absence.Figures) listing.Cell { return amount(f.Unexcused) }),
		one("lates", "Lates", "Lates", numberField, func(f absence.Figures) listing.Cell { return listing.Ranked(strconv.Itoa(f.Lates), float64(f.Lates)) }),
	}
	for i := range out[1:4] { // which are amounts
		out[i+1].unit = in
	}
	return out
}

// figuresOf are the figures of the year up to the last day that is over.
func figuresOf(r *reader, s store.Student, id string) (absence.Figures, bool) {
	section := r.v.Of(s.ID)
	if section.Ledger == nil {
		return absence.Figures{}, false
	}
	place := section.Place(s.ID)
	m, err := section.Measure(id)
	if err != nil || place < 0 {
		return absence.Figures{}, false
	}
	span := section.Ledger.YearTo(r.m.Date)
	span.To = section.Calendar.EndedBy(r.m.Date, r.m.Minute)
	return m.Student(place, span), true
}

var courseFields = []field{
	{id: "courses:failing", label: "Courses that are failed, last period", of: "Courses", heading: "Failing", width: 46, needs: work.MaySeeResults, cell: func(r *reader, s store.Student) listing.Cell {
		return plain(strings.Join(graded(r, s, true), "\n"))
	}},
	{id: "courses:grades", label: "All grades of the last period", of: "Courses", heading: "Grades", width: 60, needs: work.MaySeeResults, cell: func(r *reader, s store.Student) listing.Cell {
		return plain(strings.Join(graded(r, s, false), "\n"))
	}},
	{id: "courses:mean", label: "Mean points of the last period", of: "Courses", heading: "Mean", width: 14, kind: shareField, needs: work.MaySeeResults, cell: func(r *reader, s store.Student) listing.Cell {
		i := r.course(s)
		if i < 0 {
			return plain("")
		}
		mean, any := r.shelf.Mean(i, r.shelf.At)
		if !any {
			return plain("")
		}
		by, _ := mean.Rat().Float64()
		return listing.Ranked(mean.Rat().FloatString(2), by)
	}},
}

// course is a student's place among those with results; −1 for none.
func (r *reader) course(s store.Student) int {
	if r.shelf == nil || !r.shelf.Any {
		return -1
	}
	return r.shelf.Place(s.ID)
}

func graded(r *reader, s store.Student, failing bool) (out []string) {
	i := r.course(s)
	if i < 0 {
		return nil
	}
	for _, g := range r.shelf.Book.Graded([]int{i}, r.shelf.At) {
		if g.Grade.Failing || !failing {
			out = append(out, r.shelf.Courses[g.Record.Course].Title+" "+g.Grade.Shown())
		}
	}
	slices.Sort(out)
	return out
}

// ownColumn is one of the school's own fields.
func ownColumn(f ownfields.OwnField) field {
	out := field{id: fmt.Sprintf("own:%d", f.ID), label: f.Name, of: "The school’s own", heading: f.Name, width: 28}
	switch f.Kind {
	case ownfield.Date:
		out.kind = dateField
	case ownfield.Number:
		out.kind = shareField
	}
	out.cell = func(r *reader, s store.Student) listing.Cell {
		value := r.own[s.ID][f.ID]
		if d, err := day.ParseDate(value); err == nil && f.Kind == ownfield.Date {
			return dated(d, f.Kind.Words(value))
		}
		c := listing.Cell{Text: f.Kind.Words(value)}
		if x, err := strconv.ParseFloat(value, 64); err == nil && f.Kind == ownfield.Number {
			c.Rank, c.File = &x, value
		}
		return c
	}
	return out
}

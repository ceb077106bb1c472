package paperpage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"meldung/core/ids"
	"meldung/core/listing"
	"meldung/files/paper"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/coursework"
	"meldung/work/paperlists"
	"meldung/work/school"
	"meldung/work/steps"
)

// PaperColumn is a column of a list as it is shown to somebody.
type PaperColumn struct {
	At      int       `json:"at" doc:"Its place among all columns of the list"`
	Field   string    `json:"field"`
	Label   string    `json:"label" doc:"What the field is"`
	Heading string    `json:"heading"`
	Width   int       `json:"width"`
	Kind    FieldKind `json:"kind" enum:",number,share,date,write,tick,photo"`
}

// PaperStudent is who is on a list, to be taken off.
type PaperStudent struct {
	ID   ids.Student `json:"id"`
	Name string      `json:"name"`
	Form string      `json:"form"`
}

// PaperLook is a list as it would be printed now: one of its pages.
type PaperLook struct {
	Problem  string         `json:"problem" doc:"What is wrong with it; empty where nothing is"`
	Page     paper.Page     `json:"page"`
	Number   int            `json:"number"`
	Pages    int            `json:"pages"`
	Students int            `json:"students"`
	Covers   string         `json:"covers" doc:"Who is on it, and as at when"`
	Columns  []PaperColumn  `json:"columns" doc:"Those that the person sees, in their order"`
	Left     []string       `json:"left" doc:"Columns that are left out, and why"`
	Who      []PaperStudent `json:"who" doc:"Who is on it; empty where it was not asked for"`
	Gone     int            `json:"gone" doc:"Of those named one by one: how many are not on the roll of the sections looked at"`
	Today    string         `json:"today"`
}

// LookAsk is a list on its way.
type LookAsk struct {
	Setup paperlists.Setup `json:"setup"`
	Page  int              `json:"page,omitempty" minimum:"0" maximum:"5000"`
	Names bool             `json:"names,omitempty" doc:"Who is on it is asked for too"`
}

// MakeAsk is a list to be made as a file.
type MakeAsk struct {
	Setup  paperlists.Setup `json:"setup"`
	Format string           `json:"format" enum:"pdf,csv,xlsx"`
}

// filled is a list with its rows.
type filled struct {
	setup   paperlists.Setup
	columns []field // those that the person sees
	as      []paperlists.PaperListColumn
	at      []int // their places among all
	left    []string
	groups  []listing.Group
	grouped *field
	who     []PaperStudent
	gone    int // of those named one by one: not on the roll
	added   int // besides the group
	covers  string
	foot    string
	title   string
	school  string
	emblem  []byte
	photos  map[string][]byte
	blank   []string // by name, for whom a label has nothing to say
	again   int      // labels that would say what another says
}

// fill reads the rows of a list for a person: the students of its group whom the person may see, and of the columns
// those that the person may see, whoever has shaped the list.
func fill(ctx context.Context, o *work.Office, p work.Person, asAt string, setup paperlists.Setup, of []ids.Section) (filled, error) {
	out := filled{setup: setup}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	group, err := pages.Group(ctx, o, p, setup.Who)
	if err != nil {
		return out, err
	}
	if out.emblem, err = school.Emblem(ctx, o); err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		known, err := fieldsFor(ctx, v, p)
		if err != nil {
			return err
		}
		students, words, err := pages.GroupOf(v, m.Scope, m.Date, group)
		if err != nil {
			return err
		}
		students = out.people(v, p, m, group, students)
		out.shape(known)
		if err := out.pictures(ctx, v, students); err != nil {
			return err
		}
		r, err := newReader(ctx, v, m, &out)
		if err != nil {
			return err
		}
		out.rows(r, known, students)
		out.words(v, p, m, asAt, words)
		return nil
	})
	return out, err
}

// people are the students of a list: those of its group and those named besides, without those taken off, by name.
func (f *filled) people(v work.Snapshot, p work.Person, m work.Moment, group string, students []store.Student) []store.Student {
	on := map[ids.Student]bool{}
	for _, s := range students {
		on[s.ID] = true
	}
	if !strings.HasPrefix(f.setup.Who, "concern:") { // whom a rule finds in other sections nobody has named
		f.gone = missing(group, on)
	}
	for _, id := range f.setup.Extra {
		s, ok := v.School.Student(id)
		switch {
		case on[id]:
		case !ok || !s.EnrolledOn(m.Date):
			f.gone++
		default:
			on[id] = true
			f.added++
			students = append(students, s)
		}
	}
	students = slices.DeleteFunc(students, func(s store.Student) bool {
		return slices.Contains(f.setup.Without, s.ID) || v.MaySee(p, s.ID) != nil
	})
	held.SortStudents(students)
	for _, s := range students {
		f.who = append(f.who, PaperStudent{s.ID, s.Name(), v.School.Form(s.ID, m.Date)})
	}
	return students
}

// missing is how many of those whom a group names one by one are not among some students.
func missing(group string, on map[ids.Student]bool) (n int) {
	named, is := strings.CutPrefix(group, "students:")
	if !is {
		return 0
	}
	numbers, _, _ := strings.Cut(named, " ")
	for _, number := range strings.Split(numbers, ",") {
		if id, err := strconv.ParseInt(number, 10, 64); err == nil && !on[ids.Student(id)] {
			n++
		}
	}
	return n
}

// shape takes the columns that the person sees, and says which are left out.
func (f *filled) shape(known []field) {
	for n, c := range f.setup.Columns {
		if i := slices.IndexFunc(known, func(k field) bool { return k.id == c.Field }); i >= 0 {
			f.columns, f.as, f.at = append(f.columns, known[i]), append(f.as, c), append(f.at, n)
		} else {
			f.left = append(f.left, cmp.Or(c.Heading, "a column without a heading"))
		}
	}
	if i := slices.IndexFunc(known, func(k field) bool { return k.id == f.setup.Group }); i >= 0 && f.setup.Group != "" {
		f.grouped = &known[i]
	} else if f.setup.Group != "" {
		f.left = append(f.left, "what it is grouped by")
	}
}

// uses reports whether a list has a field of some beginning, in a column or as what it is ordered by.
func (f *filled) uses(begins string) bool {
	return slices.ContainsFunc(f.columns, func(k field) bool { return strings.HasPrefix(k.id, begins) }) ||
		slices.ContainsFunc(f.setup.Order, func(o paperlists.Order) bool { return strings.HasPrefix(o.Field, begins) }) || strings.HasPrefix(f.setup.Group, begins)
}

func newReader(ctx context.Context, v work.Snapshot, m work.Moment, f *filled) (*reader, error) {
	r := &reader{v: v, m: m, faces: f.photos}
	var err error
	if f.uses("where") {
		if r.x, err = v.Day(ctx, m.Date); err != nil {
			return nil, err
		}
	}
	if f.uses("courses:") {
		if r.shelf, err = coursework.Read(ctx, v, m.Date); err != nil {
			return nil, err
		}
	}
	if f.uses("own:") {
		values, err := store.OwnValues(ctx, v.Store(), 0)
		if err != nil {
			return nil, err
		}
		r.own = map[ids.Student]map[ids.OwnField]string{}
		for _, x := range values {
			if r.own[x.StudentID] == nil {
				r.own[x.StudentID] = map[ids.OwnField]string{}
			}
			r.own[x.StudentID][x.FieldID] = x.Value
		}
	}
	return r, nil
}

// pictures reads the photos of a list that shows them.
func (f *filled) pictures(ctx context.Context, v work.Snapshot, students []store.Student) error {
	f.photos = map[string][]byte{}
	if !f.uses("photo") {
		return nil
	}
	for _, s := range students {
		picture, err := store.Photo(ctx, v.Store(), s.ID)
		if err != nil {
			return err
		}
		if picture != nil {
			f.photos[fmt.Sprint(s.ID)] = picture
		}
	}
	return nil
}

// rows fills the cells and puts the rows in order.
func (f *filled) rows(r *reader, known []field, students []store.Student) {
	var by []field
	var orders []listing.Order
	for _, o := range f.setup.Order {
		if i := slices.IndexFunc(known, func(k field) bool { return k.id == o.Field }); i >= 0 {
			by, orders = append(by, known[i]), append(orders, listing.Order{Down: o.Down})
		} else {
			f.left = append(f.left, "an order")
		}
	}
	var rows []listing.Row
	for _, s := range students {
		// A label goes to each home of a student, a row of a list names the first.
		homes := 1
		if f.setup.Kind == "labels" && f.uses("home-") {
			homes = max(1, len(steps.RecipientsOf(r.v, s.ID)))
		}
		for r.home = range homes {
			row := listing.Row{Name: s.Name()}
			for _, c := range f.columns {
				row.Cells = append(row.Cells, c.cell(r, s))
			}
			for _, k := range by {
				row.By = append(row.By, k.cell(r, s))
			}
			if f.grouped != nil {
				row.Group = f.grouped.cell(r, s)
			}
			rows = append(rows, row)
		}
	}
	f.groups = listing.Arrange(rows, orders)
}

// words say what the list covers and whose data it holds.
func (f *filled) words(v work.Snapshot, p work.Person, m work.Moment, asAt, group string) {
	at := m.Date.Time().Format("Mon 2 January 2006")
	if m.Date == v.Now.Date() || len(asAt) > len(time.DateOnly) {
		at = m.Minute.String() + ", " + at
	}
	who := cmp.Or(group, "everyone")
	if f.added > 0 {
		who += fmt.Sprintf(" and %d more", f.added)
	}
	if n := len(f.setup.Without); n > 0 {
		who += fmt.Sprintf(", without %d", n)
	}
	if f.gone > 0 {
		who += fmt.Sprintf(" (%d of those named not on the roll)", f.gone)
	}
	f.school = v.SchoolName()
	f.title = cmp.Or(strings.TrimSpace(f.setup.Title), "List")
	f.covers = work.Join(", ", work.Join(", ", work.Count(len(f.who), "student")+": "+who, v.ScopeText(m.Scope)), "as at "+at)
	f.foot = fmt.Sprintf("Student data of %s · %s · made by %s, %s %s", f.school, f.title, p.Name, v.Now.Date().Spoken(), v.Now.Minute())
}

// LookAt shows a page of a list as it would be printed.
func LookAt(ctx context.Context, o *work.Office, p work.Person, asAt string, ask LookAsk, of ...ids.Section) (PaperLook, error) {
	out := PaperLook{Columns: []PaperColumn{}, Left: []string{}, Who: []PaperStudent{}, Page: paper.Page{Marks: []paper.PageMark{}, Parts: []paper.PagePart{}}}
	f, err := fill(ctx, o, p, asAt, ask.Setup, of)
	if err != nil {
		return out, err
	}
	out.Students, out.Covers, out.Gone, out.Today = len(f.who), f.covers, f.gone, o.Now().Date().String()
	if len(f.left) > 0 {
		out.Left = append(out.Left, strings.Join(f.left, ", ")+", not yours to see or there no more")
	}
	for i, c := range f.columns {
		out.Columns = append(out.Columns, PaperColumn{f.at[i], c.id, c.label, f.as[i].Heading, f.as[i].Width, c.kind})
	}
	if ask.Names {
		out.Who = append(out.Who, f.who...)
	}
	set, err := f.asPages()
	if err != nil {
		out.Problem = err.Error()
		return out, nil
	}
	if len(f.blank) > 0 {
		out.Left = append(out.Left, work.Count(len(f.blank), "student")+" without a label, since nothing is on file to write on it: "+strings.Join(f.blank, ", "))
	}
	if f.again > 0 {
		out.Left = append(out.Left, work.Count(f.again, "label")+" that would say the same as another, as to a home with several students")
	}
	out.Pages = len(set)
	out.Number = min(max(ask.Page, 1), len(set))
	out.Page = set[out.Number-1]
	return out, nil
}

// Make makes a list as a file: as a PDF, which is what is printed, or as rows for other programs.
func Make(ctx context.Context, o *work.Office, p work.Person, asAt string, ask MakeAsk, of ...ids.Section) (pages.File, error) {
	f, err := fill(ctx, o, p, asAt, ask.Setup, of)
	if err != nil {
		return pages.File{}, err
	}
	name := "student-data-" + pages.Slug(f.title)
	if ask.Format != "pdf" {
		return pages.ListFile(name, f.asSheet(), ask.Format)
	}
	var content []byte
	if f.setup.Kind == "labels" {
		l, labelErr := f.labels()
		if err = labelErr; err == nil {
			content, err = l.PDF(f.title)
		}
	} else {
		content, err = f.onPaper().PDF()
	}
	if err != nil {
		return pages.File{}, work.Wrongf("%v", err)
	}
	return pages.File{Name: name + ".pdf", Type: pages.PDF, Content: content}, nil
}

// Run makes a saved list as a file, on the data of now or of a moment.
func Run(ctx context.Context, o *work.Office, p work.Person, asAt string, id ids.PaperList, format string, of ...ids.Section) (pages.File, error) {
	_, setup, err := paperlists.One(ctx, o.Store().Read(), p, id)
	if err != nil {
		return pages.File{}, err
	}
	return Make(ctx, o, p, asAt, MakeAsk{setup, format}, of...)
}

package studentpage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/studentfile"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/former"
)

// FormerRef is a record of an earlier school.
type FormerRef struct {
	ID     ids.FormerRecord `json:"id"`
	School string           `json:"school"`
	Made   string           `json:"made" doc:"When that school made it"`
	By     string           `json:"by" doc:"Who brought it in, and when"`
	Figure string           `json:"figure" doc:"What the student missed there in the last year on record, as that school measured it; empty where it says nothing"`
}

// FormerTable is a kind of what is on record at an earlier school.
type FormerTable struct {
	Name    string     `json:"name"`
	Columns []string   `json:"columns"`
	Rows    [][]string `json:"rows"`
	Span    string     `json:"span" doc:"From when to when, where the rows have dates"`
}

// FormerView is a record of an earlier school, to read.
type FormerView struct {
	FormerRef
	Student pages.StudentRef `json:"student"`
	Of      string           `json:"of" doc:"Whose it is, as that school has it"`
	MadeBy  string           `json:"madeBy"`
	Tables  []FormerTable    `json:"tables" doc:"Those with rows, the figures first"`
	Without []string         `json:"without" doc:"Kinds of which nothing is on record there"`
	MayEnd  bool             `json:"mayEnd"`
}

// FormerPart is something of a record that can be taken over.
type FormerPart struct {
	ID    string `json:"id"`
	Kind  string `json:"kind" enum:"contact,warning,photo"`
	Text  string `json:"text"`
	Note  string `json:"note"`
	May   bool   `json:"may"`
	Usual bool   `json:"usual"`
}

// FormerCount is how much of a kind a record holds.
type FormerCount struct {
	Name string `json:"name"`
	Rows int    `json:"rows"`
	Span string `json:"span"`
}

// FormerLook is what bringing a record in would do.
type FormerLook struct {
	Wrong  []string      `json:"wrong" doc:"What is wrong in the file; nothing of it can be brought in"`
	School string        `json:"school"`
	Made   string        `json:"made"`
	Of     string        `json:"of"`
	Others []string      `json:"others" doc:"What says that it may be of somebody else"`
	There  string        `json:"there" doc:"Who has brought it in before; empty for nobody"`
	Tables []FormerCount `json:"tables"`
	Parts  []FormerPart  `json:"parts"`
}

// Formers lists what earlier schools have handed on about a student.
func Formers(ctx context.Context, o *work.Office, p work.Person, student ids.Student) ([]FormerRef, error) {
	out := []FormerRef{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		s, err := v.Student(student)
		if err != nil {
			return err
		}
		if err := v.MaySee(p, s.ID); err != nil {
			return err
		}
		list, err := store.FormerRecords(ctx, v.Store(), student)
		for _, f := range list {
			r, _, err := former.One(ctx, v.Store(), student, f.ID)
			if err != nil {
				return err
			}
			out = append(out, formerRef(f, r, v.Now.Date()))
		}
		return err
	})
	return out, err
}

func formerRef(f store.FormerRecord, r studentfile.Record, today day.Date) FormerRef {
	return FormerRef{ID: f.ID, School: f.School, Made: f.Made, By: work.Join(", ", f.By, pages.SpokenAt(f.Known, today)), Figure: missedThere(r)}
}

// missedThere says what a student missed at an earlier school in the last year on record: by the first policy that counts
// days, or else by the first.
func missedThere(r studentfile.Record) string {
	last, words, days := "", "", false
	r.Table("absence").Each(func(get func(string) string) {
		isDay := get("unit") == "day"
		if get("to") < last || get("to") == last && (days || !isDay) || get("possible") == "" {
			return
		}
		last, days = get("to"), isDay
		words = fmt.Sprintf("missed %s of %s %ss there, %s %%, by “%s”, %s to %s", get("missed"), get("possible"), get("unit"), get("share_percent"), get("policy"), get("from"), get("to"))
	})
	return words
}

// Former shows a record of an earlier school.
func Former(ctx context.Context, o *work.Office, p work.Person, student ids.Student, id ids.FormerRecord) (FormerView, error) {
	out := FormerView{Tables: []FormerTable{}, Without: []string{}, MayEnd: p.May(work.MayEndFormer)}
	err := o.Read(ctx, func(v work.Snapshot) error {
		r, _, err := former.One(ctx, v.Store(), student, id)
		if err != nil {
			return err
		}
		list, err := store.FormerRecords(ctx, v.Store(), student)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(list, func(f store.FormerRecord) bool { return f.ID == id })
		if i < 0 {
			return work.NotFoundf("there is no such record of that student")
		}
		out.FormerRef, out.Student = formerRef(list[i], r, v.Now.Date()), pages.Student(v, v.School.StudentOf(student), v.Now.Date())
		out.Of, out.MadeBy = whose(r.About), r.About.MadeBy
		for _, t := range inOrder(r) {
			if len(t.Rows) == 0 {
				out.Without = append(out.Without, plainly(t.Name))
				continue
			}
			out.Tables = append(out.Tables, FormerTable{Name: titled(t.Name), Columns: plainAll(t.Header), Rows: t.Rows, Span: spanOf(t)})
		}
		return nil
	})
	return out, err
}

// whose says whose a record is.
func whose(a studentfile.About) string {
	out := a.Name()
	if a.Number != "" {
		out += ", number " + a.Number
	}
	if a.Born != "" {
		out += ", born " + a.Born
	}
	return out
}

// readFirst are the tables that are read first.
var readFirst = []string{"absence", "codes", "marks", "incidents", "course-results", "cases", "contacts-of-follow-up", "support-sessions", "warnings", "contacts"}

// inOrder are a record's tables, those that are read first before the others, and marks with what their codes mean.
func inOrder(r studentfile.Record) []studentfile.Table {
	out := slices.Clone(r.Tables)
	place := func(name string) int {
		if i := slices.Index(readFirst, name); i >= 0 {
			return i
		}
		return len(readFirst)
	}
	slices.SortStableFunc(out, func(a, b studentfile.Table) int { return cmp.Compare(place(a.Name), place(b.Name)) })
	means := map[string]string{}
	r.Table("codes").Each(func(get func(string) string) { means[get("code")] = get("means") })
	for i, t := range out {
		at := slices.Index(t.Header, "code")
		if t.Name != "marks" || at < 0 || len(means) == 0 {
			continue
		}
		out[i].Header, out[i].Rows = slices.Insert(slices.Clone(t.Header), at+1, "means"), nil
		for _, row := range t.Rows {
			out[i].Rows = append(out[i].Rows, slices.Insert(slices.Clone(row), at+1, means[row[at]]))
		}
	}
	return out
}

func plainly(name string) string { return strings.NewReplacer("-", " ", "_", " ").Replace(name) }

// titled is the heading of a kind.
func titled(name string) string {
	r := []rune(plainly(name))
	if len(r) > 0 {
		r[0] = unicode.ToUpper(r[0])
	}
	return string(r)
}

func plainAll(names []string) []string {
	out := make([]string, len(names))
	for i, n := range names {
		out[i] = plainly(n)
	}
	return out
}

// spanOf is from when to when the rows of a table are, by the first column that holds dates.
func spanOf(t studentfile.Table) string {
	for i := range t.Header {
		from, to := "", ""
		for _, r := range t.Rows {
			d := r[i]
			if len(d) > 10 {
				d = d[:10]
			}
			if _, err := day.ParseDate(d); err != nil {
				from, to = "", ""
				break
			}
			if from == "" || d < from {
				from = d
			}
			to = max(to, d)
		}
		if from != to && from >= "1990" { // what holds since ever has a date long ago
			return from + " to " + to
		}
	}
	return ""
}

// LookAtFormer says what bringing a record in would do.
func LookAtFormer(ctx context.Context, o *work.Office, p work.Person, in former.Brought) (FormerLook, error) {
	out := FormerLook{Wrong: []string{}, Others: []string{}, Tables: []FormerCount{}, Parts: []FormerPart{}}
	plan, err := former.Look(ctx, o, p, in)
	if err != nil {
		return out, err
	}
	out.Wrong, out.Others, out.There = append(out.Wrong, plan.Wrong...), append(out.Others, plan.Others...), plan.There
	if len(plan.Wrong) > 0 {
		return out, nil
	}
	about := plan.Record.About
	out.School, out.Made, out.Of = about.School, about.Made, whose(about)
	for _, t := range inOrder(plan.Record) {
		if len(t.Rows) > 0 {
			out.Tables = append(out.Tables, FormerCount{titled(t.Name), len(t.Rows), spanOf(t)})
		}
	}
	for _, x := range plan.Parts {
		out.Parts = append(out.Parts, FormerPart{x.ID, x.Kind, x.Text, x.Note, x.May, x.Usual})
	}
	return out, nil
}

// FormerFile is a record of an earlier school as it came.
func FormerFile(ctx context.Context, o *work.Office, student ids.Student, id ids.FormerRecord) (pages.File, error) {
	r, archive, err := former.One(ctx, o.Store().Read(), student, id)
	return pages.File{Name: "student-data-" + pages.Slug(r.About.School+" "+r.About.Name()) + ".zip", Type: "application/zip", Content: archive}, err
}

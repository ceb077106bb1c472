package leavers

import (
	"cmp"
	"context"
	"fmt"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/paper"
	"meldung/files/studentfile"
	"meldung/store"
	"meldung/work"
)

// Everything returns all that is stored about a student, as a zip archive: a CSV file for each kind, the same as a
// record to read, the photo and the documents of warnings, and what earlier schools have handed on. It is for whoever asks
// what is known of them, and for the school that they go to.
func Everything(ctx context.Context, o *work.Office, p work.Person, id ids.Student) (name string, archive []byte, err error) {
	err = o.Look(ctx, work.Job{By: p, Needs: work.MayTakePersonalData}, func(v work.Snapshot) error {
		s, err := v.Student(id)
		if err != nil {
			return err
		}
		r, err := recordOf(ctx, v, p, s)
		if err != nil {
			return err
		}
		name = "student-" + cmp.Or(s.Number, fmt.Sprint(s.ID)) + ".zip"
		archive, err = r.Zip()
		return err
	})
	return name, archive, err
}

// recordOf is everything about a student.
func recordOf(ctx context.Context, v work.Snapshot, p work.Person, s store.Student) (studentfile.Record, error) {
	out := studentfile.Record{Files: map[string][]byte{}, About: studentfile.About{School: v.SchoolName(), Given: s.Given, Family: s.Family, Number: s.Number, Born: s.Born, Made: v.Now.Date().String() + " " + v.Now.Minute().String(), MadeBy: p.Name}}
	sheets, err := store.About(ctx, v.Store(), s.ID)
	if err != nil {
		return out, err
	}
	for _, x := range sheets {
		out.Tables = append(out.Tables, studentfile.Table{Name: strings.ReplaceAll(x.Name, " ", "-"), Header: x.Header, Rows: x.Rows})
	}
	codes := codesOf(v, s, out.Table("marks"))
	figures, err := figuresOf(ctx, v, s)
	if err != nil {
		return out, err
	}
	out.Tables = append(out.Tables, figures, codes)
	if out.Files["record.pdf"], err = onPaper(v, p, s, out.Tables); err != nil {
		return out, err
	}
	photo, err := store.Photo(ctx, v.Store(), s.ID)
	if err != nil {
		return out, err
	}
	if len(photo) > 0 {
		out.Files["photo.png"] = photo
	}
	documents, err := store.DocumentsOf(ctx, v.Store(), s.ID)
	if err != nil {
		return out, err
	}
	for _, d := range documents {
		out.Files[fmt.Sprintf("documents/%d-%s", d.WarningID, d.Name)] = d.Content
	}
	return out, earlier(ctx, v, s, &out)
}

// onPaper is the record of a student to read.
func onPaper(v work.Snapshot, p work.Person, s store.Student, tables []studentfile.Table) ([]byte, error) {
	r := paper.Record{School: v.SchoolName(), Title: "Record of " + s.Name() + ", " + s.Number, Covers: "as at " + v.Now.Minute().String() + ", " + v.Now.Date().Time().Format("Mon 2 January 2006"),
		Foot: fmt.Sprintf("Student data of %s · record of %s · made by %s, %s", v.SchoolName(), s.Name(), p.Name, v.Now.Date().Spoken())}
	for _, x := range tables {
		r.Tables = append(r.Tables, paper.RecordTable{Name: strings.ReplaceAll(x.Name, "-", " "), Columns: x.Header, Rows: x.Rows})
	}
	return r.PDF()
}

// earlier puts in what earlier schools have handed on, each file under a name of its own.
func earlier(ctx context.Context, v work.Snapshot, s store.Student, out *studentfile.Record) error {
	records, err := store.FormerRecords(ctx, v.Store(), s.ID)
	if err != nil {
		return err
	}
	for n, f := range records {
		archive, err := store.FormerArchive(ctx, v.Store(), s.ID, f.ID)
		if err != nil {
			return err
		}
		r, wrong := studentfile.Read(archive)
		if len(wrong) > 0 {
			return fmt.Errorf("the record of %s: %s", f.School, wrong[0])
		}
		before := fmt.Sprintf("former-%d-", n+1)
		a := r.About
		out.Tables = append(out.Tables, studentfile.Table{Name: before + "about", Header: []string{"school", "given", "family", "number", "born", "made", "made_by"}, Rows: [][]string{{a.School, a.Given, a.Family, a.Number, a.Born, a.Made, a.MadeBy}}})
		for _, t := range r.Tables {
			t.Name = before + t.Name
			out.Tables = append(out.Tables, t)
		}
		for name, content := range r.Files {
			out.Files[before+name] = content
		}
	}
	return nil
}

// codesOf says what the codes of a student's marks mean, since another school has others.
func codesOf(v work.Snapshot, s store.Student, marks studentfile.Table) studentfile.Table {
	out := studentfile.Table{Name: "codes", Header: []string{"code", "means", "counts_as", "late", "unexplained"}}
	said := map[policy.Code]bool{}
	marks.Each(func(get func(string) string) {
		d, err := day.ParseDate(get("date"))
		if err != nil {
			return
		}
		set := v.Of(s.ID).CodesOn(d)
		if set == nil {
			return
		}
		if c, there := set.Find(get("code")); there && !said[c] {
			said[c] = true
			out.Rows = append(out.Rows, []string{c.Code, c.Word, c.Counts.String(), yesNo(c.Late), yesNo(c.Unexplained)})
		}
	})
	return out
}

func yesNo(yes bool) string {
	if yes {
		return "yes"
	}
	return "no"
}

// mostYears bounds how many school years of a student are measured.
const mostYears = 15

// figuresOf are a student's absence in each school year by each policy that held then, the last year first, up to the last
// day that is over.
func figuresOf(ctx context.Context, v work.Snapshot, s store.Student) (studentfile.Table, error) {
	out := studentfile.Table{Name: "absence", Header: []string{"from", "to", "policy", "unit", "possible", "missed", "excused", "unexcused", "share_percent", "lates"}}
	d, minute := v.Now.Date(), v.Now.Minute()
	for range mostYears {
		v, err := v.At(ctx, d)
		if err != nil {
			return out, err
		}
		section := v.Of(s.ID)
		if section.Ledger != nil && section.Place(s.ID) >= 0 {
			if err := yearOf(section, s, d, minute, &out); err != nil {
				return out, err
			}
		}
		before := section.YearBefore(d)
		if before == nil {
			return out, nil
		}
		_, d = before.Calendar.Span()
		minute = day.MustMinute("23:59")
	}
	return out, nil
}

func yearOf(section work.Section, s store.Student, d day.Date, minute day.Minute, out *studentfile.Table) error {
	panel, err := section.Panel()
	if err != nil {
		return err
	}
	span := absence.Span{From: 0, To: section.Calendar.EndedBy(d, minute)}
	if span.To < span.From {
		return nil
	}
	from, to := section.Calendar.Day(span.From).Date, section.Calendar.Day(span.To).Date
	if n := len(s.Spans); n > 0 {
		from, to = max(from, s.Spans[0].From), min(to, s.Spans[n-1].To)
	}
	for _, m := range panel.Measures() {
		f := m.Student(section.Place(s.ID), span)
		if f.Possible == 0 {
			continue
		}
		out.Rows = append(out.Rows, []string{from.String(), to.String(), cmp.Or(m.Policy().Title, m.Policy().ID), fmt.Sprint(m.Policy().Unit),
			strconv.Itoa(f.Possible), strconv.Itoa(f.Absent), strconv.Itoa(f.Excused), strconv.Itoa(f.Unexcused), f.Rate(), strconv.Itoa(f.Lates)})
	}
	return nil
}

package schoolpage

import (
	"context"
	"fmt"
	"slices"
	"strconv"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// DoneAsk is what is asked of who looked at what and who did what.
type DoneAsk struct {
	From    string // date; empty is six days before To
	To      string // date; empty is today
	Account ids.Account
	Student ids.Student
	What    string // "looks", "writes" or empty for both
	Page    int    // from 1 on
}

// donePage is how many lines a page has; doneFile how many a file has at most.
const (
	donePage = 100
	doneFile = 100_000
)

// DoneLine is a line of who looked at what and who did what.
type DoneLine struct {
	At      string            `json:"at" doc:"Date and time"`
	Who     string            `json:"who" doc:"Empty for the program itself"`
	Write   bool              `json:"write" doc:"Something was done, rather than looked at"`
	What    string            `json:"what"`
	Student *pages.StudentRef `json:"student,omitempty" doc:"Whom it was about, where that was one student"`
	Detail  string            `json:"detail"`
}

// DoneView is who looked at what and who did what, the latest first.
type DoneView struct {
	From  string     `json:"from"`
	To    string     `json:"to"`
	Lines []DoneLine `json:"lines"`
	Page  int        `json:"page"`
	More  bool       `json:"more" doc:"There is a page after this one"`
	Kept  int        `json:"kept" doc:"Days for which a look is kept"`
}

// ShowDone returns a page of who looked at what and who did what.
func ShowDone(ctx context.Context, o *work.Office, ask DoneAsk, kept int) (DoneView, error) {
	ask.Page = max(ask.Page, 1)
	out, err := done(ctx, o, ask, donePage+1, (ask.Page-1)*donePage)
	if err != nil {
		return out, err
	}
	out.Page, out.Kept = ask.Page, kept
	if len(out.Lines) > donePage {
		out.Lines, out.More = out.Lines[:donePage], true
	}
	return out, nil
}

// DoneFile returns who looked at what and who did what as a CSV file.
func DoneFile(ctx context.Context, o *work.Office, ask DoneAsk) (pages.File, error) {
	all, err := done(ctx, o, ask, doneFile+1, 0)
	if err != nil {
		return pages.File{}, err
	}
	if len(all.Lines) > doneFile {
		return pages.File{}, work.Wrongf("more than %d lines: ask for fewer days", doneFile)
	}
	list := sheet.List{Columns: []sheet.Column{{Heading: "at"}, {Heading: "who"}, {Heading: "done or looked at"}, {Heading: "what"}, {Heading: "student"}, {Heading: "number"}, {Heading: "detail"}}}
	for _, l := range all.Lines {
		row := []string{l.At, l.Who, "looked at", l.What, "", "", l.Detail}
		if l.Write {
			row[2] = "done"
		}
		if l.Student != nil {
			row[4], row[5] = l.Student.Name, l.Student.Number
		}
		list.Rows = append(list.Rows, row)
	}
	return pages.File{Name: fmt.Sprintf("record-%s-%s.csv", all.From, all.To), Type: "text/csv; charset=utf-8", Content: list.CSV()}, nil
}

func done(ctx context.Context, o *work.Office, ask DoneAsk, limit, offset int) (DoneView, error) {
	out := DoneView{Lines: []DoneLine{}}
	from, to, err := doneSpan(o.Now().Date(), ask)
	if err != nil {
		return out, err
	}
	out.From, out.To = from.String(), to.String()
	asked := store.DoneAsked{From: day.At(from, day.MustMinute("00:00")), To: day.At(to+1, day.MustMinute("00:00")) - 1, Account: ask.Account, Student: ask.Student,
		Writes: ask.What != "looks", Looks: ask.What != "writes", Limit: limit, Offset: offset}
	return out, o.Read(ctx, func(v work.Snapshot) error {
		lines, err := store.DoneBy(ctx, v.Store(), asked)
		if err != nil {
			return err
		}
		concerned, err := concernedBy(ctx, v, lines)
		if err != nil {
			return err
		}
		for _, l := range lines {
			if of := concerned[l.Entry]; l.Write {
				l.Detail = work.Join(" · ", l.Detail, of.words)
				if len(of.students) == 1 {
					l.StudentID = of.students[0]
				}
			}
			one := DoneLine{At: l.At.String(), Who: l.Who, Write: l.Write, What: doneWord(l.What), Detail: l.Detail}
			if l.StudentID != 0 {
				one.Student = &pages.StudentRef{ID: l.StudentID, Name: "student " + strconv.FormatInt(int64(l.StudentID), 10) + ", no longer known"}
				if s, err := v.Student(l.StudentID); err == nil {
					ref := pages.Student(v, s, v.On)
					one.Student = &ref
				}
			}
			out.Lines = append(out.Lines, one)
		}
		return nil
	})
}

// concern is whom an entry of the journal concerns.
type concern struct {
	students []ids.Student
	words    string // several students, or a register
}

func concernedBy(ctx context.Context, v work.Snapshot, lines []store.Done) (map[ids.Entry]concern, error) {
	out := map[ids.Entry]concern{}
	for some := range slices.Chunk(lines, mostAtOnce) {
		var entries []ids.Entry
		for _, l := range some {
			if l.Write {
				entries = append(entries, l.Entry)
			}
		}
		rows, err := store.ConcernedBy(ctx, v.Store(), entries)
		if err != nil {
			return nil, err
		}
		for _, r := range rows {
			of := out[r.Entry]
			if r.StudentID == 0 {
				of.words = fmt.Sprintf("%s %s, %s", v.School.ClassOf(r.ClassID).Title, r.Slot, r.Date)
			} else if of.students = append(of.students, r.StudentID); len(of.students) > 1 {
				of.words = v.School.Names(of.students[:min(len(of.students), mostNamed)])
				if more := len(of.students) - mostNamed; more > 0 {
					of.words += fmt.Sprintf(" and %d more", more)
				}
			}
			out[r.Entry] = of
		}
	}
	return out, nil
}

const (
	mostAtOnce = 500 // entries that are looked up at once
	mostNamed  = 3   // students of one entry that are named
)

// doneWord is a kind of entry in words that need no second look.
func doneWord(kind string) string {
	switch kind {
	case "gateway", "carrier":
		return "what became of messages"
	case "mark":
		return "the school's logo"
	}
	return kind
}

// doneSpan returns the dates that are asked for.
func doneSpan(today day.Date, ask DoneAsk) (from, to day.Date, err error) {
	to = today
	if ask.To != "" {
		if to, err = day.ParseDate(ask.To); err != nil {
			return 0, 0, work.Wrongf("%v", err)
		}
	}
	from = to - 6
	if ask.From != "" {
		if from, err = day.ParseDate(ask.From); err != nil {
			return 0, 0, work.Wrongf("%v", err)
		}
	}
	if from > to {
		return 0, 0, work.Wrongf("the span ends before it begins")
	}
	return from, to, nil
}

// Package supportfile reads and writes how students were followed up as CSV files: contacts, and support sessions. It
// knows how they are written; who the students are, and what a school has already, is for who asks.
package supportfile

import (
	"bytes"
	"slices"
	"strconv"

	"meldung/core/day"
	"meldung/files/table"
)

// The names of the files.
const (
	Contacts = "contacts.csv"
	Sessions = "sessions.csv"
)

var (
	contactColumns = []string{"contact", "student", "date", "time", "way", "with", "who", "outcome", "note", "next", "recorded_by", "kept"}
	sessionColumns = []string{"session", "student", "date", "from", "minutes", "kind", "led_by", "note_for_all", "note", "kept"}
)

// What the words of the columns can be; empty is the first where it says so.
var (
	ways     = []string{"call", "message", "meeting", "visit"}
	withs    = []string{"home", "student", "outside"}
	outcomes = []string{"spoke", "left a message", "no answer", "met"}
	keeps    = []string{"office", "leads", "owner"}
)

// Contact is a contact about a student.
type Contact struct {
	Line       int
	ID         string
	Student    string
	Date       day.Date
	Minute     day.Minute // none where it is not known
	Way        string
	With       string
	Who        string
	Outcome    string
	Note       string
	Next       *day.Date
	RecordedBy string
	Kept       string
}

// Session is a student's part in a support session.
type Session struct {
	Line    int
	ID      string // the same for all who were in it
	Student string
	Date    day.Date
	From    *day.Minute // nil where only its length is known
	Minutes int
	Kind    string
	LedBy   string
	Note    string // for all of them
	OwnNote string
	Kept    string
}

// longest bounds a session, in minutes.
const longest = 12 * 60

// ReadContacts reads contacts.csv. Every row is looked at, and every wrong one told by its line.
func ReadContacts(files table.Files) ([]Contact, []table.Problem) {
	var out []Contact
	seen := map[string]bool{}
	problems := scan(files, Contacts, contactColumns, func(t *table.Table, row table.Row) {
		r := Contact{Line: row.Line, Who: row.Get("who"), Note: row.Get("note"), RecordedBy: row.Get("recorded_by")}
		var named, known, dated bool
		r.ID, named = table.Named(t, row, "contact")
		r.Student, known = table.Named(t, row, "student")
		r.Date, dated = table.Value(t, row, "date", day.ParseDate)
		r.Minute, _ = table.Value(t, row, "time", minute)
		r.Way, r.With, r.Outcome, r.Kept = oneOf(t, row, "way", ways), oneOf(t, row, "with", withs), oneOf(t, row, "outcome", outcomes), oneOf(t, row, "kept", keeps)
		if text := row.Get("next"); text != "" {
			if next, ok := table.Value(t, row, "next", day.ParseDate); ok {
				r.Next = &next
			}
		}
		switch {
		case !named || !known || !dated:
		case seen[r.ID]:
			t.Wrong(row, "the contact %q is there twice", r.ID)
		default:
			seen[r.ID] = true
			out = append(out, r)
		}
	})
	return out, problems
}

// ReadSessions reads sessions.csv: a row for each student of a session.
func ReadSessions(files table.Files) ([]Session, []table.Problem) {
	var out []Session
	seen := map[[2]string]bool{}
	problems := scan(files, Sessions, sessionColumns, func(t *table.Table, row table.Row) {
		r := Session{Line: row.Line, Kind: row.Get("kind"), LedBy: row.Get("led_by"), Note: row.Get("note_for_all"), OwnNote: row.Get("note")}
		var named, known, dated bool
		r.ID, named = table.Named(t, row, "session")
		r.Student, known = table.Named(t, row, "student")
		r.Date, dated = table.Value(t, row, "date", day.ParseDate)
		if from, ok := table.Value(t, row, "from", minute); ok && !from.IsZero() {
			r.From = &from
		}
		r.Kept = oneOf(t, row, "kept", keeps)
		n, err := strconv.Atoi(row.Get("minutes"))
		r.Minutes = n
		switch {
		case err != nil || n < 1 || n > longest:
			t.Wrong(row, "minutes is %q; 1 to %d are expected", row.Get("minutes"), longest)
		case r.Kind == "":
			t.Wrong(row, "kind is empty")
		case !named || !known || !dated:
		case seen[[2]string{r.ID, r.Student}]:
			t.Wrong(row, "the student %q is in the session %q twice", r.Student, r.ID)
		default:
			seen[[2]string{r.ID, r.Student}] = true
			out = append(out, r)
		}
	})
	return out, problems
}

func scan(files table.Files, name string, columns []string, each func(t *table.Table, row table.Row)) []table.Problem {
	content, there := files[name]
	if !there {
		return []table.Problem{{File: name, Text: "the file is missing"}}
	}
	return table.Scan(name, bytes.NewReader(content), columns, nil, each).Problems
}

// oneOf reads a word of a list; empty is its first.
func oneOf(t *table.Table, row table.Row, column string, list []string) string {
	text := row.Get(column)
	if text == "" {
		return list[0]
	}
	if !slices.Contains(list, text) {
		t.Wrong(row, "%s is %q; one of %q is expected", column, text, list)
	}
	return text
}

func minute(text string) (day.Minute, error) {
	if text == "" {
		return day.Minute{}, nil
	}
	return day.ParseMinute(text)
}

// WriteContacts writes contacts as ReadContacts reads them.
func WriteContacts(rows []Contact) table.Files {
	var out [][]string
	for _, r := range rows {
		at, next := "", ""
		if !r.Minute.IsZero() {
			at = r.Minute.String()
		}
		if r.Next != nil {
			next = r.Next.String()
		}
		out = append(out, []string{r.ID, r.Student, r.Date.String(), at, r.Way, r.With, r.Who, r.Outcome, r.Note, next, r.RecordedBy, r.Kept})
	}
	return table.Files{Contacts: table.Write(contactColumns, out)}
}

// WriteSessions writes sessions as ReadSessions reads them.
func WriteSessions(rows []Session) table.Files {
	var out [][]string
	for _, r := range rows {
		from := ""
		if r.From != nil {
			from = r.From.String()
		}
		out = append(out, []string{r.ID, r.Student, r.Date.String(), from, strconv.Itoa(r.Minutes), r.Kind, r.LedBy, r.Note, r.OwnNote, r.Kept})
	}
	return table.Files{Sessions: table.Write(sessionColumns, out)}
}

package registerpage

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/checkin"
)

// CheckInSession is a check-in of a class, as it was held or is planned.
type CheckInSession struct {
	ID       ids.CheckIn `json:"id"`
	Date     string      `json:"date"`
	Label    string      `json:"label"`
	Term     string      `json:"term" doc:"Empty on a day that is no school day any more"`
	Slot     string      `json:"slot"`
	From     string      `json:"from"`
	To       string      `json:"to" doc:"When it closed"`
	State    string      `json:"state" enum:"held,open,to come,not held"`
	Link     string      `json:"link" doc:"Path of the link for a remote lesson, of one that is open or to come; empty where nobody attends at a distance"`
	Question string      `json:"question"`
	In       int         `json:"in" doc:"Students who checked in"`
	Far      int         `json:"far" doc:"Those of them who did at a distance"`
	Of       int         `json:"of" doc:"Students who belonged to the class in that slot"`
}

// CheckInAnswer is what a student answered when they checked in.
type CheckInAnswer struct {
	CheckIn ids.CheckIn `json:"checkIn"`
	Student ids.Student `json:"student"`
	At      string      `json:"at"`
	Far     bool        `json:"far" doc:"At a distance"`
	Answer  string      `json:"answer"`
}

// CheckInSessions are all check-ins of a class in a school year, and what students answered.
type CheckInSessions struct {
	Class    ids.Class          `json:"class"`
	Title    string             `json:"title"`
	Teachers string             `json:"teachers"`
	Terms    []string           `json:"terms" doc:"Those with a check-in, in their order"`
	Term     string             `json:"term" doc:"The one of them that runs, or was last"`
	Sessions []CheckInSession   `json:"sessions" doc:"Newest first"`
	Answers  []CheckInAnswer    `json:"answers" doc:"In the order in which they came"`
	Students []pages.StudentRef `json:"students" doc:"Who is in the class or has checked in, by name"`
}

// ShowSessions returns all check-ins of a class in its present school year. A teacher sees those of
// their own classes.
func ShowSessions(ctx context.Context, o *work.Office, p work.Person, class ids.Class) (CheckInSessions, error) {
	out := CheckInSessions{Class: class, Terms: []string{}, Sessions: []CheckInSession{}, Answers: []CheckInAnswer{}, Students: []pages.StudentRef{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		c, err := v.OwnClass(p, class)
		if err != nil {
			return err
		}
		out.Title, out.Teachers = c.Title, v.School.TeachersOf(class)
		section := v.OfClass(class)
		year := section.Calendar
		if year.Days() == 0 {
			return nil
		}
		first, last := year.Day(0).Date, year.Day(year.Days()-1).Date
		windows, err := store.CheckInsOfClass(ctx, v.Store(), class, first, last)
		if err != nil {
			return err
		}
		entries, err := store.EntriesOfClass(ctx, v.Store(), class, first, last)
		if err != nil {
			return err
		}
		there := map[ids.Student]bool{}
		in, far := map[ids.CheckIn]int{}, map[ids.CheckIn]int{}
		for _, e := range entries {
			there[e.StudentID] = true
			in[e.CheckInID]++
			if e.Distance {
				far[e.CheckInID]++
			}
			out.Answers = append(out.Answers, CheckInAnswer{CheckIn: e.CheckInID, Student: e.StudentID, At: e.Minute.String(), Far: e.Distance, Answer: e.Answer})
		}
		for _, e := range v.School.Records().On(v.Now.Date()).EnrolledIn(class) {
			if e.On(v.Now.Date()) {
				there[e.StudentID] = true
			}
		}
		for i := len(windows) - 1; i >= 0; i-- {
			w := &windows[i]
			s := CheckInSession{ID: w.ID, Date: w.Date.String(), Label: w.Date.Spoken(), Slot: w.Slot, From: w.Opens.String(), To: closedAt(w, v.Now).String(), State: stateOf(w, v.Now, in[w.ID]),
				Question: w.Question, In: in[w.ID], Far: far[w.ID], Of: len(v.School.Records().On(w.Date).Roll(class, w.Slot, w.Date))}
			if w.Distance && (s.State == "open" || s.State == "to come") {
				s.Link = linkOf(w)
			}
			if n, open := year.Index(w.Date); open {
				s.Term = year.Day(n).Term
			}
			out.Sessions = append(out.Sessions, s)
		}
		for _, s := range v.School.Records().Rows.Students {
			if there[s.ID] {
				out.Students = append(out.Students, pages.Student(v, s, v.Now.Date()))
			}
		}
		out.terms(v.Now.Date())
		return nil
	})
	return out, err
}

// closedAt returns when a window closed, by what was known: at its end, or when somebody ended it.
func closedAt(w *store.CheckIn, known day.Instant) day.Minute {
	if w.EndedAt != nil && *w.EndedAt <= known && w.EndedAt.Date() == w.Date {
		return day.Earliest(w.Closes, w.EndedAt.Minute())
	}
	return w.Closes
}

func stateOf(w *store.CheckIn, now day.Instant, in int) string {
	switch {
	case checkin.IsOpen(w, now):
		return "open"
	case w.EndedBy != nil && in == 0 && (w.EndedAt == nil || *w.EndedAt <= day.At(w.Date, w.Opens)):
		return "not held" // called off before it opened
	case now < day.At(w.Date, w.Opens):
		return "to come"
	}
	return "held"
}

// terms lists the terms of the sessions, oldest first.
func (s *CheckInSessions) terms(today day.Date) {
	for i := len(s.Sessions) - 1; i >= 0; i-- {
		x := s.Sessions[i]
		if x.Term == "" {
			continue
		}
		if n := len(s.Terms); n == 0 || s.Terms[n-1] != x.Term {
			s.Terms = append(s.Terms, x.Term)
		}
		if x.Date <= today.String() || s.Term == "" {
			s.Term = x.Term
		}
	}
}

// SessionsFile returns a class's check-ins as a file: a line for each student and check-in.
func SessionsFile(ctx context.Context, o *work.Office, p work.Person, class ids.Class, format string) (pages.File, error) {
	s, err := ShowSessions(ctx, o, p, class)
	if err != nil {
		return pages.File{}, err
	}
	students := map[ids.Student]pages.StudentRef{}
	for _, x := range s.Students {
		students[x.ID] = x
	}
	list := sheet.List{Title: "Check-ins of " + s.Title, About: []string{s.Teachers, "This file holds data about students."},
		Columns: []sheet.Column{{Heading: "date", Width: 12}, {Heading: "term", Width: 12}, {Heading: "slot", Width: 8}, {Heading: "question", Width: 40}, {Heading: "number", Width: 9}, {Heading: "student", Width: 24},
			{Heading: "at", Width: 7}, {Heading: "at a distance", Width: 12}, {Heading: "answer", Width: 50}}}
	for _, x := range s.Sessions {
		for _, a := range s.Answers {
			if a.CheckIn == x.ID {
				list.Rows = append(list.Rows, []string{x.Date, x.Term, x.Slot, x.Question, students[a.Student].Number, students[a.Student].Sorted, a.At, map[bool]string{true: "yes"}[a.Far], a.Answer})
			}
		}
	}
	return pages.ListFile(fmt.Sprintf("student-data-check-ins-%d", class), list, format)
}

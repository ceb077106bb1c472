package followuppage

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
)

// PlanLine is a step of a plan.
type PlanLine struct {
	ID      ids.CaseStep `json:"id"`
	Text    string       `json:"text"`
	Due     string       `json:"due" doc:"In words; empty for no date"`
	Overdue bool         `json:"overdue"`
	Owner   string       `json:"owner"`
	Ended   string       `json:"ended" doc:"By whom and when it was done or dropped; empty while it is not"`
	Done    bool         `json:"done"`
	Came    string       `json:"came" doc:"What came of it"`
}

// PaperLine is a paper of a case.
type PaperLine struct {
	ID   ids.CaseDocument `json:"id"`
	Name string           `json:"name"`
	Size string           `json:"size"`
	By   string           `json:"by" doc:"Who put it there, and when"`
}

// ContactLine is a contact about the student, or a session or a meeting.
type ContactLine struct {
	What    string             `json:"what"`
	On      string             `json:"on" doc:"In words"`
	By      string             `json:"by"`
	Text    string             `json:"text"`
	Note    ids.Followup       `json:"note" doc:"That is kept to fewer, and the person may read; 0 for none"`
	Session ids.SupportSession `json:"session" doc:"Whose notes are kept to fewer, and the person may read; 0 for none"`
	sort    day.Instant
}

// StudentMeetingLine is a meeting about the student.
type StudentMeetingLine struct {
	ID     ids.Meeting `json:"id"`
	Title  string      `json:"title"`
	On     string      `json:"on" doc:"Day and times in words"`
	Room   string      `json:"room"`
	People string      `json:"people"`
	Ahead  bool        `json:"ahead"`
}

// CasePage is one case with all that there is of it.
type CasePage struct {
	Case     CaseView             `json:"case"`
	Steps    []CaseStep           `json:"steps" doc:"What became of it, the newest first"`
	Plan     []PlanLine           `json:"plan"`
	Papers   []PaperLine          `json:"papers"`
	Contacts []ContactLine        `json:"contacts" doc:"Since the case was opened, the newest first"`
	Earlier  int                  `json:"earlier" doc:"How many there were before it was opened"`
	Meetings []StudentMeetingLine `json:"meetings"`
	Sessions string               `json:"sessions" doc:"How many support sessions since it was opened, in words"`
	Today    string               `json:"today"`
	Owners   []pages.OwnerRef     `json:"owners"`
	Ends     []SupportChoice      `json:"ends"`
	May      bool                 `json:"mayChange"`
	MayWrite bool                 `json:"mayWrite" doc:"Letters to the home"`
}

// OneCase shows a case to whom it is for.
func OneCase(ctx context.Context, o *work.Office, p work.Person, student ids.Student, id ids.Case, asAt string) (CasePage, error) {
	out := CasePage{Steps: []CaseStep{}, Plan: []PlanLine{}, Papers: []PaperLine{}, Contacts: []ContactLine{}, Meetings: []StudentMeetingLine{}, Owners: []pages.OwnerRef{}}
	err := reading(ctx, o, p, asAt, nil, func(g *gathered) error {
		c, err := caseOf(g.cases, student, id)
		if err != nil {
			return err
		}
		if out.Case, err = g.caseView(c, true); err != nil {
			return err
		}
		if !out.Case.MayRead {
			return work.Refusedf("that case is kept to %s", out.Case.KeptFor)
		}
		out.Today, out.Ends, out.May, out.MayWrite = g.m.Date.String(), g.offered(caseload.Ends), g.m.Live && p.May(work.MayChangeCase), g.m.Live && p.May(work.MayWriteToMany)
		if out.Owners, err = pages.Owners(ctx, g.v, p); err != nil {
			return err
		}
		for _, x := range slices.Backward(c.Changes) {
			out.Steps = append(out.Steps, g.caseStep(c, x, true))
		}
		g.plan(c, &out)
		g.since(c, &out)
		papers, err := store.CaseDocuments(ctx, g.v.Store(), c.ID, g.m.Known)
		for _, d := range papers {
			out.Papers = append(out.Papers, PaperLine{d.ID, d.Name, size(d.Size), work.Join(", ", d.By, pages.SpokenAt(d.Known, g.m.Date))})
		}
		return err
	})
	return out, err
}

// caseOf is a case of a student: the look at it is on record under the student's name.
func caseOf(all []caseload.Case, student ids.Student, id ids.Case) (caseload.Case, error) {
	c, err := caseload.CaseByID(all, id)
	if err == nil && c.StudentID != student {
		err = work.NotFoundf("that is no case of that student")
	}
	return c, err
}

func size(bytes int) string {
	if bytes < 1<<20 {
		return fmt.Sprintf("%d kB", max(1, bytes>>10))
	}
	return fmt.Sprintf("%.1f MB", float64(bytes)/(1<<20))
}

func (g *gathered) plan(c caseload.Case, out *CasePage) {
	for _, s := range g.steps {
		if s.CaseID != c.ID {
			continue
		}
		line := PlanLine{ID: s.ID, Text: s.Text, Owner: s.Owner}
		if s.Due != nil {
			line.Due = pages.SpokenBy(*s.Due, g.m.Date)
		}
		if e, ended := g.ends[s.ID]; ended {
			line.Ended, line.Done, line.Came = work.Join(", ", e.By, pages.SpokenAt(e.Known, g.m.Date)), e.Done, e.Text
		} else {
			line.Overdue = s.Due != nil && *s.Due < g.m.Date
		}
		out.Plan = append(out.Plan, line)
	}
	slices.SortStableFunc(out.Plan, func(a, b PlanLine) int { return cmp.Compare(min(len(a.Ended), 1), min(len(b.Ended), 1)) })
}

// since adds the contacts, sessions and meetings since a case was opened.
func (g *gathered) since(c caseload.Case, out *CasePage) {
	opened := c.Known.Date()
	add := func(l ContactLine, d day.Date, m day.Minute) {
		if d < opened {
			out.Earlier++
			return
		}
		l.sort, l.On = day.At(d, m), pages.SpokenBy(d, g.m.Date)
		if m != day.Midnight {
			l.On += ", " + m.String()
		}
		out.Contacts = append(out.Contacts, l)
	}
	for _, x := range g.contacts[c.StudentID] {
		l := ContactLine{What: contactWords(x), By: x.By, Text: work.Join(", ", x.Said, x.Note)}
		if x.Kept != caseload.ForOffice && g.mayRead(c.StudentID, x) {
			l.Note = x.ID
		}
		add(l, x.Date, x.Minute)
	}
	n := support.Count{}
	for _, s := range g.sessions {
		if s.StudentID != c.StudentID {
			continue
		}
		at := day.Midnight
		if s.Minute != nil {
			at = *s.Minute
		}
		if s.Date >= opened && s.Date <= g.m.Date {
			n.Sessions, n.Minutes = n.Sessions+1, n.Minutes+s.Minutes
		}
		l := ContactLine{What: g.words.Name(&s.Kind) + ", " + day.Duration(s.Minutes), By: s.LedBy, Text: work.Join("; ", caseload.Shown(s.Kept, s.Note), caseload.Shown(s.Kept, s.OwnNote))}
		if s.Kept != caseload.ForOffice && s.Note+s.OwnNote != "" && g.readers.MayOf(g.cases, c.StudentID, s.Kept, caseload.Whose(s)...) {
			l.Session = s.ID
		}
		add(l, s.Date, at)
	}
	out.Sessions = "no support session"
	if n.Sessions > 0 {
		out.Sessions = work.Count(n.Sessions, "support session") + ", " + day.Duration(n.Minutes)
	}
	for _, m := range g.meetings {
		if m.StudentID == c.StudentID {
			out.Meetings = append(out.Meetings, StudentMeetingLine{ID: m.ID, Title: m.Title, On: pages.SpokenBy(m.Date, g.m.Date) + ", " + m.Minute.String() + " to " + m.Until.String(), Room: m.Room, People: joinPeople(m.People), Ahead: m.Date >= g.m.Date})
		}
	}
	slices.SortStableFunc(out.Contacts, func(a, b ContactLine) int { return cmp.Compare(b.sort, a.sort) })
}

// contactWords say what a contact was: spoke with Runa Ulvar; call of the morning.
func contactWords(c contact) string {
	out := c.Outcome
	switch {
	case c.With == caseload.WithStudent:
		out += " with the student"
	case c.Who != "":
		out += ": " + c.Who
	}
	return work.Join(", ", out, map[bool]string{true: "call of the morning", false: map[string]string{"call": "", "message": "message", "meeting": "meeting", "visit": "visit"}[c.Way]}[c.Morning])
}

// NoteView is a note that is kept to fewer than all of the office.
type NoteView struct {
	Text string `json:"text"`
	By   string `json:"by"`
	Kept string `json:"kept" doc:"For whom, in words"`
}

// ReadNote shows a confidential note of a contact to whom it is for; the look is on record.
func ReadNote(ctx context.Context, o *work.Office, p work.Person, student ids.Student, id ids.Followup) (NoteView, error) {
	var out NoteView
	err := o.Read(ctx, func(v work.Snapshot) error {
		f, err := store.FollowupByID(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		if f == nil || f.StudentID != student {
			return work.NotFoundf("there is no such note of that student")
		}
		out = NoteView{Text: f.Note, By: work.Join(", ", f.By, f.Date.Spoken()), Kept: keptFor[f.Kept]}
		return mayRead(ctx, v, p, student, f.Kept, f.AccountID)
	})
	if err != nil {
		return NoteView{}, err
	}
	return out, nil
}

// keptFor says for whom notes are.
var keptFor = map[string]string{caseload.ForOffice: "the office", caseload.ForLeads: "pastoral leads", caseload.ForOwner: "whoever wrote it and has the case"}

// mayRead refuses a note of a student to those it is not for: besides those whose it is, whoever has the student's case
// may read it.
func mayRead(ctx context.Context, v work.Snapshot, p work.Person, student ids.Student, kept string, whose ...ids.Account) error {
	r, err := caseload.ReadersFor(ctx, v.Store(), p)
	if err != nil {
		return err
	}
	cases, err := caseload.Cases(ctx, v.Store(), v.Now)
	if err != nil {
		return err
	}
	if !r.MayOf(cases, student, kept, whose...) {
		return work.Refusedf("that note is confidential")
	}
	return nil
}

// ReadSession shows the notes of a student's session that are kept to fewer, to whom they are for.
func ReadSession(ctx context.Context, o *work.Office, p work.Person, student ids.Student, id ids.SupportSession) (NoteView, error) {
	var out NoteView
	err := o.Read(ctx, func(v work.Snapshot) error {
		all, err := store.SupportSessionsOf(ctx, v.Store(), student)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(all, func(s store.SupportSession) bool { return s.ID == id })
		if i < 0 {
			return work.NotFoundf("there is no such session of that student")
		}
		s := all[i]
		out = NoteView{Text: work.Join("; ", s.Note, s.OwnNote), By: work.Join(", ", s.By, s.Date.Spoken()), Kept: keptFor[s.Kept]}
		return mayRead(ctx, v, p, student, s.Kept, caseload.Whose(s)...)
	})
	if err != nil {
		return NoteView{}, err
	}
	return out, nil
}

// PaperOf returns a paper of a case to whom the case is for.
func PaperOf(ctx context.Context, o *work.Office, p work.Person, student ids.Student, of ids.Case, id ids.CaseDocument) (pages.File, error) {
	var out pages.File
	err := o.Read(ctx, func(v work.Snapshot) error {
		cases, err := caseload.Cases(ctx, v.Store(), v.Now)
		if err != nil {
			return err
		}
		c, err := caseOf(cases, student, of)
		if err != nil {
			return err
		}
		r, err := caseload.ReadersFor(ctx, v.Store(), p)
		if err != nil {
			return err
		}
		if !r.May(c.Last().Kept, c.Last().OwnerID) {
			return work.Refusedf("that case is not for everybody in the office")
		}
		d, err := store.CaseDocumentOf(ctx, v.Store(), of, id)
		if err == nil && d == nil {
			err = work.NotFoundf("the case has no such paper")
		}
		if err == nil {
			out = pages.File{Name: d.Name, Type: d.Type, Content: d.Content}
		}
		return err
	})
	return out, err
}

// MeetingFile returns a meeting as iCalendar has it (RFC 5545).
func MeetingFile(ctx context.Context, o *work.Office, student ids.Student, id ids.Meeting) (pages.File, error) {
	var out pages.File
	err := o.Read(ctx, func(v work.Snapshot) error {
		all, err := store.StudentMeetings(ctx, v.Store(), v.Now)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(all, func(m store.StudentMeeting) bool { return m.ID == id && m.StudentID == student })
		if i < 0 {
			return work.NotFoundf("there is no such meeting")
		}
		out = calendarFile(all[i])
		return nil
	})
	return out, err
}

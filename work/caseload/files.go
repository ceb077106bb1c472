package caseload

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/files/supportfile"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// ImportContacts says what contacts.csv would change, and applies it when asked to. A contact that is known by its
// name is corrected where the file says otherwise; one that was taken back here stays so; one that the file lacks
// stays.
func ImportContacts(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "contacts imported"}
	return plans.Run(ctx, o, job, opt, &contactFile{files: files})
}

// ImportSessions does the same with sessions.csv. Kinds that the school has not become its own.
func ImportSessions(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "sessions imported"}
	return plans.Run(ctx, o, job, opt, &sessionFile{files: files})
}

// studentsByName are the school's students by the name in the files.
func studentsByName(v work.Snapshot) map[string]ids.Student {
	out := map[string]ids.Student{}
	for _, s := range v.School.Students {
		out[s.SourcedID] = s.ID
	}
	return out
}

type contactFile struct {
	files table.Files
	add   []store.Followup
	off   []ids.Followup // whose place others take
}

func (c *contactFile) Plan(ctx context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	rows, problems := supportfile.ReadContacts(c.files)
	c.add, c.off = nil, nil
	of := studentsByName(v)
	known, gone, err := followupsKept(ctx, v)
	if err != nil {
		return plans.Plan{}, store.School{}, err
	}
	part, back, fewer := plans.PlanPart{What: "contact"}, 0, 0
	p := plans.New(nil, nil)
	p.When = "at all times"
	for _, r := range rows {
		student := of[r.Student]
		switch {
		case student == 0:
			problems = append(problems, table.Problem{File: supportfile.Contacts, Line: r.Line, Text: "there is no student " + r.Student})
			continue
		case r.Date > v.Now.Date():
			problems = append(problems, table.Problem{File: supportfile.Contacts, Line: r.Line, Text: r.Date.String() + " has not come yet"})
			continue
		}
		row := store.Followup{StudentID: student, Date: r.Date, Minute: r.Minute, Way: r.Way, With: r.With, Who: r.Who, Outcome: r.Outcome, Note: r.Note, NextDate: r.Next, Kept: r.Kept, SourcedID: r.ID}
		if row.Minute.IsZero() {
			row.Minute = day.MustMinute("12:00")
		}
		was, there := known[r.ID]
		switch {
		case !there && gone[r.ID]:
			back++
		case !there:
			part.Added++
			c.add = append(c.add, row)
			p.Detail("add contact %s: %s, %s", r.ID, r.Date, r.Outcome)
		case was.Kept != ForOffice: // files do not hold its note, and nobody's look is theirs
			part.Same++
			fewer++
		case sameContact(v, was, row):
			part.Same++
		default:
			part.Changed++
			row.ContactID = was.ContactID
			if was.ContactID != nil {
				row.Who = was.Who
			}
			c.add, c.off = append(c.add, row), append(c.off, was.ID)
			p.Detail("change contact %s from %s, %s to %s, %s", r.ID, was.Date, was.Outcome, r.Date, r.Outcome)
		}
	}
	if back > 0 {
		p.Note("%s that %s taken back here stay so", work.Count(back, "contact"), map[bool]string{true: "was", false: "were"}[back == 1])
	}
	if fewer > 0 {
		p.Note("%s, kept to fewer than the office, stay as they are", work.Count(fewer, "contact"))
	}
	p.Add(problems, nil)
	p.Parts = append(p.Parts, part)
	return p, v.School.Records().Rows, nil
}

// sameContact holds what a file says against what is kept.
func sameContact(v work.Snapshot, was, is store.Followup) bool {
	next := func(d *day.Date) day.Date {
		if d == nil {
			return day.NoEnd
		}
		return *d
	}
	return was.StudentID == is.StudentID && was.Date == is.Date && was.Minute == is.Minute && was.Way == is.Way && was.With == is.With && whoOf(v, was) == is.Who &&
		was.Outcome == is.Outcome && was.Kept == is.Kept && was.Note == is.Note && next(was.NextDate) == next(is.NextDate)
}

// whoOf names with whom a contact was.
func whoOf(v work.Snapshot, f store.Followup) string {
	if f.ContactID != nil {
		return v.School.ContactOf(*f.ContactID).Name()
	}
	return f.Who
}

// nameOf is by which files know a contact.
func nameOf(f store.Followup) string {
	if f.SourcedID != "" {
		return f.SourcedID
	}
	return fmt.Sprint("f", f.ID)
}

// followupsKept returns the contacts that stand by the names that files have for them, and the names of those that
// were taken back.
func followupsKept(ctx context.Context, v work.Snapshot) (known map[string]store.Followup, gone map[string]bool, err error) {
	all, err := store.FollowupsKept(ctx, v.Store())
	known, gone = map[string]store.Followup{}, map[string]bool{}
	for _, f := range all {
		if f.UndoneBy != nil {
			gone[nameOf(f)] = true
		} else {
			known[nameOf(f)] = f
		}
	}
	return known, gone, err
}

func (c *contactFile) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	for _, id := range c.off {
		if err := store.ReplaceFollowup(ctx, tx.Tx, id, tx.Entry); err != nil {
			return err
		}
	}
	for _, f := range c.add {
		f.Origin = tx.Origin()
		if _, err := store.AddFollowup(ctx, tx.Tx, f); err != nil {
			return err
		}
	}
	return nil
}

type sessionFile struct {
	files table.Files
	add   []store.SupportSession // of students who were not in them
	fix   []store.SupportSession
	kinds []string // that the school has not
}

func (c *sessionFile) Plan(ctx context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	rows, problems := supportfile.ReadSessions(c.files)
	c.add, c.fix, c.kinds = nil, nil, nil
	of := studentsByName(v)
	words, err := Words(ctx, v.Store())
	if err != nil {
		return plans.Plan{}, store.School{}, err
	}
	kept, err := store.SupportSessionsKept(ctx, v.Store(), v.Now)
	if err != nil {
		return plans.Plan{}, store.School{}, err
	}
	known := map[[2]string]store.SupportSession{}
	for _, s := range kept {
		known[[2]string{s.SourcedID, v.School.StudentOf(s.StudentID).SourcedID}] = s
	}
	part, back, fewer := plans.PlanPart{What: "student in a session"}, 0, 0
	p := plans.New(nil, nil)
	p.When = "at all times"
	for _, r := range rows {
		if of[r.Student] == 0 {
			problems = append(problems, table.Problem{File: supportfile.Sessions, Line: r.Line, Text: "there is no student " + r.Student})
			continue
		}
		row := store.SupportSession{StudentID: of[r.Student], SourcedID: r.ID, Date: r.Date, Minute: r.From, Minutes: r.Minutes, LedBy: r.LedBy, Note: r.Note, OwnNote: r.OwnNote, Kept: r.Kept}
		kind := slices.IndexFunc(words.List(Kinds), func(w store.SupportWord) bool { return strings.EqualFold(w.Name, r.Kind) })
		if kind >= 0 {
			row.Kind = words.List(Kinds)[kind].ID
		} else if !slices.ContainsFunc(c.kinds, func(k string) bool { return strings.EqualFold(k, r.Kind) }) {
			c.kinds = append(c.kinds, r.Kind)
		}
		row.KindName = r.Kind
		was, there := known[[2]string{r.ID, r.Student}]
		switch {
		case there && was.Gone:
			back++
		case !there:
			part.Added++
			c.add = append(c.add, row)
			p.Detail("add session %s of %s: %s, %s, %d minutes", r.ID, r.Student, r.Date, r.Kind, r.Minutes)
		case was.Kept != ForOffice:
			part.Same++
			fewer++
		case sameSession(was, row):
			part.Same++
		default:
			part.Changed++
			row.ID, row.Group, row.LeaderID = was.ID, was.Group, was.LeaderID
			if row.LedBy != was.LedBy {
				row.LeaderID = nil
			}
			c.fix = append(c.fix, row)
			p.Detail("change session %s of %s to %s, %s, %d minutes", r.ID, r.Student, r.Date, r.Kind, r.Minutes)
		}
	}
	if back > 0 {
		p.Note("%s of sessions that were taken off here stay so", work.Count(back, "student"))
	}
	if fewer > 0 {
		p.Note("%s, in sessions that are kept to fewer than the office, stay as they are", work.Count(fewer, "student"))
	}
	for _, k := range c.kinds {
		p.Note("%q becomes a kind of session, in school time or outside", k)
	}
	p.Add(problems, nil)
	p.Parts = append(p.Parts, part)
	return p, v.School.Records().Rows, nil
}

func sameSession(was, is store.SupportSession) bool {
	return was.Date == is.Date && sameMinute(was.Minute, is.Minute) && was.Minutes == is.Minutes && was.Kind == is.Kind && was.LedBy == is.LedBy && was.Kept == is.Kept &&
		was.Note == is.Note && was.OwnNote == is.OwnNote
}

func (c *sessionFile) Write(ctx context.Context, tx *work.Tx, v work.Snapshot, _ store.School) error {
	w, err := writing(ctx, tx, v)
	if err != nil {
		return err
	}
	place := len(w.words.List(Kinds))
	for _, name := range c.kinds {
		place++
		id, err := store.SaveSupportWord(ctx, tx.Tx, store.SupportWord{List: Kinds, Name: name, Belongs: string(support.Either), Place: place, Journal: &tx.Entry})
		if err != nil {
			return err
		}
		for _, rows := range [][]store.SupportSession{c.add, c.fix} {
			for i := range rows {
				if strings.EqualFold(rows[i].KindName, name) {
					rows[i].Kind = id
				}
			}
		}
	}
	for i := range c.fix {
		c.fix[i].Origin = tx.Origin()
	}
	if err := store.AddSessionVersions(ctx, tx.Tx, c.fix); err != nil {
		return err
	}
	for _, name := range inOrder(c.add) {
		var parts []store.SupportSession
		for _, x := range c.add {
			if x.SourcedID == name {
				parts = append(parts, x)
			}
		}
		if err := w.add(ctx, parts); err != nil {
			return err
		}
	}
	return nil
}

// inOrder are the names of sessions, each once.
func inOrder(rows []store.SupportSession) (out []string) {
	seen := map[string]bool{}
	for _, x := range rows {
		if !seen[x.SourcedID] {
			seen[x.SourcedID] = true
			out = append(out, x.SourcedID)
		}
	}
	return out
}

// ExportContacts returns the contacts that stand as contacts.csv. Notes that are kept to fewer than all of the office
// are not in it.
func ExportContacts(ctx context.Context, o *work.Office) (table.Files, error) {
	var out []supportfile.Contact
	err := o.Read(ctx, func(v work.Snapshot) error {
		all, err := store.Followups(ctx, v.Store(), v.Now)
		for _, f := range all {
			out = append(out, supportfile.Contact{ID: nameOf(f), Student: v.School.StudentOf(f.StudentID).SourcedID, Date: f.Date, Minute: f.Minute, Way: f.Way, With: f.With, Who: whoOf(v, f), Outcome: f.Outcome, Note: Shown(f.Kept, f.Note), Next: f.NextDate, RecordedBy: f.By, Kept: f.Kept})
		}
		return err
	})
	return supportfile.WriteContacts(out), err
}

// ExportSessions returns the support sessions that were held as sessions.csv.
func ExportSessions(ctx context.Context, o *work.Office) (table.Files, error) {
	var out []supportfile.Session
	err := o.Read(ctx, func(v work.Snapshot) error {
		words, err := Words(ctx, v.Store())
		if err != nil {
			return err
		}
		all, err := store.SupportSessions(ctx, v.Store(), day.NoStart, v.Now)
		for _, s := range all {
			out = append(out, supportfile.Session{ID: s.SourcedID, Student: v.School.StudentOf(s.StudentID).SourcedID, Date: s.Date, From: s.Minute, Minutes: s.Minutes, Kind: words.Name(&s.Kind), LedBy: s.LedBy, Note: Shown(s.Kept, s.Note), OwnNote: Shown(s.Kept, s.OwnNote), Kept: s.Kept})
		}
		return err
	})
	return supportfile.WriteSessions(out), err
}

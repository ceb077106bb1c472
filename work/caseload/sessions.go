package caseload

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/store"
	"meldung/work"
)

// farthest is for how many days ahead a session can be written down. It counts when its day has come.
const farthest = 366

// NewSession is a support session as it is written down, of one student or several.
type NewSession struct {
	Date     string          `json:"date" maxLength:"10" doc:"YYYY-MM-DD"`
	From     string          `json:"from,omitempty" maxLength:"10" doc:"As people type it, 1220 or 12:20; empty where only its length is known"`
	Minutes  int             `json:"minutes" minimum:"1" maximum:"720"`
	Kind     ids.SupportWord `json:"kind"`
	Leader   ids.Account     `json:"leader,omitempty" doc:"0 for whoever writes it"`
	Note     string          `json:"note,omitempty" maxLength:"1000" doc:"For all of them"`
	Kept     string          `json:"kept,omitempty" enum:"office,leads,owner," doc:"For whom the notes are; empty for the office"`
	Students []SessionPart   `json:"students" minItems:"1" maxItems:"60"`
	Sure     bool            `json:"sure,omitempty" doc:"What was asked about it is answered: so it was"`
}

// SessionPart is a student's part in a session.
type SessionPart struct {
	Student ids.Student `json:"student"`
	Note    string      `json:"note,omitempty" maxLength:"1000" doc:"For this student alone"`
}

// AddSession writes a session of several students at once.
func AddSession(ctx context.Context, o *work.Office, p work.Person, key string, s NewSession) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayAddSession, Kind: "support session", In: s, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		w, err := writing(ctx, tx, v)
		if err != nil {
			return err
		}
		row, err := w.row(ctx, s)
		if err != nil {
			return err
		}
		var parts []store.SupportSession
		for _, x := range s.Students {
			if slices.ContainsFunc(parts, func(o store.SupportSession) bool { return o.StudentID == x.Student }) {
				continue
			}
			if _, err := v.Student(x.Student); err != nil {
				return err
			}
			one := row
			one.StudentID, one.OwnNote = x.Student, strings.TrimSpace(x.Note)
			parts = append(parts, one)
		}
		if err := w.asked(s.Sure, parts); err != nil {
			return err
		}
		if err := w.add(ctx, parts); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, w.said(parts, ""), partIDs(parts)...)
		return nil
	})
	return out, err
}

// writer writes sessions of one write.
type writer struct {
	tx    *work.Tx
	v     work.Snapshot
	words Vocabulary
	now   []store.SupportSession // as they hold
	cases []Case
	reads Readers
}

func writing(ctx context.Context, tx *work.Tx, v work.Snapshot) (writer, error) {
	words, err := Words(ctx, tx.Tx)
	if err != nil {
		return writer{}, err
	}
	w := writer{tx: tx, v: v, words: words}
	if w.cases, err = Cases(ctx, tx.Tx, tx.Now); err != nil {
		return w, err
	}
	if w.reads, err = ReadersFor(ctx, tx.Tx, tx.Person); err != nil {
		return w, err
	}
	w.now, err = store.SupportSessions(ctx, tx.Tx, day.NoStart, tx.Now)
	return w, err
}

// Whose are a session's words: of who wrote it, and of who leads it.
func Whose(s store.SupportSession) []ids.Account {
	if s.LeaderID == nil {
		return []ids.Account{s.AccountID}
	}
	return []ids.Account{s.AccountID, *s.LeaderID}
}

// row judges what is the same for all of a session.
func (w writer) row(ctx context.Context, s NewSession) (store.SupportSession, error) {
	row := store.SupportSession{Minutes: s.Minutes, Kind: s.Kind, Note: strings.TrimSpace(s.Note), Kept: keptOr(s.Kept, ForOffice), Origin: w.tx.Origin()}
	var err error
	if row.Date, err = day.ParseDate(s.Date); err != nil {
		return row, work.Wrongf("say on which date; nothing was saved")
	}
	if row.Date > w.tx.Now.Date()+farthest {
		return row, work.Wrongf("%s is more than a year ahead; nothing was saved", row.Date.Spoken())
	}
	if s.From != "" {
		from, err := day.ParseTyped(s.From)
		if err != nil || from.SinceMidnight()+s.Minutes > 24*60 {
			return row, work.Wrongf("say from when, and for how many minutes of the same day; nothing was saved")
		}
		row.Minute = &from
	}
	if w.words.Of(Kinds, s.Kind) == nil {
		return row, work.Wrongf("say what kind of session it was: one of the school’s own; nothing was saved")
	}
	leader := s.Leader
	if leader == 0 {
		leader = w.tx.Person.Account
	}
	to, err := ownerOf(ctx, w.tx.Tx, leader)
	row.LeaderID, row.LedBy = &to.ID, to.Name
	return row, err
}

// asked asks once about what may be a slip: a time that does not fit the kind, a student who is there already.
func (w writer) asked(sure bool, parts []store.SupportSession) error {
	if sure {
		return nil
	}
	var why []string
	for _, x := range parts {
		kind := w.words.Of(Kinds, x.Kind)
		if cal := w.v.Of(x.StudentID).Calendar; cal != nil {
			if q := support.Place(kind.Belongs).Question(cal, timeOf(x)); q != "" {
				why = append(why, fmt.Sprintf("%s belongs %s, and %s", kind.Name, map[string]string{"in": "in school time", "outside": "outside school time"}[kind.Belongs], q))
			}
		}
		for _, o := range w.now {
			if o.StudentID == x.StudentID && o.ID != x.ID && o.Date == x.Date && o.Kind == x.Kind && sameMinute(o.Minute, x.Minute) {
				why = append(why, fmt.Sprintf("%s has %s on %s already", w.v.School.StudentOf(x.StudentID).Name(), kind.Name, timeWords(o)))
			}
		}
	}
	if len(why) == 0 {
		return nil
	}
	slices.Sort(why)
	return work.Conflictf("%s. Nothing was saved; save it again if it is so", strings.Join(slices.Compact(why), "; "))
}

func sameMinute(a, b *day.Minute) bool {
	return a == nil && b == nil || a != nil && b != nil && *a == *b
}

func timeOf(s store.SupportSession) support.Time {
	t := support.Time{Date: s.Date, Minutes: s.Minutes}
	if s.Minute != nil {
		t.From = *s.Minute
	}
	return t
}

// timeWords say when a session was: Mon 9 March, 12:20.
func timeWords(s store.SupportSession) string {
	if s.Minute == nil {
		return s.Date.Spoken()
	}
	return s.Date.Spoken() + ", " + s.Minute.String()
}

// add writes sessions that are new, of one group.
func (w writer) add(ctx context.Context, parts []store.SupportSession) error {
	for i := range parts {
		x := &parts[i]
		x.Origin = w.tx.Origin()
		var err error
		if x.ID, err = store.AddSupportSession(ctx, w.tx.Tx, *x); err != nil {
			return err
		}
		x.Group = parts[0].ID
		if x.SourcedID == "" {
			if err := store.NameSupportSession(ctx, w.tx.Tx, x.ID, fmt.Sprint("s", x.Group)); err != nil {
				return err
			}
		}
	}
	return store.AddSessionVersions(ctx, w.tx.Tx, parts)
}

// said names a session: Cato Vane and 4 more: Mentoring, Mon 9 March, 12:20.
func (w writer) said(parts []store.SupportSession, what string) string {
	first := parts[0]
	name := w.v.School.StudentOf(first.StudentID).Name()
	if len(parts) > 1 {
		name += fmt.Sprintf(" and %d more", len(parts)-1)
	}
	words := fmt.Sprintf("%s: %s%s, %s", name, w.words.Name(&first.Kind), what, timeWords(first))
	if first.Date.Monday() != w.tx.Now.Date().Monday() {
		words += ", week of " + first.Date.Monday().Spoken()
	}
	return words
}

func partIDs(parts []store.SupportSession) []ids.SupportSession {
	out := make([]ids.SupportSession, len(parts))
	for i, x := range parts {
		out[i] = x.ID
	}
	return out
}

// OfSession are the students of a session whom something is done about, by their parts in it, in one group.
type OfSession struct {
	Parts []ids.SupportSession `json:"parts" minItems:"1" maxItems:"60"`
	work.Since
}

// chosen returns the chosen parts as they hold, and how many others are of their group.
func (w writer) chosen(of OfSession) (parts []store.SupportSession, others int, err error) {
	for _, id := range of.Parts {
		i := slices.IndexFunc(w.now, func(x store.SupportSession) bool { return x.ID == id })
		if i < 0 {
			return nil, 0, work.NotFoundf("that session is gone, or never was; nothing was changed")
		}
		x := w.now[i]
		if len(parts) > 0 && x.Group != parts[0].Group {
			return nil, 0, work.Wrongf("these were not of one session; nothing was changed")
		}
		if !w.reads.MayOf(w.cases, x.StudentID, x.Kept, Whose(x)...) {
			return nil, 0, work.Refusedf("that session is kept to those whose it is; nothing was changed")
		}
		if of.IsNews(w.tx, x.Origin) {
			return nil, 0, work.FirstTold(x.Origin, w.said([]store.SupportSession{x}, ""))
		}
		if !slices.ContainsFunc(parts, func(o store.SupportSession) bool { return o.ID == id }) {
			parts = append(parts, x)
		}
	}
	for _, x := range w.now {
		if x.Group == parts[0].Group {
			others++
		}
	}
	return parts, others - len(parts), nil
}

// SessionChange is how a session is to be for those chosen. What is kept to fewer than may read it here stays as it
// is unless it is said anew.
type SessionChange struct {
	OfSession
	Date    string          `json:"date" maxLength:"10" doc:"YYYY-MM-DD"`
	From    string          `json:"from,omitempty" maxLength:"10"`
	Minutes int             `json:"minutes" minimum:"1" maximum:"720"`
	Kind    ids.SupportWord `json:"kind"`
	Leader  ids.Account     `json:"leader,omitempty"`
	Note    *string         `json:"note,omitempty" maxLength:"1000" doc:"For all of them; none leaves it"`
	OwnNote *string         `json:"ownNote,omitempty" maxLength:"1000" doc:"For the one chosen; none leaves it"`
	Kept    string          `json:"kept,omitempty" enum:"office,leads,owner,"`
	Sure    bool            `json:"sure,omitempty"`
}

// ChangeSession changes a session for those chosen, and nobody else: where others were of it, it is a session of
// its own from then on.
func ChangeSession(ctx context.Context, o *work.Office, p work.Person, key string, c SessionChange) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayChangeSession, Kind: "support session", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		w, err := writing(ctx, tx, v)
		if err != nil {
			return err
		}
		parts, others, err := w.chosen(c.OfSession)
		if err != nil {
			return err
		}
		row, err := w.row(ctx, NewSession{Date: c.Date, From: c.From, Minutes: c.Minutes, Kind: c.Kind, Leader: c.Leader, Kept: keptOr(c.Kept, parts[0].Kept)})
		if err != nil {
			return err
		}
		was := w.said(parts, "")
		group := parts[0].Group
		alone := others > 0 && (row.Date != parts[0].Date || !sameMinute(row.Minute, parts[0].Minute) || row.Minutes != parts[0].Minutes || row.Kind != parts[0].Kind || row.LedBy != parts[0].LedBy || c.Note != nil)
		if alone {
			group = -ids.SupportSession(tx.Entry)
		}
		for i := range parts {
			x := &parts[i]
			x.Group, x.Date, x.Minute, x.Minutes, x.Kind, x.LeaderID, x.LedBy, x.Kept, x.Origin = group, row.Date, row.Minute, row.Minutes, row.Kind, row.LeaderID, row.LedBy, row.Kept, tx.Origin()
			if c.Note != nil {
				x.Note = strings.TrimSpace(*c.Note)
			}
			if c.OwnNote != nil && len(parts) == 1 {
				x.OwnNote = strings.TrimSpace(*c.OwnNote)
			}
		}
		if err := w.asked(c.Sure, parts); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, w.said(parts, " changed")+"; was "+was, partIDs(parts)...)
		return store.AddSessionVersions(ctx, tx.Tx, parts)
	})
	return out, err
}

// TakeSessionOff takes a session off for those chosen, and nobody else.
func TakeSessionOff(ctx context.Context, o *work.Office, p work.Person, key string, of OfSession) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayTakeSessionOff, Kind: "support session", In: of, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		w, err := writing(ctx, tx, v)
		if err != nil {
			return err
		}
		parts, others, err := w.chosen(of)
		if err != nil {
			return err
		}
		words := w.said(parts, " taken off")
		if others > 0 {
			words += fmt.Sprintf("; %s keep theirs", work.Count(others, "other"))
		}
		for i := range parts {
			parts[i].Gone, parts[i].Origin = true, tx.Origin()
		}
		out = work.ReceiptOf(tx, words, partIDs(parts)...)
		return store.AddSessionVersions(ctx, tx.Tx, parts)
	})
	return out, err
}

// SessionRepeat has a session held again on other dates, for those chosen.
type SessionRepeat struct {
	OfSession
	Dates []string `json:"dates" minItems:"1" maxItems:"30" doc:"YYYY-MM-DD"`
	Sure  bool     `json:"sure,omitempty"`
}

// RepeatSession writes a session again on other dates: the same students, time, kind and leader, and no notes.
func RepeatSession(ctx context.Context, o *work.Office, p work.Person, key string, r SessionRepeat) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayRepeatSession, Kind: "support session", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		w, err := writing(ctx, tx, v)
		if err != nil {
			return err
		}
		parts, _, err := w.chosen(r.OfSession)
		if err != nil {
			return err
		}
		var groups [][]store.SupportSession
		var all []store.SupportSession
		var on []day.Date
		for _, text := range r.Dates {
			d, err := day.ParseDate(text)
			switch {
			case err != nil:
				return work.Wrongf("%v; nothing was saved", err)
			case d > tx.Now.Date()+farthest:
				return work.Wrongf("%s is more than a year ahead; nothing was saved", d.Spoken())
			case slices.Contains(on, d):
				continue
			}
			on = append(on, d)
			again := slices.Clone(parts)
			for i := range again {
				again[i].ID, again[i].SourcedID, again[i].Date, again[i].Note, again[i].OwnNote, again[i].Kept = 0, "", d, "", "", ForOffice
			}
			groups, all = append(groups, again), append(all, again...)
		}
		if err := w.asked(r.Sure, all); err != nil {
			return err
		}
		var made []ids.SupportSession
		for _, again := range groups {
			if err := w.add(ctx, again); err != nil {
				return err
			}
			made = append(made, partIDs(again)...)
		}
		out = work.ReceiptOf(tx, w.said(parts, " again on "+day.ListDates(on)), made...)
		return nil
	})
	return out, err
}

// NoSession is why a student was in no session of a week.
type NoSession struct {
	Student ids.Student `json:"student"`
	Week    string      `json:"week" maxLength:"10" doc:"A date of the week, YYYY-MM-DD"`
	Text    string      `json:"text,omitempty" maxLength:"200" doc:"Empty for none any more"`
}

// SayWhyNone keeps why a student of the caseload was in no session of a week.
func SayWhyNone(ctx context.Context, o *work.Office, p work.Person, key string, n NoSession) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySayWhyNone, Kind: "week without session", In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(n.Student)
		if err != nil {
			return err
		}
		on, err := day.ParseDate(n.Week)
		if err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		id, err := store.SetWeekReason(ctx, tx.Tx, store.WeekReason{StudentID: s.ID, Week: on.Monday(), Text: strings.TrimSpace(n.Text), Origin: tx.Origin()})
		out = work.ReceiptOf(tx, fmt.Sprintf("%s, week of %s: %s", s.Name(), on.Monday().Spoken(), keptOr(strings.TrimSpace(n.Text), "no reason any more")), id)
		return err
	})
	return out, err
}

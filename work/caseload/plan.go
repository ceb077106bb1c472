package caseload

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/contacts"
)

// PlanStep is something that is planned in a case.
type PlanStep struct {
	Case  ids.Case    `json:"case"`
	Text  string      `json:"text" minLength:"1" maxLength:"200"`
	Due   string      `json:"due,omitempty" maxLength:"10" doc:"YYYY-MM-DD; empty for no date"`
	Owner ids.Account `json:"owner,omitempty" doc:"Who does it; 0 for the case's owner"`
}

// Plan adds a step to the plan of a case.
func Plan(ctx context.Context, o *work.Office, p work.Person, key string, s PlanStep) (work.Receipt, error) {
	var out work.Receipt
	s.Text = strings.TrimSpace(s.Text)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayPlanCase, Kind: "case plan", In: s, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		is, student, err := openCase(ctx, tx, v, s.Case)
		if err != nil {
			return err
		}
		row := store.CaseStep{CaseID: is.ID, Text: s.Text, OwnerID: is.Last().OwnerID, Origin: tx.Origin()}
		if s.Text == "" {
			return work.Wrongf("say what is to be done; nothing was saved")
		}
		if s.Due != "" {
			on, err := day.ParseDate(s.Due)
			switch {
			case err != nil:
				return work.Wrongf("%v; nothing was saved", err)
			case on < tx.Now.Date():
				return work.Wrongf("%s has passed; nothing was saved", on.Spoken())
			}
			row.Due = &on
		}
		if s.Owner != 0 {
			to, err := ownerOf(ctx, tx.Tx, s.Owner)
			if err != nil {
				return err
			}
			row.OwnerID = to.ID
		}
		id, err := store.AddCaseStep(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, student.Name()+": planned", id)
		return err
	})
	return out, err
}

// openCase returns an open case that the person of a write may read, with its student.
func openCase(ctx context.Context, tx *work.Tx, v work.Snapshot, id ids.Case) (Case, store.Student, error) {
	all, err := Cases(ctx, tx.Tx, tx.Now)
	if err != nil {
		return Case{}, store.Student{}, err
	}
	is, err := OwnCase(ctx, tx, all, id)
	if err != nil {
		return is, store.Student{}, err
	}
	if !is.Open() {
		err = work.Conflictf("the case is closed: open it again first. Nothing was changed")
	}
	return is, v.School.StudentOf(is.StudentID), err
}

// PlanStepEnd is what came of a step of a plan.
type PlanStepEnd struct {
	Case ids.Case     `json:"case"`
	Step ids.CaseStep `json:"step"`
	Done bool         `json:"done" doc:"Else it is dropped"`
	Text string       `json:"text,omitempty" maxLength:"400" doc:"What came of it; why, where it is dropped"`
}

// EndPlanned says that a step of a plan was done, or that it is dropped.
func EndPlanned(ctx context.Context, o *work.Office, p work.Person, key string, e PlanStepEnd) (work.Receipt, error) {
	var out work.Receipt
	e.Text = strings.TrimSpace(e.Text)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndPlanned, Kind: "case plan", In: e, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		is, student, err := openCase(ctx, tx, v, e.Case)
		if err != nil {
			return err
		}
		steps, ends, err := store.CaseSteps(ctx, tx.Tx, tx.Now)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(steps, func(s store.CaseStep) bool { return s.ID == e.Step && s.CaseID == is.ID })
		if i < 0 {
			return work.NotFoundf("there is no such step in this case; nothing was changed")
		}
		if was, ended := ends[e.Step]; ended {
			return work.Conflictf("%s has said so already; nothing was changed", was.By)
		}
		if !e.Done && e.Text == "" {
			return work.Wrongf("say why it is dropped; nothing was changed")
		}
		out = work.ReceiptOf(tx, student.Name()+": "+steps[i].Text+map[bool]string{true: ", done", false: ", dropped"}[e.Done], e.Step)
		return store.EndCaseStep(ctx, tx.Tx, store.CaseStepEnd{StepID: e.Step, Done: e.Done, Text: e.Text, Origin: tx.Origin()})
	})
	return out, err
}

// mostPapers bounds how many papers a case has.
const mostPapers = 50

// Paper is a paper that is put to a case, as it was chosen.
type Paper struct {
	Case     ids.Case          `json:"case"`
	Document contacts.Document `json:"document"`
}

// AddPaper keeps a PDF or a picture with a case.
func AddPaper(ctx context.Context, o *work.Office, p work.Person, key string, x Paper) (work.Receipt, error) {
	var out work.Receipt
	doc, err := x.Document.Checked()
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayAddPaper, Kind: "case paper", In: x, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		is, student, err := openCase(ctx, tx, v, x.Case)
		if err != nil {
			return err
		}
		all, err := store.CaseDocuments(ctx, tx.Tx, is.ID, tx.Now)
		if err != nil {
			return err
		}
		if len(all) >= mostPapers {
			return work.Conflictf("a case has %d papers at most; nothing was saved", mostPapers)
		}
		id, err := store.AddCaseDocument(ctx, tx.Tx, store.CaseDocument{CaseID: is.ID, Name: doc.Name, Type: doc.Type, Content: doc.Content, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, student.Name()+": "+doc.Name+" is with the case", id)
		return err
	})
	return out, err
}

// TakePaperOff takes a paper off its case. It stays in the file until it is erased with the student's data, and can
// be had back.
func TakePaperOff(ctx context.Context, o *work.Office, p work.Person, key string, of ids.Case, id ids.CaseDocument) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayTakePaperOff, Kind: "case paper", Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		is, student, err := openCase(ctx, tx, v, of)
		if err != nil {
			return err
		}
		doc, err := store.CaseDocumentOf(ctx, tx.Tx, is.ID, id)
		if err != nil {
			return err
		}
		if doc == nil {
			return work.NotFoundf("the case has no such paper; nothing was changed")
		}
		out = work.ReceiptOf(tx, student.Name()+": "+doc.Name+" taken off", id)
		_, err = store.TakeCaseDocumentOff(ctx, tx.Tx, id, tx.Entry)
		return err
	})
	return out, err
}

// Meeting is a meeting about a student, as it is arranged.
type Meeting struct {
	Student ids.Student `json:"student"`
	Date    string      `json:"date" maxLength:"10" doc:"YYYY-MM-DD"`
	From    string      `json:"from" maxLength:"10" doc:"As people type it, 1530 or 15:30"`
	Until   string      `json:"until" maxLength:"10" doc:"As from"`
	Title   string      `json:"title" maxLength:"120"`
	Room    string      `json:"room,omitempty" maxLength:"80"`
	People  []string    `json:"people,omitempty" maxItems:"20" doc:"Who is to come, by name"`
}

// Meet arranges a meeting.
func Meet(ctx context.Context, o *work.Office, p work.Person, key string, m Meeting) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayMeet, Kind: "meeting", In: m, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(m.Student)
		if err != nil {
			return err
		}
		row := store.StudentMeeting{StudentID: s.ID, Title: strings.TrimSpace(m.Title), Room: strings.TrimSpace(m.Room), Origin: tx.Origin()}
		if row.Title == "" {
			row.Title = "Meeting about " + s.Name()
		}
		if row.Date, err = day.ParseDate(m.Date); err != nil {
			return work.Wrongf("say on which date; nothing was saved")
		}
		from, wrongFrom := day.ParseTyped(m.From)
		until, wrongUntil := day.ParseTyped(m.Until)
		if wrongFrom != nil || wrongUntil != nil || !from.Before(until) {
			return work.Wrongf("say from when until when; nothing was saved")
		}
		row.Minute, row.Until = from, until
		var people []string
		for _, name := range m.People {
			if name = strings.Join(strings.Fields(name), " "); name != "" && !slices.Contains(people, name) {
				people = append(people, name)
			}
		}
		row.People = strings.Join(people, "\n")
		id, err := store.AddMeeting(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, s.Name()+": meeting on "+row.Date.Spoken()+" at "+from.String(), id)
		return err
	})
	return out, err
}

// CallMeetingOff takes a meeting off.
func CallMeetingOff(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Meeting) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayCallMeetingOff, Kind: "meeting", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		done, err := store.CancelMeeting(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !done {
			err = work.NotFoundf("there is no such meeting, or it is off already")
		}
		out = work.ReceiptOf(tx, "The meeting is off", id)
		return err
	})
	return out, err
}

package stepspage

import (
	"context"

	"meldung/core/ids"
	"meldung/core/letter"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/steps"
)

// ManyRow is to whom a letter about a student goes.
type ManyRow struct {
	Student pages.StudentRef `json:"student"`
	To      []ManyTo         `json:"to" doc:"Empty where nobody is on file"`
}

// ManyTo is one whom a letter goes to.
type ManyTo struct {
	Names string `json:"names"`
	EMail string `json:"eMail" doc:"Empty where it is to be printed"`
}

// ManyView is a letter to many before it goes.
type ManyView struct {
	Problem string    `json:"problem" doc:"What is wrong with its words; empty where nothing is"`
	Rows    []ManyRow `json:"rows"`
	EMails  int       `json:"eMails"`
	Paper   int       `json:"paper"`
	Nobody  int       `json:"nobody" doc:"Students for whom nobody is on file"`
	Subject string    `json:"subject" doc:"As the first of them gets it"`
	Text    string    `json:"text"`
	Fields  []string  `json:"fields" doc:"What may stand in braces"`

	Letters []TemplateRef `json:"letters" doc:"The school's letters that can go without a step"`
}

// TemplateRef is one of the school's letters, by its wording in the school's own language.
type TemplateRef struct {
	ID      ids.Template `json:"id"`
	Name    string       `json:"name"`
	Subject string       `json:"subject"`
	Text    string       `json:"text"`
}

// LookAtMany shows to whom a letter to many goes, and how it reads, before it does.
func LookAtMany(ctx context.Context, o *work.Office, p work.Person, t steps.ToMany) (ManyView, error) {
	out := ManyView{Rows: []ManyRow{}, Fields: []string{}, Letters: []TemplateRef{}}
	for _, f := range letter.Fields {
		if !f.OfStep {
			out.Fields = append(out.Fields, f.Name)
		}
	}
	err := o.Read(ctx, func(v work.Snapshot) error {
		m := v.Moment()
		if err := out.offer(ctx, v); err != nil {
			return err
		}
		letters, nobody, err := t.WriteOut(ctx, v, m, p)
		if err != nil {
			out.Problem = err.Error()
			blank := t
			blank.Letter, blank.Subject, blank.Text = 0, "", ""
			if letters, nobody, err = blank.WriteOut(ctx, v, m, p); err != nil {
				return err
			}
		}
		for _, l := range letters {
			if n := len(out.Rows); n == 0 || out.Rows[n-1].Student.ID != l.Student.ID {
				out.Rows = append(out.Rows, ManyRow{Student: pages.Student(v, l.Student, m.Date), To: []ManyTo{}})
			}
			to := ManyTo{Names: l.Recipient.Names}
			if t.ByEMail(l) {
				to.EMail = l.Recipient.EMail
				out.EMails++
			} else {
				out.Paper++
			}
			row := &out.Rows[len(out.Rows)-1]
			row.To = append(row.To, to)
		}
		out.nobody(v, m, nobody)
		if len(letters) > 0 {
			out.Subject, out.Text = letters[0].Subject, letters[0].Text
		}
		return nil
	})
	return out, err
}

// offer lists the school's letters that can go.
func (out *ManyView) offer(ctx context.Context, v work.Snapshot) error {
	templates, err := store.LetterTemplates(ctx, v.Store())
	if err != nil {
		return err
	}
	texts, err := store.LetterTexts(ctx, v.Store())
	for _, l := range steps.PlainLetters(templates, texts) {
		out.Letters = append(out.Letters, TemplateRef{l.ID, l.Name, l.Subject, l.Text})
	}
	return err
}

func (out *ManyView) nobody(v work.Snapshot, m work.Moment, list []store.Student) {
	out.Nobody = len(list)
	for _, s := range list {
		out.Rows = append(out.Rows, ManyRow{Student: pages.Student(v, s, m.Date), To: []ManyTo{}})
	}
}

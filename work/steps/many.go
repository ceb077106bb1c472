package steps

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/letter"
	"meldung/store"
	"meldung/work"
)

// ToMany is a letter to many: to the students themselves, or to their homes.
type ToMany struct {
	Students []ids.Student `json:"students" minItems:"1" maxItems:"2500"`
	Homes    bool          `json:"homes" doc:"To their homes; else to the students"`
	Paper    bool          `json:"paper" doc:"To print, all of them; else by e-mail, and to print where no address is on file"`
	Letter   ids.Template  `json:"letter,omitempty" doc:"One of the school's letters, which each gets in their own language where the letter has it; 0 for the words here"`
	Subject  string        `json:"subject,omitempty" maxLength:"200" doc:"Empty with one of the school's letters"`
	Text     string        `json:"text,omitempty" maxLength:"10000" doc:"Plain text with fields in braces that do not depend on a step"`
}

// Written is one of the letters, as it would go.
type Written struct {
	Student store.Student
	Filled
}

// ByEMail reports whether it goes by e-mail.
func (t ToMany) ByEMail(w Written) bool { return !t.Paper && w.Recipient.EMail != "" }

// PlainLetters are the school's letters that name nothing of a step, by the wording in the school's own language: who
// writes to a home of their own accord can send them.
func PlainLetters(templates []store.LetterTemplate, texts []store.LetterText) (out []Letter) {
	for _, t := range templates {
		own, any := newest(texts, t.ID, "")
		if t.Retired || !any {
			continue
		}
		plain := true
		for _, x := range texts {
			if now, _ := newest(texts, t.ID, x.Language); x.TemplateID == t.ID && now.ID == x.ID {
				plain = plain && letter.CheckPlain(x.Subject) == nil && letter.CheckPlain(x.Text) == nil
			}
		}
		if plain {
			out = append(out, Letter{ID: t.ID, Name: t.Name, Subject: own.Subject, Text: own.Text})
		}
	}
	return out
}

// wording returns in which words a letter goes to somebody.
func (t ToMany) wording(texts []store.LetterText, to Recipient) store.LetterText {
	if t.Letter == 0 {
		return store.LetterText{Subject: t.Subject, Text: t.Text}
	}
	if x, any := newest(texts, t.Letter, to.Language); any {
		return x
	}
	own, _ := newest(texts, t.Letter, "")
	return own
}

// texts are the wordings that a letter can have; it says what is wrong with the letter's own words.
func (t ToMany) texts(ctx context.Context, q store.Queryer) ([]store.LetterText, error) {
	for _, words := range []string{t.Subject, t.Text} {
		if err := letter.CheckPlain(words); err != nil {
			return nil, work.Wrongf("%v; nothing was sent", err)
		}
	}
	if t.Letter == 0 {
		return nil, nil
	}
	templates, err := store.LetterTemplates(ctx, q)
	if err != nil {
		return nil, err
	}
	texts, err := store.LetterTexts(ctx, q)
	if err == nil && !slices.ContainsFunc(PlainLetters(templates, texts), func(l Letter) bool { return l.ID == t.Letter }) {
		err = work.Conflictf("that letter is for a step of a policy, or is offered no more; nothing was sent")
	}
	return texts, err
}

// WriteOut fills the letters in the order of the students. Nobody is those for whom nobody is on file.
func (t ToMany) WriteOut(ctx context.Context, v work.Snapshot, m work.Moment, by work.Person) (out []Written, nobody []store.Student, err error) {
	texts, err := t.texts(ctx, v.Store())
	if err != nil {
		return nil, nil, err
	}
	for n, id := range t.Students {
		s, err := v.Student(id)
		switch {
		case err != nil:
			return nil, nil, err
		case slices.Contains(t.Students[:n], id):
			return nil, nil, work.Wrongf("%s is named twice; nothing was sent", s.Name())
		}
		to := []Recipient{{Names: s.Name(), Address: v.School.Form(s.ID, m.Date), EMail: s.Email}}
		if t.Homes {
			to = RecipientsOf(v, id)
		}
		if len(to) == 0 {
			nobody = append(nobody, s)
		}
		for _, r := range to {
			values := plainValues(v.Of(id), m, by, s, r)
			one := Written{s, Filled{Recipient: r, Words: t.wording(texts, r)}}
			if one.Subject, err = letter.Fill(one.Words.Subject, values); err != nil {
				return nil, nil, work.Wrongf("in the subject, %v; nothing was sent", err)
			}
			if one.Text, err = letter.Fill(one.Words.Text, values); err != nil {
				return nil, nil, work.Wrongf("in the text, %v; nothing was sent", err)
			}
			out = append(out, one)
		}
	}
	return out, nobody, nil
}

// WriteToMany writes to students or their homes: by e-mail through the outbox, and to print where no address is
// on file. Each letter is kept on its student's record. The receipt names the letters that are to be printed.
func WriteToMany(ctx context.Context, o *work.Office, p work.Person, key string, t ToMany) (work.Receipt, error) {
	var out work.Receipt
	t.Subject, t.Text = strings.TrimSpace(t.Subject), strings.TrimSpace(t.Text)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayWriteToMany, Kind: "letters sent", In: t, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		switch own := t.Subject != "" || t.Text != ""; {
		case t.Letter != 0 && own:
			return work.Wrongf("a letter of the school’s has its own words; nothing was sent")
		case t.Letter == 0 && (t.Subject == "" || t.Text == ""):
			return work.Wrongf("a letter needs a subject and a text; nothing was sent")
		}
		letters, nobody, err := t.WriteOut(ctx, v, tx.Moment(), p)
		if err != nil {
			return err
		}
		if len(letters) == 0 {
			return work.Conflictf("nobody is on file to whom it could go; nothing was sent")
		}
		var paper []store.Letter
		mailed := 0
		for _, l := range letters {
			row := store.Letter{StudentID: l.Student.ID, Date: tx.Now.Date(), Recipient: l.Recipient.Lines(), Subject: l.Subject, Text: l.Text, Origin: tx.Origin()}
			if t.Letter != 0 {
				row.TextID = &l.Words.ID
			}
			if !t.ByEMail(l) {
				paper = append(paper, row)
				continue
			}
			mailed++
			row.Recipient = work.Join("\n", l.Recipient.Names, l.Recipient.EMail)
			if err := mail(ctx, tx, l.Student.ID, l.Filled); err != nil {
				return err
			}
			if _, err := store.AddLetter(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		slices.SortStableFunc(paper, func(a, b store.Letter) int { return cmp.Compare(sorted(a.Recipient), sorted(b.Recipient)) })
		var made []ids.Letter
		for _, row := range paper {
			id, err := store.AddLetter(ctx, tx.Tx, row)
			if err != nil {
				return err
			}
			made = append(made, id)
		}
		words := work.Join(", ", some(mailed, "on the way by e-mail"), some(len(made), "to print"))
		if len(nobody) > 0 {
			words += fmt.Sprintf("; nobody is on file for %d", len(nobody))
		}
		out = work.ReceiptOf(tx, strings.ToUpper(words[:1])+words[1:], made...)
		return nil
	})
	return out, err
}

func some(n int, what string) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprintf("%d %s", n, what)
}

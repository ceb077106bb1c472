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
	Subject  string        `json:"subject" maxLength:"200"`
	Text     string        `json:"text" maxLength:"10000" doc:"Plain text with fields in braces that do not depend on a step"`
}

// Written is one of the letters, as it would go.
type Written struct {
	Student store.Student
	Filled
}

// ByEMail reports whether it goes by e-mail.
func (t ToMany) ByEMail(w Written) bool { return !t.Paper && w.Recipient.EMail != "" }

// WriteOut fills the letters in the order of the students. Nobody is those for whom nobody is on file.
func (t ToMany) WriteOut(v work.Snapshot, m work.Moment, by work.Person) (out []Written, nobody []store.Student, err error) {
	for _, words := range []string{t.Subject, t.Text} {
		if err := letter.CheckPlain(words); err != nil {
			return nil, nil, work.Wrongf("%v; nothing was sent", err)
		}
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
			one := Written{s, Filled{Recipient: r}}
			if one.Subject, err = letter.Fill(t.Subject, values); err != nil {
				return nil, nil, work.Wrongf("in the subject, %v; nothing was sent", err)
			}
			if one.Text, err = letter.Fill(t.Text, values); err != nil {
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
		if t.Subject == "" || t.Text == "" {
			return work.Wrongf("a letter needs a subject and a text; nothing was sent")
		}
		letters, nobody, err := t.WriteOut(v, tx.Moment(), p)
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

package steps

import (
	"context"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// SendStatement sends what a student missed to the student's home by e-mail, one to each address, and
// keeps it among the student's letters; where one home has no e-mail address, none goes. The words are
// written from the school as it is when they are sent.
func SendStatement(ctx context.Context, o *work.Office, p work.Person, key string, student ids.Student, in any, write func(work.Snapshot, work.Moment) (subject, text string, err error)) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySendStatement, Kind: "statement sent", In: in, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		st, err := v.Student(student)
		if err != nil {
			return err
		}
		if err := v.MaySee(p, student); err != nil {
			return err
		}
		to := RecipientsOf(v, student)
		if len(to) == 0 {
			return work.Conflictf("%s: nobody is on file to whom a letter may go", st.Name())
		}
		subject, text, err := write(v, tx.Moment())
		if err != nil {
			return err
		}
		var made []ids.Letter
		names := ""
		for _, r := range to {
			if err := r.posted(st); err != nil {
				return err
			}
			if err := mail(ctx, tx, student, Filled{Recipient: r, Subject: subject, Text: text}); err != nil {
				return err
			}
			row := store.Letter{StudentID: student, Date: tx.Now.Date(), Recipient: work.Join("\n", r.Names, r.EMail), Subject: subject, Text: text, Origin: tx.Origin()}
			id, err := store.AddLetter(ctx, tx.Tx, row)
			if err != nil {
				return err
			}
			made, names = append(made, id), work.Join("; ", names, r.Names)
		}
		out = work.ReceiptOf(tx, "Statement of "+st.Name()+" on the way by e-mail to "+names, made...)
		return nil
	})
	return out, err
}

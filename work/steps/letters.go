package steps

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/letter"
	"meldung/core/policy"
	"meldung/core/steps"
	"meldung/store"
	"meldung/work"
)

// Letter is a wording of one of the school's letters.
type Letter struct {
	ID       ids.Template `json:"id,omitempty" doc:"0 for a new letter"`
	Name     string       `json:"name" minLength:"1" maxLength:"60"`
	Language string       `json:"language,omitempty" maxLength:"40" doc:"Empty for the school's own"`
	Subject  string       `json:"subject" maxLength:"200"`
	Text     string       `json:"text" maxLength:"10000" doc:"Plain text with fields in braces; an empty line begins a paragraph"`
	Seen     int          `json:"seen,omitempty" doc:"The version that was open when this one was written; a newer one stops the write"`
	Retired  bool         `json:"retired,omitempty" doc:"Offered no more; what was printed with it stays"`
}

// check says what is wrong with a wording.
func (l Letter) check() error {
	switch {
	case strings.TrimSpace(l.Subject) == "":
		return work.Wrongf("a letter needs a subject; nothing was saved")
	case strings.TrimSpace(l.Text) == "":
		return work.Wrongf("the letter says nothing; nothing was saved")
	}
	if err := letter.Check(l.Subject); err != nil {
		return work.Wrongf("in the subject, %v; nothing was saved", err)
	}
	if err := letter.Check(l.Text); err != nil {
		return work.Wrongf("in the text, %v; nothing was saved", err)
	}
	return nil
}

// SetLetter stores a letter, or another wording of one; the wordings before it are kept.
func SetLetter(ctx context.Context, o *work.Office, p work.Person, key string, l Letter) (work.Receipt, error) {
	var out work.Receipt
	l.Name, l.Language = strings.TrimSpace(l.Name), strings.TrimSpace(l.Language)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetLetter, Kind: "letter", In: l, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		if err := l.check(); err != nil {
			return err
		}
		templates, err := store.LetterTemplates(ctx, tx.Tx)
		if err != nil {
			return err
		}
		if slices.ContainsFunc(templates, func(t store.LetterTemplate) bool { return t.Name == l.Name && t.ID != l.ID }) {
			return work.Conflictf("there is a letter called %q already; nothing was saved", l.Name)
		}
		row := store.LetterTemplate{ID: l.ID, Name: l.Name, Retired: l.Retired, Journal: tx.Entry}
		if l.ID == 0 {
			if row.ID, err = store.AddLetterTemplate(ctx, tx.Tx, row); err != nil {
				return err
			}
		} else {
			if !slices.ContainsFunc(templates, func(t store.LetterTemplate) bool { return t.ID == l.ID }) {
				return work.NotFoundf("there is no such letter; nothing was saved")
			}
			if err := store.SetLetterTemplate(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		texts, err := store.LetterTexts(ctx, tx.Tx)
		if err != nil {
			return err
		}
		next := store.LetterText{TemplateID: row.ID, Language: l.Language, Subject: strings.TrimSpace(l.Subject), Text: strings.TrimSpace(l.Text), Origin: tx.Origin()}
		was, ok := newest(texts, row.ID, l.Language)
		if l.Seen != 0 && was.Version != l.Seen {
			return work.Conflictf("%s saved version %d of it meanwhile; yours was not saved. Copy your text, load the page again, and bring the two together", was.By, was.Version)
		}
		if !ok || was.Subject != next.Subject || was.Text != next.Text {
			if _, err := store.AddLetterText(ctx, tx.Tx, next); err != nil {
				return err
			}
		}
		out = work.ReceiptOf(tx, l.Name+" saved", row.ID)
		return nil
	})
	return out, err
}

// newest returns the wording of a letter that holds in a language.
func newest(texts []store.LetterText, of ids.Template, language string) (t store.LetterText, ok bool) {
	for _, x := range texts {
		if x.TemplateID == of && x.Language == language {
			t, ok = x, true
		}
	}
	return t, ok
}

// Recipient is whom a letter goes to: those who live together.
type Recipient struct {
	Names    string
	Address  string // lines; empty where none is on file
	Language string
	EMail    string       // of the first of them who has one
	Contact  *ids.Contact // whose that is
}

// Lines are the lines of an address, names first.
func (r Recipient) Lines() string { return work.Join("\n", r.Names, r.Address) }

// RecipientsOf returns whom a letter about a student goes to: those whom the student lives with, or
// else the first in the call order, one letter for each address. Whoever must not be called gets none.
func RecipientsOf(v work.Snapshot, student ids.Student) []Recipient {
	type home struct {
		address, language string
		people            []store.Contact
	}
	ties := slices.DeleteFunc(slices.Clone(v.School.TiesOf(student)), func(t store.StudentContact) bool { return t.DoNotCall })
	slices.SortStableFunc(ties, func(a, b store.StudentContact) int { return cmp.Compare(a.CallOrder, b.CallOrder) })
	if lives := slices.DeleteFunc(slices.Clone(ties), func(t store.StudentContact) bool { return !t.LivesWith }); len(lives) > 0 {
		ties = lives
	} else if len(ties) > 1 {
		ties = ties[:1]
	}
	var homes []home
	for _, t := range ties {
		c := v.School.ContactOf(t.ContactID)
		// Who lives with the student and has no address of their own lives at the others'.
		i := slices.IndexFunc(homes, func(h home) bool { return h.address == c.Address || h.address == "" || c.Address == "" })
		if i < 0 {
			homes = append(homes, home{c.Address, c.Language, []store.Contact{c}})
			continue
		}
		homes[i].people = append(homes[i].people, c)
		homes[i].address, homes[i].language = cmp.Or(homes[i].address, c.Address), cmp.Or(homes[i].language, c.Language)
	}
	var out []Recipient
	for _, h := range homes {
		one := Recipient{Names: namesOf(h.people), Address: h.address, Language: h.language}
		for _, c := range h.people {
			if one.EMail == "" && c.Email != "" {
				one.EMail, one.Contact = c.Email, &c.ID
			}
		}
		out = append(out, one)
	}
	return out
}

// namesOf says who lives together: "Marta and Leon Wake", "Marta Wake and Leon Thorne".
func namesOf(people []store.Contact) string {
	var given []string
	same := true
	for _, c := range people {
		given = append(given, c.Given)
		same = same && c.Family == people[0].Family && c.Given != ""
	}
	if same && len(people) > 1 {
		return strings.Join(given[:len(given)-1], ", ") + " and " + given[len(given)-1] + " " + people[0].Family
	}
	var names []string
	for _, c := range people {
		names = append(names, strings.TrimSpace(c.Name()))
	}
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

// plainValues are what the fields of any letter stand for.
func plainValues(s work.Section, m work.Moment, by work.Person, st store.Student, to Recipient) map[string]string {
	return map[string]string{
		"addressees": to.Names, "student": st.Name(), "given name": st.Given, "form": s.School.Form(st.ID, m.Date), "number": st.Number,
		"school": s.Settings.Name, "phone": strings.ReplaceAll(s.Settings.Steps.Phone, " ", "\u00a0"), "date": m.Date.Time().Format("Monday 2 January 2006"), "sender": by.Name,
	}
}

// values are what the fields of a letter about a step stand for. A part-time student's time is that
// of the own timetable, whatever the policy charges: no letter quotes hours the school never saw.
func (i Item) values(s work.Section, m work.Moment, by work.Person, to Recipient) map[string]string {
	place, last := s.Place(i.Student.ID), s.Calendar.EndedBy(m.Date, m.Minute)
	span := s.Ledger.YearTo(m.Date)
	span.To = last
	f, p := i.Measure.Student(place, span), i.Measure.Policy()
	count, dates := i.Counted(s)
	partTime := s.School.ScheduleOf(i.Student.ID, m.Date) != nil || i.Student.ShareHere != "1"
	out := plainValues(s, m, by, i.Student, to)
	maps.Copy(out, map[string]string{
		"count": count, "dates": day.ListDates(dates),
		"missed": fmt.Sprintf("%d of %d %ss", f.Absent, f.Possible, p.Unit), "time missed": day.Duration(f.MissedMinutes), "time charged": day.Duration(f.ChargedMinutes), "lates": fmt.Sprint(f.Lates),
	})
	if p.Unit == policy.Minutes {
		out["missed"] = day.Duration(f.Absent) + " of " + day.Duration(f.Possible)
	}
	if f.Possible > 0 {
		out["share"] = f.Rate() + " %"
	}
	if partTime {
		out["time charged"], out["timetable"] = out["time missed"], "of "+i.Student.Given+"’s own timetable"
	}
	if t := i.Trigger(); t != nil {
		out["reach"], out["window"] = t.Count.Of(t.Reach), t.Window.Words()
		if partTime && t.Count == policy.CountMinutes {
			out["count"] = day.Duration(seen(i, s, place, dates))
		}
	} else {
		out["reach"], out["class"], out["window"] = policy.CountLates.Of(i.Rule().Number), i.Rule().Scope, i.period()
	}
	return out
}

// seen adds up the minutes of the own timetable that were missed on some days.
func seen(i Item, s work.Section, place int, dates []day.Date) int {
	minutes := 0
	for _, d := range dates {
		minutes += i.Measure.Bases(place, s.Ledger.Between(d, d)).Scheduled
	}
	return minutes
}

func (i Item) period() string {
	if i.Cause == nil || i.Cause.Late.Period == "year" {
		return "in the year"
	}
	return "in " + i.Cause.Late.Period
}

// Filled is a letter as it would be printed.
type Filled struct {
	Recipient Recipient
	Subject   string
	Text      string
	Words     store.LetterText
}

// fill fills a wording for a step.
func (i Item) fill(s work.Section, m work.Moment, by work.Person, to Recipient, words store.LetterText) (Filled, error) {
	values := i.values(s, m, by, to)
	subject, err := letter.Fill(words.Subject, values)
	if err != nil {
		return Filled{}, work.Wrongf("in the subject, %v", err)
	}
	text, err := letter.Fill(words.Text, values)
	if err != nil {
		return Filled{}, work.Wrongf("in the text, %v", err)
	}
	return Filled{to, subject, text, words}, nil
}

// Compose returns the letters that a step asks for, one for each address, each in the language of
// the home where the letter has it.
func Compose(s work.Section, m work.Moment, by work.Person, i Item, texts []store.LetterText) ([]Filled, error) {
	if i.Action.Kind != "letter" {
		return nil, work.Conflictf("%s: that asks for no letter", i.Student.Name())
	}
	own, ok := newest(texts, i.Action.Letter, "")
	if i.Action.Letter == 0 || !ok {
		return nil, work.Conflictf("no letter is chosen yet for %q: choose it under School, Letters", i.Action.Name)
	}
	to := RecipientsOf(s.Snapshot, i.Student.ID)
	if len(to) == 0 {
		return nil, work.Conflictf("%s: nobody is on file to whom a letter may go", i.Student.Name())
	}
	var out []Filled
	for _, r := range to {
		words := own
		if r.Language != "" {
			if x, ok := newest(texts, i.Action.Letter, r.Language); ok {
				words = x
			}
		}
		one, err := i.fill(s, m, by, r, words)
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, nil
}

// Printing is which steps are answered with a letter.
type Printing struct {
	Steps []Ref `json:"steps" minItems:"1" maxItems:"500"`
	EMail bool  `json:"email,omitempty" doc:"They go out as e-mails and are not printed"`
}

// Print writes the letters that steps ask for, by the figures as they stand now, and says of each
// step that it is done. Where one of them does not hold any more, none is written. They are in the
// order of their addresses, as envelopes are sorted. As e-mails they go to one address of each home, and
// none goes where one home has none; what has left can't be taken back.
func Print(ctx context.Context, o *work.Office, p work.Person, key string, a Printing) (work.Receipt, error) {
	var out work.Receipt
	kind := map[bool]string{false: "letters", true: "letters sent"}[a.EMail]
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayPrintLetter, Kind: kind, In: a, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		found, err := find(ctx, tx, v, p, a.Steps)
		if err != nil {
			return err
		}
		texts, err := store.LetterTexts(ctx, tx.Tx)
		if err != nil {
			return err
		}
		composed := make([][]Filled, len(found))
		var cannot []string
		for n, item := range found {
			err := item.allows(steps.Done)
			if err == nil {
				composed[n], err = Compose(v.Of(item.Student.ID), tx.Moment(), p, item, texts)
			}
			if err == nil && a.EMail {
				err = posted(item, composed[n])
			}
			if err != nil {
				cannot = append(cannot, err.Error())
			}
		}
		if len(cannot) > 0 {
			return work.Conflictf("%s. No letter was written: take the tick off there, or put that right", strings.Join(cannot, "; "))
		}
		var rows []store.Letter
		for n, item := range found {
			letters := composed[n]
			step, err := item.keep(ctx, tx, store.StepAct{Kind: string(steps.Done), Text: map[bool]string{false: "letter printed", true: "letter sent by e-mail"}[a.EMail], Origin: tx.Origin()})
			if err != nil {
				return err
			}
			for _, l := range letters {
				to := l.Recipient.Lines()
				if a.EMail {
					to = work.Join("\n", l.Recipient.Names, l.Recipient.EMail)
					if err := mail(ctx, tx, item.Student.ID, l); err != nil {
						return err
					}
				}
				rows = append(rows, store.Letter{StudentID: item.Student.ID, StepID: &step, TextID: &l.Words.ID, Date: tx.Now.Date(), Recipient: to, Subject: l.Subject, Text: l.Text, Origin: tx.Origin()})
			}
		}
		slices.SortStableFunc(rows, func(a, b store.Letter) int { return cmp.Compare(sorted(a.Recipient), sorted(b.Recipient)) })
		var made []ids.Letter
		for _, row := range rows {
			id, err := store.AddLetter(ctx, tx.Tx, row)
			if err != nil {
				return err
			}
			made = append(made, id)
		}
		words := fmt.Sprintf("%d letters written", len(made))
		if len(made) == 1 {
			words = found[0].Student.Name() + ": letter written"
		}
		if a.EMail {
			words = strings.Replace(words, "written", "on the way by e-mail", 1)
		}
		out = work.ReceiptOf(tx, words, made...)
		return nil
	})
	return out, err
}

// posted refuses to send letters to a home without an e-mail address.
func posted(item Item, letters []Filled) error {
	for _, l := range letters {
		if err := l.Recipient.posted(item.Student); err != nil {
			return err
		}
	}
	return nil
}

func (r Recipient) posted(about store.Student) error {
	if r.EMail == "" {
		return work.Conflictf("%s: no e-mail address of %s is on file", about.Name(), r.Names)
	}
	return nil
}

// mail puts a letter into the outbox: its subject is the first line of what the e-mail says.
func mail(ctx context.Context, tx *work.Tx, student ids.Student, l Filled) error {
	_, err := tx.AddMessage(ctx, store.Message{Kind: work.AsLetter, Channel: work.ByEMail, ContactID: l.Recipient.Contact, Students: []ids.Student{student},
		Address: l.Recipient.EMail, Text: l.Subject + "\n\n" + l.Text})
	return err
}

// sorted turns an address round: place, street, name.
func sorted(recipient string) string {
	lines := strings.Split(recipient, "\n")
	slices.Reverse(lines)
	return strings.Join(lines, "\n")
}

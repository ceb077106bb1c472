package stepspage

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/letter"
	"meldung/files/paper"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/steps"
)

// FieldView is something that a letter can name.
type FieldView struct {
	Name  string `json:"name"`
	About string `json:"about"`
}

// WordingView is a letter's wording in a language, as it holds.
type WordingView struct {
	Language string `json:"language" doc:"Empty for the school's own"`
	Version  int    `json:"version"`
	Subject  string `json:"subject"`
	Text     string `json:"text"`
	By       string `json:"by" doc:"Who wrote it and when"`
}

// TemplateView is one of the school's letters.
type TemplateView struct {
	ID       ids.Template  `json:"id"`
	Name     string        `json:"name"`
	Retired  bool          `json:"retired"`
	Used     string        `json:"used" doc:"The actions that ask for it, by name; empty for none"`
	Wordings []WordingView `json:"wordings"`
}

// LettersView is the school's letters, for writing them.
type LettersView struct {
	Letters []TemplateView `json:"letters"`
	Fields  []FieldView    `json:"fields"`
	Example WordingView    `json:"example" doc:"To begin a new letter with"`
}

// example is what a new letter begins with.
var example = WordingView{Subject: "{given name} has missed {count}", Text: `Dear {addressees},

Since the beginning of the school year {given name} ({form}) has been absent on {missed}. We have no reason for {count}: {dates}.

In all {given name} has missed {time missed} of lessons {timetable}.

Please call {sender} on {phone}, so that we can agree what would help.

{sender}
{school}`}

// ShowLetters lists the school's letters.
func ShowLetters(ctx context.Context, o *work.Office) (LettersView, error) {
	out := LettersView{Letters: []TemplateView{}, Fields: []FieldView{}, Example: example}
	for _, f := range letter.Fields {
		out.Fields = append(out.Fields, FieldView{f.Name, f.About})
	}
	err := o.Read(ctx, func(v work.Snapshot) error {
		templates, err := store.LetterTemplates(ctx, v.Store())
		if err != nil {
			return err
		}
		texts, err := store.LetterTexts(ctx, v.Store())
		if err != nil {
			return err
		}
		for _, t := range templates {
			one := TemplateView{ID: t.ID, Name: t.Name, Retired: t.Retired, Wordings: []WordingView{}}
			for _, x := range texts {
				if x.TemplateID != t.ID {
					continue
				}
				w := WordingView{x.Language, x.Version, x.Subject, x.Text, strings.TrimSpace(x.By + " " + x.Known.Date().Spoken())}
				if n := len(one.Wordings); n > 0 && one.Wordings[n-1].Language == x.Language {
					one.Wordings[n-1] = w
				} else {
					one.Wordings = append(one.Wordings, w)
				}
			}
			var used []string
			for _, s := range v.Sections() {
				for _, a := range s.Settings.Steps.All() {
					if a.Letter == t.ID && !slices.Contains(used, a.Name) {
						used = append(used, a.Name)
					}
				}
			}
			one.Used = strings.Join(used, ", ")
			out.Letters = append(out.Letters, one)
		}
		return nil
	})
	return out, err
}

// LetterView is a letter as it would be printed.
type LetterView struct {
	Student    pages.StudentRef `json:"student"`
	Sender     []string         `json:"sender" doc:"The school's address, its name first"`
	Recipient  []string         `json:"recipient" doc:"Lines of the address, names first"`
	NoAddress  bool             `json:"noAddress" doc:"There is no address on file: it can't be posted"`
	Date       string           `json:"date"`
	Subject    string           `json:"subject"`
	Paragraphs []string         `json:"paragraphs"`
	Language   string           `json:"language" doc:"Empty for the school's own"`
	Version    int              `json:"version" doc:"0 for one that is not saved"`
	Letter     string           `json:"letter" doc:"The letter's name"`
}

// Preview shows the letters that a step asks for, by the figures as they stand now.
func Preview(ctx context.Context, o *work.Office, p work.Person, ref steps.Ref) ([]LetterView, error) {
	out := []LetterView{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		s, item, err := itemOf(ctx, v, ref)
		if err != nil {
			return err
		}
		texts, err := store.LetterTexts(ctx, v.Store())
		if err != nil {
			return err
		}
		filled, err := steps.Compose(s, v.Moment(), p, item, texts)
		if err != nil {
			return err
		}
		templates, err := store.LetterTemplates(ctx, v.Store())
		if err != nil {
			return err
		}
		for _, f := range filled {
			one := view(s, item, f)
			for _, t := range templates {
				if t.ID == f.Words.TemplateID {
					one.Letter = t.Name
				}
			}
			out = append(out, one)
		}
		return nil
	})
	return out, err
}

func itemOf(ctx context.Context, v work.Snapshot, ref steps.Ref) (work.Section, steps.Item, error) {
	st, err := v.Student(ref.Student)
	if err != nil {
		return work.Section{}, steps.Item{}, err
	}
	s := v.Of(st.ID)
	items, err := steps.Of(ctx, s, v.Moment(), []store.Student{st})
	if err != nil {
		return s, steps.Item{}, err
	}
	for _, i := range items {
		if steps.RefOf(i) == ref {
			return s, i, nil
		}
	}
	return s, steps.Item{}, work.NotFoundf("%s: that is not due any more", st.Name())
}

func view(s work.Section, i steps.Item, f steps.Filled) LetterView {
	return LetterView{Student: pages.Student(s.Snapshot, i.Student, s.Now.Date()), Sender: sender(s), Recipient: strings.Split(f.Recipient.Lines(), "\n"), NoAddress: f.Recipient.Address == "",
		Date: s.Now.Date().Time().Format("Monday 2 January 2006"), Subject: f.Subject, Paragraphs: letter.Paragraphs(f.Text), Language: f.Words.Language, Version: f.Words.Version}
}

// sender is the school's address as it stands on letters.
func sender(s work.Section) []string {
	lines := []string{s.Settings.Name}
	for line := range strings.SplitSeq(s.Settings.Steps.Address, "\n") {
		if line = strings.TrimSpace(line); line != "" && line != s.Settings.Name {
			lines = append(lines, line)
		}
	}
	return lines
}

// Trial is a wording to be tried before it is saved.
type Trial struct {
	Subject string      `json:"subject" maxLength:"200"`
	Text    string      `json:"text" maxLength:"10000"`
	Student ids.Student `json:"student,omitempty" doc:"For whose step; 0 for the first that asks for a letter"`
}

// Try fills a wording with a real student's step.
func Try(ctx context.Context, o *work.Office, p work.Person, t Trial) ([]LetterView, error) {
	out := []LetterView{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.Sections() {
			if s.Ledger == nil {
				continue
			}
			students := steps.Students(s)
			if t.Student != 0 {
				students = slices.DeleteFunc(students, func(st store.Student) bool { return st.ID != t.Student })
			}
			items, err := steps.Of(ctx, s, v.Moment(), students)
			if err != nil {
				return err
			}
			i := slices.IndexFunc(items, func(i steps.Item) bool { return i.Cause != nil && i.Action.Kind == "letter" })
			if i < 0 {
				continue
			}
			items[i].Action.Letter = -1
			filled, err := steps.Compose(s, v.Moment(), p, items[i], []store.LetterText{{TemplateID: -1, Subject: t.Subject, Text: t.Text}})
			if err != nil {
				return err
			}
			for _, f := range filled {
				out = append(out, view(s, items[i], f))
			}
			return nil
		}
		return work.Conflictf("nobody has a step that asks for a letter: follow a policy first, under School, Policies")
	})
	return out, err
}

// LetterSheets sets letters that were printed, as they were then, in the order of their addresses.
func LetterSheets(ctx context.Context, o *work.Office, of []ids.Letter) (pages.File, error) {
	var out pages.File
	err := o.Read(ctx, func(v work.Snapshot) error {
		rows, err := store.Letters(ctx, v.Store(), of)
		if err != nil {
			return err
		}
		if len(rows) != len(of) {
			return work.NotFoundf("there is no such letter")
		}
		var letters []paper.Letter
		for _, r := range rows {
			st := v.School.StudentOf(r.StudentID)
			if r.Text == "" {
				return work.NotFoundf("what that letter said is erased")
			}
			letters = append(letters, paper.Letter{Sender: sender(v.Of(r.StudentID)), Recipient: strings.Split(r.Recipient, "\n"), Date: r.Date.Time().Format("Monday 2 January 2006"),
				Subject: r.Subject, Paragraphs: letter.Paragraphs(r.Text), Foot: work.Join(" · ", st.Number, "letter "+r.Date.String())})
		}
		name := "letters-" + rows[0].Date.String()
		if len(rows) == 1 {
			name = "letter-" + pages.Slug(v.School.StudentOf(rows[0].StudentID).Name()) + "-" + rows[0].Date.String()
		}
		content, err := paper.LettersPDF(cmp.Or(rows[0].Subject, name), letters)
		out = pages.File{Name: name + ".pdf", Type: pages.PDF, Content: content}
		return err
	})
	return out, err
}

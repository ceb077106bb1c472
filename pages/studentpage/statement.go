package studentpage

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/paper"
	"meldung/pages"
	"meldung/work"
	"meldung/work/steps"
)

// StatementAsk is what a statement shows of a student.
type StatementAsk struct {
	pages.AbsenceAsk
	Without []string // codes that are left out of the days, though never of the sums
}

// Statement sets what a student missed, day by day, by a policy: the slots with their codes and what
// these mean, and what it comes to.
func Statement(ctx context.Context, o *work.Office, p work.Person, student ids.Student, asAt string, ask StatementAsk) (pages.File, error) {
	var out pages.File
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		st, span, err := stated(v, p, student, m, ask)
		if err != nil {
			return err
		}
		content, err := st.PDF()
		out = pages.File{Name: "statement-" + pages.Slug(st.Name) + "-" + span.Last + ".pdf", Type: pages.PDF, Content: content}
		return err
	})
	return out, err
}

// StatementSending is what is sent of what a student missed.
type StatementSending struct {
	Policy  string   `json:"policy,omitempty" maxLength:"60"`
	From    string   `json:"from,omitempty" maxLength:"10" doc:"YYYY-MM-DD; empty for the beginning of the school year"`
	To      string   `json:"to,omitempty" maxLength:"10"`
	Without []string `json:"without,omitempty" maxItems:"40" doc:"Codes that are left out of the days"`
}

// SendStatement sends a statement to the student's home by e-mail, in the words of the printed one.
func SendStatement(ctx context.Context, o *work.Office, p work.Person, key string, student ids.Student, in StatementSending) (work.Receipt, error) {
	return steps.SendStatement(ctx, o, p, key, student, in, func(v work.Snapshot, m work.Moment) (subject, text string, err error) {
		ask := StatementAsk{AbsenceAsk: pages.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To}, Without: in.Without}
		st, span, err := stated(v, p, student, m, ask)
		if err != nil {
			return "", "", err
		}
		return work.Join(", ", "What "+st.Name+" missed", span.Sentence), st.Text(), nil
	})
}

// stated measures what a statement says.
func stated(v work.Snapshot, p work.Person, student ids.Student, m work.Moment, ask StatementAsk) (paper.Statement, pages.Span, error) {
	section, measure, span, err := pages.MeasuredOf(v, p, student, m, ask.AbsenceAsk)
	if err != nil {
		return paper.Statement{}, span, err
	}
	s := v.School.StudentOf(student)
	st := statementOf(measure, section.Place(student), span.Span, ask.Without)
	st.Sender, st.Name = []string{section.Settings.Name}, s.Name()
	st.About = work.Join(" · ", v.School.Form(student, m.Date), s.Number, span.Sentence, "measured by "+measure.Policy().Title)
	st.Foot = "Stated " + m.Date.Spoken() + m.Date.Time().Format(" 2006") + ", " + p.Name + ". Holds data of a student: for whoever may have it."
	return st, span, nil
}

// statementOf lists the days of which anything was missed, oldest first, with a key and the sums.
func statementOf(measure *absence.Measure, place int, span absence.Span, without []string) paper.Statement {
	var out paper.Statement
	f := measure.Student(place, span)
	unit := measure.Policy().Unit
	count := func(n int) string {
		if unit == policy.Minutes {
			return day.Duration(n)
		}
		return fmt.Sprint(n)
	}
	of := unit.String() + "s"
	if unit == policy.Minutes {
		of = "of lessons"
	}
	out.Sums = []string{fmt.Sprintf("Missed %s of %s %s: %s excused, %s unexcused. %s of lessons in all. %d lates.", count(f.Absent), count(f.Possible), of, count(f.Excused), count(f.Unexcused), day.Duration(f.MissedMinutes), f.Lates)}
	if f.Possible > 0 {
		out.Sums[0] = strings.Replace(out.Sums[0], ": ", fmt.Sprintf(", %s %%: ", f.Rate()), 1)
	}
	left := 0
	words := map[string]string{}
	for _, e := range measure.Days(place, span) {
		var marks []string
		for _, k := range e.Marks {
			if k.Missed == 0 && !k.Code.Late {
				continue
			}
			if slices.Contains(without, k.Code.Code) {
				left++
				continue
			}
			words[k.Code.Code] = k.Code.Word
			one := k.Slot.Name + " " + k.Code.Code
			if k.Missed > 0 && k.Missed < k.Due {
				one += " " + day.Duration(k.Missed)
			}
			marks = append(marks, one)
		}
		if len(marks) == 0 {
			continue
		}
		counts := string(e.Verdict)
		if e.Verdict == absence.WasAttended {
			counts = "not a day"
		}
		if unit != policy.Day {
			counts = ""
		}
		out.Days = append(out.Days, paper.StatementDay{Date: e.Date.Spoken(), What: strings.Join(marks, ", "), Time: day.Duration(e.Missed), Counts: counts})
	}
	for code, word := range words {
		out.Key = append(out.Key, code+" "+word)
	}
	slices.Sort(out.Key)
	if left > 0 {
		out.Sums = append(out.Sums, fmt.Sprintf("Left out below: marks with %s. They are in the sums.", strings.Join(without, ", ")))
	}
	return out
}

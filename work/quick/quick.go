// Package quick does what is typed into the quick line: a name, what they do, and when.
package quick

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/quickline"
	"meldung/core/whereabouts"
	"meldung/store"
	"meldung/work"
)

// QuickLine is what stands in the quick line.
type QuickLine struct {
	Text   string        `json:"text" maxLength:"200"`
	Chosen []ids.Student `json:"chosen,omitempty" doc:"Students chosen from the list; empty lets the name decide"`
	work.Since
}

// Reading is what a line would do.
type Reading struct {
	Found    []work.Match    // who fits the name, the best first
	Chosen   []ids.Student   // whom it is about
	Siblings []store.Student // of the only one chosen
	Does     string          // in a sentence; empty for nothing
	Problem  string          // why it can't be done; empty for it can
	Asks     bool            // it names nobody, and can be a question
	Tells    string          // how long a time to a time is, and what it would change for who is chosen

	Movement *work.Movement // what is stored: this,
	Notice   *work.Notice   // or this, or nothing
}

// Read says what a line would do, without doing it. Students chosen from the list stand in
// for the name.
func Read(v work.Snapshot, x *work.Day, m work.Moment, p work.Person, line QuickLine) (Reading, error) {
	l := quickline.Parse(line.Text)
	out := Reading{Chosen: line.Chosen}
	if len(l.Name) > 0 || l.Span == nil {
		out.Found = v.Find(p, l.Name, m.Date)
	}
	if len(out.Chosen) == 0 {
		out.Chosen = meant(v, out.Found, l.All, m.Date)
	}
	if len(out.Chosen) == 1 {
		out.Siblings = v.School.Siblings(out.Chosen[0], m.Date)
		for _, s := range out.Siblings {
			if l.All {
				out.Chosen = append(out.Chosen, s.ID)
			}
		}
	}
	if l.Span != nil {
		out.Tells = l.Span.Words()
		if len(out.Chosen) > 0 && p.May(work.MaySeeWhy) {
			out.Tells += tell(v, m, *l.Span, out.Chosen[0])
		}
	}
	switch {
	case len(l.Name) > 0 && len(out.Found) == 0 && len(out.Chosen) == 0:
		out.Asks = l.Asks()
		out.Problem = fmt.Sprintf("nobody is called %q, and no contact or number fits", strings.Join(l.Name, " "))
	case l.Verb != quickline.None && len(out.Chosen) == 0 && len(out.Found) > 1:
		out.Problem = fmt.Sprintf("%d students fit: choose one with the arrows", len(out.Found))
	}
	if l.Verb == quickline.None || out.Problem != "" || len(out.Chosen) == 0 {
		return out, nil
	}
	if err := out.act(v, x, m, l); err != nil {
		out.Problem = err.Error()
		return out, nil
	}
	names := make([]string, len(out.Chosen))
	for i, id := range out.Chosen {
		s, err := v.Student(id)
		if err != nil {
			return out, err
		}
		names[i] = s.Name()
	}
	out.Does = strings.Join(names, " and ") + " " + out.Does
	return out, nil
}

// meant returns whom a name means: the only one who fits it, the one who fits it better
// than all others, or with all those who are of one home.
func meant(v work.Snapshot, found []work.Match, all bool, d day.Date) []ids.Student {
	switch {
	case len(found) == 0:
		return nil
	case len(found) == 1, found[0].Rank == 0, found[0].Rank < found[1].Rank && found[0].Rank < 3:
		return []ids.Student{found[0].Student.ID}
	case all && ofOneHome(v, found, d):
		out := make([]ids.Student, len(found))
		for i, f := range found {
			out[i] = f.Student.ID
		}
		return out
	default:
		return nil
	}
}

// ofOneHome reports whether all found are siblings of the first.
func ofOneHome(v work.Snapshot, found []work.Match, d day.Date) bool {
	first := found[0].Student.ID
	home := map[ids.Student]bool{first: true}
	for _, s := range v.School.Siblings(first, d) {
		home[s.ID] = true
	}
	for _, f := range found {
		if !home[f.Student.ID] {
			return false
		}
	}
	return true
}

// act reads what is to be stored.
func (r *Reading) act(v work.Snapshot, x *work.Day, m work.Moment, l quickline.Line) error {
	d, err := l.Details(m.Date)
	if err != nil {
		return work.Wrongf("%v", err)
	}
	if l.Verb.Door() {
		mv, err := movement(x, m, l.Verb, d, r.Chosen[0])
		r.Movement, r.Does = &mv, mv.Summary()
		return err
	}
	n := work.Notice{Span: whereabouts.Span{From: d.From, To: d.To, FromMinute: day.Latest(d.At, day.Midnight), ToMinute: day.EndOfDay, Reason: d.Reason}}
	if n.Reason == "" {
		n.Reason = string(l.Verb)
	}
	if !d.Until.IsZero() {
		n.ToMinute, n.Returns = d.Until, true
	}
	r.Notice, r.Does = &n, n.Summary(m.Date)
	if code := x.Of(r.Chosen[0]).Settings.Reason(n.Reason).Absent; code != "" {
		r.Does += " · code " + code
	}
	return n.Check()
}

func movement(x *work.Day, m work.Moment, verb quickline.Verb, d quickline.Details, first ids.Student) (work.Movement, error) {
	mv := work.Movement{Kind: work.Arrived, At: m.Minute, Reason: d.Reason}
	if !d.At.IsZero() {
		mv.At = d.At
	}
	switch {
	case d.From != m.Date || d.To != m.Date:
		return mv, work.Wrongf("%s is for today; a notice from home can be for another day", verb)
	case verb == quickline.Late && d.Minutes > 0:
		due, ok := x.FirstDue(first)
		if !ok {
			return mv, work.Wrongf("no slot today to be late for")
		}
		mv.At = due.Add(day.Minutes(d.Minutes))
	case d.Minutes > 0:
		return mv, work.Wrongf("%d is no time: type 925 for 09:25", d.Minutes)
	}
	if verb == quickline.Out {
		mv.Kind, mv.Returns = work.Departed, d.Until
	}
	return mv, mv.Check(m.Minute)
}

// Do does what a quick line says.
func Do(ctx context.Context, o *work.Office, p work.Person, key string, line QuickLine) (work.Receipt, error) {
	var out work.Receipt
	now, err := o.Moment("")
	if err != nil {
		return out, err
	}
	var r Reading
	err = o.ReadDay(ctx, now, func(v work.Snapshot, x *work.Day) error {
		r, err = Read(v, x, now, p, line)
		return err
	})
	switch {
	case err != nil:
		return out, err
	case r.Problem != "":
		return out, work.Wrongf("%s; nothing was saved", strings.TrimSuffix(r.Problem, "; nothing was saved"))
	case r.Movement != nil:
		err = o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayMove, Kind: "movement", In: line, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) (err error) {
			out, err = tx.MoveAll(ctx, v, x, r.Chosen, *r.Movement)
			return err
		})
	case r.Notice != nil:
		err = o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayNotify, Kind: "notice", In: line, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) (err error) {
			if err := line.Untold(ctx, tx, v, x, r.Chosen, r.Notice); err != nil {
				return err
			}
			out, err = tx.NotifyAll(ctx, v, r.Chosen, *r.Notice)
			return err
		})
	default:
		err = work.Wrongf("%q says nothing to do; after a name come in, out, late, ill or away", line.Text)
	}
	return out, err
}

// tell says what an unexcused absence from one time to another today would change for a student, by
// the usual policy.
func tell(v work.Snapshot, m work.Moment, span quickline.Stretch, student ids.Student) string {
	s := v.Of(student)
	_, d, open := s.SchoolDay(m.Date)
	place := s.Place(student)
	code, known := s.Codes.Always(policy.UseUnexcused)
	measure, err := s.Measure(work.UsualPolicy)
	if err != nil || !open || place < 0 || !known {
		return ""
	}
	n, _ := s.Codes.Index(code.Code)
	x := measure.Instead(place, d, n, span.From, span.To)
	name := v.School.StudentOf(student).Given
	if len(x.Slots) == 0 {
		return ". " + name + " has no lesson then"
	}
	out := fmt.Sprintf(". %s would miss %s of %s", name, day.Duration(x.Minutes), strings.Join(x.Slots, ", "))
	if x.After.Absent == x.Before.Absent {
		return out + fmt.Sprintf(": no day more, %d of %d", x.After.Absent, x.After.Possible)
	}
	return out + fmt.Sprintf(": %d days of %d instead of %d, %s %%", x.After.Absent, x.After.Possible, x.Before.Absent, x.After.Rate())
}

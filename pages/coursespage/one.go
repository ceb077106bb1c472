package coursespage

import (
	"context"
	"fmt"
	"math/big"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/results"
	"meldung/work"
	"meldung/work/coursework"
)

// One shows all of a student's results that a person may see: the grades over the quarters, how each
// credit stands, and where the mean goes.
func One(ctx context.Context, o *work.Office, p work.Person, asAt string, student ids.Student) (OneView, error) {
	out := OneView{Periods: []string{}, Courses: []OneCourse{}, Means: []OneMean{}, Pieces: []PieceView{}, Own: p.Role == work.Teacher}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		if err := v.MaySee(p, student); err != nil {
			return err
		}
		if out.Pieces, err = pieces(ctx, v, p, student, m.Date); err != nil {
			return err
		}
		l, any, err := open(ctx, v, p, m, Ask{Group: fmt.Sprintf("student:%d", student)})
		if err != nil || !any {
			return err
		}
		l.one(l.place(student), &out)
		return nil
	})
	return out, err
}

// pieces are a student's pieces of work; of a teacher's own classes alone.
func pieces(ctx context.Context, v work.Snapshot, p work.Person, student ids.Student, d day.Date) ([]PieceView, error) {
	list, err := coursework.Pieces(ctx, v, student, d)
	out := []PieceView{}
	present := v.School.Records().On(v.Now.Date())
	for _, x := range list {
		class, ok := v.School.Class(x.Item.ClassID)
		if !ok || p.Role == work.Teacher && !present.Teaches(p.Staff, class.ID) {
			continue
		}
		one := PieceView{Title: x.Item.Title, Class: class.Title, Category: x.Item.Category, State: string(x.State)}
		if x.Item.Due != nil {
			one.Due = x.Item.Due.Spoken()
		}
		if x.Score != nil {
			one.Comment = x.Score.Comment
			if x.Score.Score != "" {
				one.Points = x.Score.Score
				if x.Item.Most != "" {
					one.Points += " of " + x.Item.Most
				}
			}
		}
		if x.Share != nil {
			one.Share = x.Share.Percent() + " %"
		}
		out = append(out, one)
	}
	return out, err
}

func (l *look) one(i int, out *OneView) {
	sums := l.Sum(i, l.at)
	if len(sums.Standings) == 0 {
		return
	}
	out.Any = true
	first := sums.Standings[0].Record.Half.Quarter(0)
	most := l.Rule.Scale[0].Points
	for q := first; q <= l.at; q++ {
		out.Periods = append(out.Periods, l.Periods[q].Name)
		mean := OneMean{}
		if x, ok := l.Mean(i, q); ok {
			mean.Mean = x.Rat().FloatString(2)
			if most.Sign() > 0 {
				mean.Share, _ = new(big.Rat).Quo(x.Rat(), most.Rat()).Float64()
			}
			if before, had := l.Mean(i, max(q-1, 0)); q == l.at && q > first && had {
				change := x.Minus(before)
				out.Change = strings.Replace(change.Rat().FloatString(2), "-", "−", 1)
				if change.Sign() >= 0 {
					out.Change = "+" + out.Change
				}
			}
		}
		out.Means = append(out.Means, mean)
	}
	at := map[int]int{}
	for _, st := range sums.Standings {
		c := st.Record.Course
		n, known := at[c]
		if !known {
			n = len(out.Courses)
			at[c] = n
			out.Courses = append(out.Courses, OneCourse{Title: l.titles[c], Grades: make([]OneMark, len(out.Periods)), Halves: []OneHalf{}})
		}
		course := &out.Courses[n]
		for part, mark := range st.Parts[:2] {
			if mark.Given() {
				g := l.Rule.Scale[mark.Place]
				course.Grades[st.Record.Half.Quarter(part)-first] = OneMark{Grade: mark.Written, Failing: g.Failing, Nearly: g.Nearly}
			}
		}
		words := l.stands(st)
		switch {
		case st.State == results.Earned:
			words = results.Decimal(st.Value) + " points"
		case st.State == results.Open && st.Needed == len(l.Rule.Scale)-1:
			words = "" // any grade will do
		}
		course.Halves = append(course.Halves, OneHalf{Half: l.half(st), State: string(st.State), Exam: st.Parts[results.Examination].Written, Words: words})
	}
	if out.Own {
		return // what follows needs every course
	}
	out.Earned, out.Expected, out.Behind = decimal(&sums.Earned), decimal(sums.Expected), decimal(sums.Behind)
	out.Track = trackWords(sums.Track())
	if l.Students[i].Year == ninthYear {
		out.Ninth = ninthWords(l.NinthYear(i, l.at))
	}
}

// ninthWords says how a student stands by the ninth-year rule.
func ninthWords(n results.Ninth) string {
	if n.Needed.Sign() == 0 {
		return "no half-year of the year is over yet"
	}
	earned, _ := n.Earned.Decimal()
	needed, _ := n.Needed.Decimal()
	verdict := map[bool]string{true: "on track", false: "not on track"}[n.OnTrack]
	return fmt.Sprintf("%s: %s of %s credits of this year by now, %d of the core courses' half-years failed (one at most)", verdict, earned, needed, n.Failed)
}

// trackWords says where a student stands: on track, one course away.
func trackWords(t results.Track) string {
	if t == results.OnTrack {
		return "on track"
	}
	return strings.ToLower(titleOf(t))
}

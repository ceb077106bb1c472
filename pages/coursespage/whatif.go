package coursespage

import (
	"context"
	"fmt"

	"meldung/core/ids"
	"meldung/core/results"
	"meldung/work"
)

// Guess is a grade that is tried out.
type Guess struct {
	Period  string
	Student ids.Student
	Course  int
	Part    int
	Grade   string
}

// GuessView is what a grade would change. It is stored nowhere.
type GuessView struct {
	Words string `json:"words" doc:"How the value comes about, or what is still open"`
	State string `json:"state"`
	Away  int    `json:"away" doc:"Courses away then"`
	Now   int    `json:"now" doc:"Courses away as it is"`
	Track string `json:"track" doc:"Where the student would stand, in words"`
}

// WhatIf says what a grade of a part of this half-year would change for a student whom a person may see.
func WhatIf(ctx context.Context, o *work.Office, p work.Person, asAt string, g Guess) (GuessView, error) {
	var out GuessView
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		l, any, err := open(ctx, v, p, m, Ask{Period: g.Period, Group: fmt.Sprintf("student:%d", g.Student)})
		if err != nil {
			return err
		}
		if !any || len(l.students) == 0 || g.Course < 0 || g.Course >= len(l.Courses) || l.Find(l.students[0], g.Course, l.at.Half()) == nil {
			return work.NotFoundf("there is no such course of that student among those that you may see")
		}
		c := l.Courses[g.Course]
		mark, err := l.Rule.Read(g.Grade)
		switch {
		case err != nil:
			return work.Wrongf("%v", err)
		case !mark.Given() || g.Part < 0 || g.Part > int(results.Examination) || results.Part(g.Part) == results.Examination && !c.HasExam():
			return work.Wrongf("say a grade of the scale for a quarter, or for an examination where the course has one")
		}
		// What is tried is read as at the half-year's end.
		end := l.at.Half().Quarter(1)
		then, now := l.WhatIf(l.students[0], end, g.Course, l.at.Half(), results.Part(g.Part), mark), l.Sum(l.students[0], end)
		out.Away, out.Now = then.Away, now.Away
		out.Track = trackWords(then.Track())
		for _, st := range then.Standings {
			if st.Record.Course == g.Course && st.Record.Half == l.at.Half() {
				out.State = string(st.State)
				if out.Words = l.Rule.Explain(c, st); out.Words == "" {
					out.Words = "then " + l.Still(st) + " earns it"
				}
			}
		}
		return nil
	})
	return out, err
}

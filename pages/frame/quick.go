package frame

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/work"
	"meldung/work/quick"
)

// QuickView is what a quick line would do.
type QuickView struct {
	Students []FoundStudent     `json:"students" doc:"Who fits the name, best first"`
	Chosen   []ids.Student      `json:"chosen" doc:"Whom it is about"`
	Siblings []pages.StudentRef `json:"siblings" doc:"Offered beside the chosen one"`
	Action   string             `json:"action" enum:",arrived,departed,notice"`
	Text     string             `json:"text" doc:"What Enter does"`
	Error    string             `json:"error" doc:"Why Enter does nothing"`
	Asks     bool               `json:"asks" doc:"It names nobody, and can be a question: Help answers it"`
	Tells    string             `json:"tells" doc:"How long a time to a time is, and what it would change; nothing is done"`
}

// mostFound bounds the students that a line shows.
const mostFound = 8

// PreviewQuick says what a quick line would do, without doing it.
func PreviewQuick(ctx context.Context, o *work.Office, p work.Person, line quick.QuickLine) (QuickView, error) {
	out := QuickView{Students: []FoundStudent{}, Chosen: []ids.Student{}, Siblings: []pages.StudentRef{}}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		r, err := quick.Read(v, x, m, p, line)
		if err != nil {
			return err
		}
		for _, f := range r.Found[:min(len(r.Found), mostFound)] {
			out.Students = append(out.Students, foundStudent(v, x, f, m))
		}
		for _, s := range r.Siblings {
			out.Siblings = append(out.Siblings, pages.Student(v, s, m.Date))
		}
		out.Chosen = append(out.Chosen, r.Chosen...)
		out.Text, out.Error, out.Tells, out.Asks = r.Does, r.Problem, r.Tells, r.Asks
		switch {
		case r.Problem != "":
			out.Text = ""
		case r.Movement != nil:
			out.Action = r.Movement.Kind
		case r.Notice != nil:
			out.Action = "notice"
		}
		return nil
	})
	return out, err
}

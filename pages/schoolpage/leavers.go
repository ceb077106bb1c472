package schoolpage

import (
	"context"

	"meldung/pages"
	"meldung/work"
	"meldung/work/leavers"
)

// LeaverView is a student who has left.
type LeaverView struct {
	Student pages.StudentRef `json:"student"`
	Left    string           `json:"left" doc:"Last date on the roll"`
	Until   string           `json:"until" doc:"Last date for which the data are kept; empty for no end"`
	Due     bool             `json:"due" doc:"The data may be erased"`
}

// LeaversView is those who have left and whose data are there.
type LeaversView struct {
	Rule leavers.Rule `json:"rule"`
	Due  int          `json:"due"`
	Rows []LeaverView `json:"rows" doc:"The first to leave first"`
}

// ShowLeavers returns those who have left, and for how long their data are kept.
func ShowLeavers(ctx context.Context, o *work.Office) (LeaversView, error) {
	out := LeaversView{Rows: []LeaverView{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		var err error
		if out.Rule, err = leavers.RuleOf(ctx, v); err != nil {
			return err
		}
		all, err := leavers.Of(ctx, v)
		if err != nil {
			return err
		}
		for _, l := range all {
			row := LeaverView{Student: pages.Student(v, l.Student, l.Left), Left: l.Left.String()}
			row.Student.Form = v.School.Records().On(l.Left).Form(l.Student.ID, l.Left) // as it was called then
			if l.Due != 0 {
				row.Until, row.Due = (l.Due - 1).String(), l.Due <= v.Now.Date()
			}
			if row.Due {
				out.Due++
			}
			out.Rows = append(out.Rows, row)
		}
		return nil
	})
	return out, err
}

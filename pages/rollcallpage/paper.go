package rollcallpage

import (
	"context"
	"fmt"

	core "meldung/core/rollcall"
	"meldung/files/paper"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/rollcall"
)

// Paper returns the list of the roll call that runs, or as it would be now, as PDF: each meeting
// point on pages of its own, in the order in which it is called out.
func Paper(ctx context.Context, o *work.Office) (pages.File, error) {
	out := pages.File{Type: pages.PDF}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	var sheet paper.RollCall
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		people, visits := rollcall.People(v, x, m), x.Visits
		title := "Everyone on the premises"
		r, err := store.RollCallRunning(ctx, v.Store())
		if err != nil {
			return err
		}
		var ticks map[core.Key]core.Tick
		if r != nil {
			title = "Roll call, " + r.Kind + ", began " + r.Minute.String()
			if people, visits, err = peopleOf(ctx, v, r.ID); err != nil {
				return err
			}
			stored, err := store.RollTicks(ctx, v.Store(), r.ID, 0)
			if err != nil {
				return err
			}
			ticks = core.Standing(rollcall.CoreTicks(stored))
		}
		views := make([]PersonView, len(people))
		for i, one := range people {
			views[i] = person(v, x, visits, one)
		}
		sortPeople(views)
		sheet = paper.RollCall{School: v.SchoolName(), Title: title, AsAt: m.Minute.String() + ", " + m.Date.Spoken()}
		for _, one := range views {
			sheet.Points = onPaper(sheet.Points, one, ticks)
		}
		out.Name = "student-data-roll-call-" + m.Date.String() + ".pdf"
		return nil
	})
	if err != nil {
		return out, err
	}
	if len(sheet.Points) == 0 {
		return out, work.NotFoundf("nobody is on the premises, as far as is known: there is nothing to print")
	}
	out.Content, err = sheet.PDF()
	return out, err
}

func onPaper(points []paper.RollPoint, one PersonView, ticks map[core.Key]core.Tick) []paper.RollPoint {
	if len(points) == 0 || points[len(points)-1].Name != one.Point {
		points = append(points, paper.RollPoint{Name: one.Point})
	}
	last := &points[len(points)-1]
	row := paper.RollPerson{Name: one.Sorted, Form: one.Form, Where: work.Join(" · ", one.Place, one.Seen), Loud: one.Why == string(core.Missing) || one.Why == string(core.Unknown)}
	if t, ok := ticks[core.Key{Kind: core.Kind(one.Kind), ID: one.Person}]; ok {
		row.Mark = fmt.Sprint("✓ ", t.At.Minute())
	}
	last.People = append(last.People, row)
	return points
}

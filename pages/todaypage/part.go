package todaypage

import (
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/work"
)

// PartStudent is a student of one part of the count, with why they are in it.
type PartStudent struct {
	Student  pages.StudentRef `json:"student"`
	Place    pages.Place      `json:"place"`
	Warnings []string         `json:"warnings"`
}

// PartView is one part of the count, taken apart.
type PartView struct {
	State    string        `json:"state"`
	Label    string        `json:"label"`
	AsAt     string        `json:"asAt"`
	Scope    string        `json:"scope"`
	Students []PartStudent `json:"students" doc:"By name; those worried for first"`
}

// ShowPart lists the students of one part of the count at a moment, each with why.
func ShowPart(ctx context.Context, o *work.Office, state, asAt string, of ...ids.Section) (PartView, error) {
	out := PartView{State: state, Students: []PartStudent{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.AsAt, out.Scope = m.At().String(), work.Join(", ", v.SchoolName(), v.ScopeText(m.Scope))
		for s := range whereabouts.States {
			if s.Slug() == state {
				out.Label = s.String()
			}
		}
		if out.Label == "" {
			return work.NotFoundf("there is no such part of the count")
		}
		for _, s := range x.Roll {
			if p := v.Position(x, s.ID, m); p.State.Slug() == state {
				row := PartStudent{Student: pages.Student(v, s, m.Date), Place: pages.PlaceOf(p), Warnings: pages.Warnings(v.School.WarningsOf(s.ID))}
				if p.State == whereabouts.NotYetKnown {
					row.Place.Text = waitsFor(v, x, s.ID, m)
				}
				out.Students = append(out.Students, row)
			}
		}
		return nil
	})
	slices.SortStableFunc(out.Students, func(a, b PartStudent) int {
		if worried := a.Place.Worried != ""; worried != (b.Place.Worried != "") {
			if worried {
				return -1
			}
			return 1
		}
		return 0
	})
	return out, err
}

// waitsFor says which register a student of whom nothing is known is waiting for: the first that
// has begun and is not in.
func waitsFor(v work.Snapshot, x *work.Day, student ids.Student, m work.Moment) string {
	for _, r := range x.Registers {
		if !r.SentBy(m) && !r.Slot.Start.After(m.Minute) && onRoll(r, student) {
			return r.Class.Title + ", " + r.Slot.Label() + " is not in · " + v.TakerNames(x, r.Class.ID, r.Slot.Name)
		}
	}
	return whereabouts.NotYetKnown.String()
}

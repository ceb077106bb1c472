package registerpage

import (
	"context"
	"slices"
	"sort"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/work"
)

// StandInView is who takes whose registers on a date.
type StandInView struct {
	ID     ids.StandIn `json:"id"`
	Absent string      `json:"absent"`
	Takes  string      `json:"takes"`
	Slots  string      `json:"slots" doc:"In words: the whole day, or a slot"`
	By     string      `json:"by"`
	At     string      `json:"at"`
}

// StandInsView is a date's stand-ins, with whom and which slots can be named.
type StandInsView struct {
	Date     string           `json:"date"`
	Label    string           `json:"label"`
	StandIns []StandInView    `json:"standIns"`
	Staff    []pages.StaffRef `json:"staff"`
	Slots    []pages.SlotRef  `json:"slots"`
}

// ShowStandIns lists a date's stand-ins.
func ShowStandIns(ctx context.Context, o *work.Office, asAt string) (StandInsView, error) {
	out := StandInsView{StandIns: []StandInView{}, Staff: []pages.StaffRef{}, Slots: []pages.SlotRef{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Date, out.Label = x.Date.String(), x.Date.Spoken()
		for _, s := range x.StandIns {
			if s.EndedBy == nil {
				out.StandIns = append(out.StandIns, StandInView{s.ID, v.School.StaffOf(s.AbsentID).Short(), v.School.StaffOf(s.StaffID).Short(), x.SlotLabel(s.Slot), s.By, s.Known.Minute().String()})
			}
		}
		for _, s := range v.School.Records().Rows.Staff {
			if !s.Ended {
				out.Staff = append(out.Staff, pages.StaffRef{ID: s.ID, Name: s.Family + ", " + s.Given})
			}
		}
		sort.SliceStable(out.Staff, func(a, b int) bool { return out.Staff[a].Name < out.Staff[b].Name })
		for _, on := range x.Sections {
			if !on.Open {
				continue
			}
			for _, s := range on.School.Pattern.Slots {
				if !slices.ContainsFunc(out.Slots, func(o pages.SlotRef) bool { return o.Name == s.Name }) {
					out.Slots = append(out.Slots, pages.SlotRef{Name: s.Name, Label: s.Label()})
				}
			}
		}
		return nil
	})
	return out, err
}

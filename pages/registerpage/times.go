package registerpage

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/work"
	"meldung/work/calendar"
)

// DayTimesView is when the slots of a date are, section by section.
type DayTimesView struct {
	Date     string            `json:"date"`
	Label    string            `json:"label"`
	Sections []SectionDayTimes `json:"sections" doc:"Those with school on the date"`
}

// SectionDayTimes is when the slots of a section's date are.
type SectionDayTimes struct {
	ID    ids.Section    `json:"id"`
	Name  string         `json:"name" doc:"Empty where the school has one section"`
	Slots []DaySlotTimes `json:"slots"`
}

// DaySlotTimes is when a slot of a date is.
type DaySlotTimes struct {
	pages.SlotRef
	From  string `json:"from"`
	To    string `json:"to"`
	Usual string `json:"usual" doc:"When it usually is, where the day was put right; else empty"`
}

// ShowTimes returns when the slots of a date are.
func ShowTimes(ctx context.Context, o *work.Office, asAt string) (DayTimesView, error) {
	out := DayTimesView{Sections: []SectionDayTimes{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		out.Date, out.Label = m.Date.String(), m.Date.Spoken()
		for _, s := range v.Sections() {
			on, _, open := s.SchoolDay(m.Date)
			if !open {
				continue
			}
			usual := calendar.UsualTimes(v, s.ID, m.Date)
			section := SectionDayTimes{ID: s.ID, Slots: []DaySlotTimes{}}
			if len(v.Sections()) > 1 {
				section.Name = s.Name
			}
			for _, x := range on.Pattern.Slots {
				one := DaySlotTimes{SlotRef: pages.SlotRef{Name: x.Name, Label: x.Label()}, From: x.Start.String(), To: x.End.String()}
				if was, known := usual[x.Name]; known && (was.Start != x.Start || was.End != x.End) {
					one.Usual = was.Start.String() + " to " + was.End.String()
				}
				section.Slots = append(section.Slots, one)
			}
			out.Sections = append(out.Sections, section)
		}
		return nil
	})
	return out, err
}

package registerpage

import (
	"context"

	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// OwnRecord is a student's own strip, on a phone that a teacher has confirmed.
type OwnRecord struct {
	Known  bool        `json:"known" doc:"Whether the phone is a student's"`
	Given  string      `json:"given"`
	Days   []OwnDay    `json:"days" doc:"The last school days, oldest first"`
	Counts []CodeCount `json:"counts"`
}

// OwnDay is a day of a student's own record.
type OwnDay struct {
	Date  string             `json:"date"`
	Label string             `json:"label"`
	Marks []pages.RecentMark `json:"marks"`
}

// CodeCount says how often a mark was given.
type CodeCount struct {
	State string `json:"state"`
	Word  string `json:"word"`
	N     int    `json:"n"`
}

// RecordOfPhone returns the last ten school days of the student whose phone it is, and
// nothing of anyone else.
func RecordOfPhone(ctx context.Context, o *work.Office, phone string) (OwnRecord, error) {
	out := OwnRecord{Days: []OwnDay{}, Counts: []CodeCount{}}
	id, err := store.StudentOfPhone(ctx, o.Store().Read(), phone)
	if err != nil || id == 0 {
		return out, err
	}
	err = o.Read(ctx, func(all work.Snapshot) error {
		v := all.Of(id)
		i := v.Place(id)
		if i < 0 || v.Calendar == nil {
			return nil
		}
		out.Known, out.Given = true, v.Students[i].Given
		n := map[string]int{}
		last := v.Calendar.UpTo(v.On)
		for d := max(0, last-9); d <= last; d++ {
			sd := v.Calendar.Day(d)
			own := OwnDay{Date: sd.Date.String(), Label: sd.Date.Spoken(), Marks: []pages.RecentMark{}}
			for pos, slot := range sd.Pattern.Slots {
				mark, marked := v.Ledger.Mark(i, d, pos)
				if !marked {
					continue
				}
				c := v.Ledger.Codes(d).Codes[mark.Code]
				own.Marks = append(own.Marks, pages.RecentMark{Date: own.Date, Slot: slot.Name, Code: c.Code, State: pages.Shape(c)})
				n[c.Code]++
			}
			out.Days = append(out.Days, own)
		}
		for _, c := range v.Codes.Codes {
			if n[c.Code] > 0 {
				out.Counts = append(out.Counts, CodeCount{pages.Shape(c), c.Word, n[c.Code]})
			}
		}
		return nil
	})
	return out, err
}

package registerpage

import (
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/barcode"
	"meldung/store"
	"meldung/work"
)

// HandOutDate is a day on which a class meets, and how to check in on it.
type HandOutDate struct {
	Date     string `json:"date"`
	Label    string `json:"label"`
	Slot     string `json:"slot" doc:"In words"`
	From     string `json:"from" doc:"When the lesson begins"`
	To       string `json:"to"`
	Room     string `json:"room"`
	Opens    string `json:"opens" doc:"When checking in opens; empty where none is planned yet"`
	Closes   string `json:"closes"`
	Question string `json:"question"`
	Link     string `json:"link" doc:"Address for a remote lesson; empty where nobody attends at a distance"`
	Picture  []byte `json:"picture" doc:"QR code of the link, PNG in base64"`
}

// HandOut is the sheet that tells a class how to check in.
type HandOut struct {
	School   string        `json:"school"`
	Class    ids.Class     `json:"class"`
	Title    string        `json:"title"`
	Teachers string        `json:"teachers"`
	Text     string        `json:"text" doc:"What the teacher adds"`
	Address  string        `json:"address" doc:"Where one checks in, without a code"`
	Picture  []byte        `json:"picture" doc:"QR code of the address, PNG in base64"`
	Dates    []HandOutDate `json:"dates" doc:"The next days on which the class meets"`
}

// mostHandOutDates bounds the days on the sheet.
const mostHandOutDates = 20

// ShowHandOut returns the sheet of a class; base is the address under which the program is reached.
func ShowHandOut(ctx context.Context, o *work.Office, p work.Person, class ids.Class, base string) (HandOut, error) {
	out := HandOut{Class: class, Address: base + "/check-in", Dates: []HandOutDate{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		c, err := v.OwnClass(p, class)
		if err != nil {
			return err
		}
		out.School, out.Title, out.Teachers = v.SchoolName(), c.Title, v.School.TeachersOf(class)
		if out.Text, err = store.CheckInText(ctx, v.Store(), class); err != nil {
			return err
		}
		if out.Picture, err = barcode.QR(out.Address, 360); err != nil {
			return err
		}
		section := v.OfClass(class)
		year := section.Calendar
		if year.Days() == 0 {
			return nil
		}
		windows, err := store.CheckInsOfClass(ctx, v.Store(), class, v.On, year.Day(year.Days()-1).Date)
		if err != nil {
			return err
		}
		for i := year.From(v.On); i < year.Days() && len(out.Dates) < mostHandOutDates; i++ {
			if err := out.day(v, section, c, year.Day(i), windows, base); err != nil {
				return err
			}
		}
		out.Dates = out.Dates[:min(len(out.Dates), mostHandOutDates)]
		return nil
	})
	return out, err
}

// day adds the lessons of a day that are not over.
func (out *HandOut) day(v work.Snapshot, section work.Section, c store.Class, sd day.SchoolDay, windows []store.CheckIn, base string) error {
	held := v.School.Records().On(sd.Date).Section(section.ID)
	for _, slot := range sd.Pattern.Slots {
		if !held.Meets(c.ID, slot.Name, sd) || (sd.Date == v.On && !slot.End.After(v.Now.Minute())) {
			continue
		}
		one := HandOutDate{Date: sd.Date.String(), Label: sd.Date.Spoken(), Slot: slot.Label(), From: slot.Start.String(), To: slot.End.String(), Room: c.Room}
		i := slices.IndexFunc(windows, func(w store.CheckIn) bool {
			return w.Date == sd.Date && w.Slot == slot.Name && w.EndedBy == nil
		})
		if i >= 0 {
			w := &windows[i]
			one.Opens, one.Closes, one.Question = w.Opens.String(), w.Closes.String(), w.Question
			if w.Distance {
				one.Link = base + linkOf(w)
				var err error
				if one.Picture, err = barcode.QR(one.Link, 300); err != nil {
					return err
				}
			}
		}
		out.Dates = append(out.Dates, one)
	}
	return nil
}

package registerpage

import (
	"context"
	"slices"

	totp "meldung/core/checkin"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/barcode"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/checkin"
)

// CheckInEntryView is a student who has checked in, with the mark that follows.
type CheckInEntryView struct {
	Student   pages.StudentRef `json:"student"`
	At        string           `json:"at"`
	Answer    string           `json:"answer"`
	Code      string           `json:"code"`
	Time      string           `json:"time" doc:"When they came, where that is late"`
	Confirmed bool             `json:"confirmed"`
	Doubt     string           `json:"doubt" doc:"Why the teacher should look: the phone is another student's too; empty for none"`
}

// CheckInView is a check-in window as its teacher sees it.
type CheckInView struct {
	ID       ids.CheckIn        `json:"id"`
	Opens    string             `json:"opens"`
	Closes   string             `json:"closes"`
	Open     bool               `json:"open"`
	ToCome   bool               `json:"toCome" doc:"It opens by itself, later today"`
	Link     string             `json:"link" doc:"Path of a link for a remote lesson, good while it is open; empty where nobody attends at a distance"`
	Question string             `json:"question"`
	Distance bool               `json:"distance"`
	Entries  []CheckInEntryView `json:"entries" doc:"In the order in which they came"`
	NotYet   []pages.StudentRef `json:"notYet" doc:"Due, and neither checked in nor known to be away"`
	Wrong    int                `json:"wrong" doc:"Wrong codes and numbers while it was open"`
}

// CheckInDay is a later day on which the class meets in the slot.
type CheckInDay struct {
	Date    string `json:"date"`
	Label   string `json:"label"`
	Planned bool   `json:"planned" doc:"A window opens there already"`
}

// addCheckIn adds the newest check-in window of a register and the days to repeat it on.
func addCheckIn(ctx context.Context, v work.Snapshot, out *RegisterView, x *work.Day, r *work.Register, m work.Moment) error {
	windows, err := store.CheckInsOf(ctx, v.Store(), r.Class.ID, r.Slot.Name, x.Date)
	if err != nil {
		return err
	}
	planned := map[day.Date]bool{}
	var before []*CheckInView
	for i := range windows {
		c := &windows[i]
		planned[c.Date] = planned[c.Date] || c.EndedBy == nil
		if c.Date == x.Date && c.Known <= m.Known {
			if out.CheckIn != nil {
				before = append(before, out.CheckIn)
			}
			if out.CheckIn, err = checkInView(ctx, v, out, x, r, c, m); err != nil {
				return err
			}
		}
	}
	for _, w := range before {
		if w.Entries = slices.DeleteFunc(w.Entries, func(e CheckInEntryView) bool { return e.Confirmed }); len(w.Entries) > 0 {
			out.CheckInsBefore = append(out.CheckInsBefore, *w)
		}
	}
	if x.Date == v.Now.Date() && m.Live && !m.Minute.Before(r.Slot.End) {
		out.NoCheckIn = r.Slot.Label() + " was over at " + r.Slot.End.String()
	}
	out.CheckInDays = checkInDays(v, x, r, planned)
	out.MayPrepareCheckIn = m.Live && x.Date == v.Now.Date() && m.Minute.Before(r.Slot.Start) && r.Sent == nil && x.OfClass(r.Class.ID).DistanceCode() != ""
	out.MayCheckInAtADistance = x.OfClass(r.Class.ID).DistanceCode() != ""
	return nil
}

// mostCheckInDays bounds the days on which a window can be repeated.
const mostCheckInDays = 10

// checkInDays returns the next days on which the class meets in the slot.
func checkInDays(v work.Snapshot, x *work.Day, r *work.Register, planned map[day.Date]bool) []CheckInDay {
	out := []CheckInDay{}
	section := v.OfClass(r.Class.ID)
	c := section.Calendar
	for i := c.From(x.Date + 1); i < c.Days() && len(out) < mostCheckInDays; i++ {
		sd := c.Day(i)
		if v.School.Records().On(sd.Date).Section(section.ID).Meets(r.Class.ID, r.Slot.Name, sd) {
			out = append(out, CheckInDay{sd.Date.String(), sd.Date.Spoken(), planned[sd.Date]})
		}
	}
	return out
}

// checkInView returns a check-in window of a register as it was at a moment.
func checkInView(ctx context.Context, v work.Snapshot, view *RegisterView, x *work.Day, r *work.Register, c *store.CheckIn, m work.Moment) (*CheckInView, error) {
	q := v.Store()
	entries, err := store.EntriesOf(ctx, q, c.ID)
	if err != nil {
		return nil, err
	}
	phones, err := store.PhonesOf(ctx, q, entries)
	if err != nil {
		return nil, err
	}
	tries, err := store.WrongTriesOn(ctx, q, x.Date)
	if err != nil {
		return nil, err
	}
	out := &CheckInView{ID: c.ID, Opens: c.Opens.String(), Closes: closedAt(c, m.Known).String(), Open: m.Live && checkin.IsOpen(c, m.Known), Question: c.Question, Distance: c.Distance,
		Entries: []CheckInEntryView{}, NotYet: []pages.StudentRef{}}
	out.ToCome = m.Live && checkin.IsToCome(c, m.Known)
	if r.Sent == nil && (out.Open || out.ToCome) && checkin.AtADistance(x, c) {
		out.Link = linkOf(c)
	}
	in := map[ids.Student]bool{}
	for _, e := range entries {
		if e.Known > m.Known {
			continue
		}
		in[e.StudentID] = true
		s := v.School.StudentOf(e.StudentID)
		code, time := checkin.MarkOf(x.OfClass(r.Class.ID), r.Slot, e)
		out.Entries = append(out.Entries, CheckInEntryView{Student: pages.Student(v, s, x.Date), At: e.Minute.String(), Answer: e.Answer, Code: code, Time: time,
			Confirmed: e.ConfirmedBy != nil, Doubt: checkin.Doubt(v, e, entries, phones)})
	}
	for _, row := range view.Rows {
		if !in[row.Student.ID] && row.Known == nil && (row.Draft == nil || row.Draft.Code == "") {
			out.NotYet = append(out.NotYet, row.Student)
		}
	}
	for _, t := range tries {
		if t.Known <= m.Known && !t.Minute.Before(c.Opens) && t.Minute.Before(c.Closes) && (t.CheckInID == nil || *t.CheckInID == c.ID) {
			out.Wrong++
		}
	}
	return out, nil
}

// linkOf returns the path of a link for a remote lesson.
func linkOf(c *store.CheckIn) string { return "/check-in?l=" + totp.Link(c.Secret, c.ID) }

// CheckInCode is what a teacher shows the class.
type CheckInCode struct {
	Code      string `json:"code"`
	Address   string `json:"address" doc:"The page, without the code"`
	Picture   []byte `json:"picture" doc:"QR code of the page with the code, PNG in base64"`
	ChangesIn int    `json:"changesIn" doc:"Seconds until the next code"`
	In        int    `json:"in"`
	Of        int    `json:"of"`
}

// ShowCode returns the code of an open window at this second.
func ShowCode(ctx context.Context, o *work.Office, p work.Person, id ids.CheckIn, base string) (CheckInCode, error) {
	out := CheckInCode{Address: base + "/check-in"}
	err := o.Read(ctx, func(v work.Snapshot) error {
		c, x, err := checkin.OpenWindow(ctx, v, func(c *store.CheckIn) bool { return c.ID == id })
		if err != nil {
			return err
		}
		if c == nil {
			return work.NotFoundf("that check-in is not open")
		}
		if _, err := v.RegisterFor(x, p, c.ClassID, c.Slot); err != nil {
			return err
		}
		step, left := totp.StepAt(o.Unix())
		out.Code, out.ChangesIn = totp.Code(c.Secret, step), left
		entries, err := store.EntriesOf(ctx, o.Store().Read(), id)
		if err != nil {
			return err
		}
		out.In, out.Of = len(entries), len(v.School.Roll(c.ClassID, c.Slot, c.Date))
		out.Picture, err = barcode.QR(out.Address+"?c="+out.Code, 480)
		return err
	})
	return out, err
}

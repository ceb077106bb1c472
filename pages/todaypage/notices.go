package todaypage

import (
	"context"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/register"
	"meldung/pages"
	"meldung/work"
	"meldung/work/home"
)

// NoticePreview says what a notice would do.
type NoticePreview struct {
	Text     string `json:"text"`
	Code     string `json:"code" doc:"The code that its absences get"`
	CodeWord string `json:"codeWord"`
	Explains int    `json:"explains" doc:"Marks without a reason that it explains at once"`
	Stand    int    `json:"stand" doc:"Marks of those times that say present or give a reason already, and stay"`
	Error    string `json:"error" doc:"Why it can't be stored; empty for it can"`
}

// PreviewNotice says what a notice would do, without doing it.
func PreviewNotice(ctx context.Context, o *work.Office, n home.Notice) (NoticePreview, error) {
	var out NoticePreview
	now := o.Now()
	err := o.Read(ctx, func(v work.Snapshot) error {
		read, err := n.Read(now.Date())
		if err != nil {
			out.Error = strings.TrimSuffix(err.Error(), "; nothing was saved")
			return nil
		}
		out.Text = read.Summary(now.Date())
		if len(n.Students) == 0 {
			return nil
		}
		section := v.Of(n.Students[0])
		out.Code = section.Settings.Reason(read.Reason).Absent
		if code, ok := section.Codes.Find(out.Code); ok {
			out.CodeWord = code.Word
		}
		for d := read.From; d <= min(read.To, now.Date()); d++ {
			x, err := v.Day(ctx, d)
			if err != nil {
				return err
			}
			for _, id := range n.Students {
				out.count(v, x, id, read)
			}
		}
		return nil
	})
	return out, err
}

// count adds a student's marks of one day that the notice covers.
func (out *NoticePreview) count(v work.Snapshot, x *work.Day, student ids.Student, n work.Notice) {
	code := x.Of(student).Settings.Reason(n.Reason).Absent
	for _, slot := range x.SlotsOf(student) {
		versions := x.Versions(student, slot.Name)
		if len(versions) == 0 || !n.Covers(x.Date, slot) {
			continue
		}
		if _, explains := register.Explain(x.InForce(versions[len(versions)-1]), code); explains {
			out.Explains++
		} else {
			out.Stand++
		}
	}
}

// NoticeView is a notice on the day's list.
type NoticeView struct {
	ID        ids.Notice       `json:"id"`
	Student   pages.StudentRef `json:"student"`
	Text      string           `json:"text"`
	Told      string           `json:"told" doc:"Who told it and how"`
	Noted     string           `json:"noted" doc:"When and by whom it was noted"`
	Withdrawn bool             `json:"withdrawn"`
}

// ShowNotices lists the notices that hold on a day, the newest first.
func ShowNotices(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) ([]NoticeView, error) {
	out := []NoticeView{}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		for _, n := range slices.Backward(x.Notices) {
			if n.Known > m.Known {
				continue
			}
			s, err := v.Student(n.StudentID)
			if err != nil {
				return err
			}
			out = append(out, NoticeView{ID: n.ID, Student: pages.Student(v, s, m.Date), Text: work.StoredNotice(n).Summary(m.Date), Told: work.Told(n), Noted: work.When(n.Known, m.Date) + work.By(n.By),
				Withdrawn: n.WithdrawnAt != nil && *n.WithdrawnAt <= m.Known})
		}
		return nil
	})
	return out, err
}

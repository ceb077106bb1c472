package work

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/store"
)

// Notice is what home said about one or more students.
type Notice struct {
	Students []int64 `json:"students" minItems:"1"`
	Reason   string  `json:"reason"`
	From     string  `json:"from,omitempty" doc:"Date, YYYY-MM-DD; empty is today"`
	To       string  `json:"to,omitempty" doc:"Last date; empty is the first"`
	FromTime string  `json:"fromTime,omitempty" doc:"As typed; empty is the whole day"`
	ToTime   string  `json:"toTime,omitempty" doc:"When expected; as typed"`
	ToldBy   string  `json:"toldBy,omitempty" maxLength:"100"`
	ToldHow  string  `json:"toldHow,omitempty" enum:",phone,text,e-mail,letter,in person"`
	Message  int64   `json:"message,omitempty" doc:"The message whose answer it is; who answered told it, by text"`
}

// parsedNotice is a notice whose dates and times have been read.
type parsedNotice struct {
	from, to         day.Date
	fromTime, toTime day.Minute
	returns          bool
	reason           string
	toldBy, toldHow  string
	message          *int64
}

func (n Notice) parse(today day.Date) (parsedNotice, error) {
	out := parsedNotice{from: today, toTime: day.EndOfDay, reason: strings.TrimSpace(n.Reason), toldBy: strings.TrimSpace(n.ToldBy), toldHow: n.ToldHow}
	if out.reason == "" {
		return out, wrong("a notice needs a reason; nothing was stored")
	}
	var err error
	if n.From != "" {
		if out.from, err = day.ParseDate(n.From); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	out.to = out.from
	if n.To != "" {
		if out.to, err = day.ParseDate(n.To); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	if n.FromTime != "" {
		if out.fromTime, err = day.ParseTyped(n.FromTime); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
	}
	if n.ToTime != "" {
		if out.toTime, err = day.ParseTyped(n.ToTime); err != nil {
			return out, wrong("%v; nothing was stored", err)
		}
		out.returns = true
	}
	if out.reason == onTheWay && !out.returns {
		return out, wrong("on the way needs the time they are expected; nothing was stored")
	}
	if out.to < out.from || (out.to == out.from && out.toTime <= out.fromTime) {
		return out, wrong("the notice ends before it begins; nothing was stored")
	}
	return out, nil
}

// words says a notice as people do.
func (n parsedNotice) words(today day.Date) string {
	w := n.reason
	if n.fromTime > 0 {
		w += " from " + n.fromTime.String()
	}
	switch {
	case n.returns && n.to == today:
		w += " until " + n.toTime.String()
	case n.from > today && n.to == n.from:
		w += " on " + n.from.Words()
	case n.to > today:
		w += " until " + n.to.Words()
	}
	return w
}

// covers reports whether the notice has a student away from the start of a slot.
func (n parsedNotice) covers(d day.Date, slot day.Slot) bool {
	from, to := day.Minute(0), day.EndOfDay
	if d == n.from {
		from = n.fromTime
	}
	if d == n.to {
		to = n.toTime
	}
	return d >= n.from && d <= n.to && slot.Start >= from && slot.Start < to
}

// Notify stores what home said. It explains absences ahead and after the fact
// and never overwrites a presence.
func (o *Office) Notify(ctx context.Context, p Person, key string, n Notice) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "notice", &out, func(w *writing, v view, x *Day) error {
		pn, err := n.parse(w.now.Date())
		if err != nil {
			return err
		}
		if n.Message != 0 {
			if err := v.answered(x, n, &pn, w.now); err != nil {
				return err
			}
		}
		out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
		var names []string
		for _, id := range n.Students {
			s, err := v.school.Student(id)
			if err != nil {
				return err
			}
			nid, err := w.notify(v, s, pn)
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, nid)
			names = append(names, s.Name())
		}
		out.Words = strings.Join(names, ", ") + ": " + pn.words(w.now.Date())
		return nil
	})
	return out, err
}

// NoticePreview says what a notice would do.
type NoticePreview struct {
	Words    string `json:"words"`
	Code     string `json:"code" doc:"The code that its absences get"`
	CodeWord string `json:"codeWord"`
	Explains int    `json:"explains" doc:"Marks without a reason that it explains at once"`
	Stand    int    `json:"stand" doc:"Marks of those times that say present or give a reason already, and stay"`
	Error    string `json:"error" doc:"Why it can't be stored; empty for it can"`
}

// ReadNotice says what a notice would do, without doing it.
func (o *Office) ReadNotice(ctx context.Context, n Notice) (NoticePreview, error) {
	var out NoticePreview
	now := o.clock.Now()
	err := o.look(func(v view) error {
		pn, err := n.parse(now.Date())
		if err != nil {
			out.Error = strings.TrimSuffix(err.Error(), "; nothing was stored")
			return nil
		}
		out.Words = pn.words(now.Date())
		out.Code = v.settings.reason(pn.reason).Absent
		if code, ok := v.codes.Find(out.Code); ok {
			out.CodeWord = code.Word
		}
		for d := pn.from; d <= min(pn.to, now.Date()); d++ {
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			for _, id := range n.Students {
				v.countNotice(x, id, pn, &out)
			}
		}
		return nil
	})
	return out, err
}

func (v view) countNotice(x *Day, student int64, n parsedNotice, out *NoticePreview) {
	if !x.Open {
		return
	}
	for _, slot := range x.School.Pattern.Slots {
		versions := x.versions[markKey{student, slot.Name}]
		if len(versions) == 0 || !n.covers(x.Date, slot) {
			continue
		}
		if old, _ := v.codes.Find(versions[len(versions)-1].Code); old.Unexplained && old.Code != out.Code {
			out.Explains++
		} else {
			out.Stand++
		}
	}
}

func (w *writing) notify(v view, s store.Student, n parsedNotice) (int64, error) {
	id, err := store.AddNotice(w.ctx, w.tx, store.Notice{StudentID: s.ID, FromDate: n.from, ToDate: n.to, FromMinute: n.fromTime, ToMinute: n.toTime,
		Returns: n.returns, Reason: n.reason, ToldBy: n.toldBy, ToldHow: n.toldHow, MessageID: n.message, Origin: store.Origin{Journal: w.journal.ID}})
	if err != nil {
		return 0, err
	}
	code := v.settings.reason(n.reason).Absent
	for d := n.from; d <= min(n.to, w.now.Date()); d++ {
		x, err := v.day(w.ctx, d)
		if err != nil {
			return 0, err
		}
		err = w.recode(v, x, s.ID, register.SourceHome, "home: "+n.reason, func(slot day.Slot, k store.Mark, old policy.Code) (store.Mark, bool) {
			if !old.Unexplained || !n.covers(d, slot) || code == old.Code {
				return k, false
			}
			k.Code = code
			return k, true
		})
		if err != nil {
			return 0, err
		}
	}
	return id, nil
}

// WithdrawNotice takes a notice back, with the marks that it explained and that nobody
// has changed since.
func (o *Office) WithdrawNotice(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.write(ctx, p, key, "notice withdrawn", &out, func(w *writing) error {
		return o.look(func(v view) error {
			n, err := store.NoticeByID(ctx, w.tx, id)
			if err != nil {
				return err
			}
			if n == nil {
				return notFound("there is no such notice")
			}
			done, err := store.WithdrawNotice(ctx, w.tx, id, w.journal.ID)
			if err != nil {
				return err
			}
			if !done {
				return conflict("that notice was withdrawn already")
			}
			out = Receipt{Seq: w.journal.ID, Words: "notice withdrawn", IDs: []int64{id}}
			for d := n.FromDate; d <= min(n.ToDate, w.now.Date()); d++ {
				x, err := v.day(ctx, d)
				if err != nil {
					return err
				}
				if err := w.restore(v, x, n.StudentID, n.Journal, "the notice was withdrawn"); err != nil {
					return err
				}
			}
			return nil
		})
	})
	return out, err
}

// NoticeView is a notice on the day's list.
type NoticeView struct {
	ID        int64      `json:"id"`
	Student   StudentRef `json:"student"`
	Words     string     `json:"words"`
	Told      string     `json:"told" doc:"Who told it and how"`
	Noted     string     `json:"noted" doc:"When and by whom it was noted"`
	Withdrawn bool       `json:"withdrawn"`
}

// Notices lists the notices that hold on a day, the newest first.
func (o *Office) Notices(ctx context.Context, asAt string) ([]NoticeView, error) {
	out := []NoticeView{}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		for _, n := range slices.Backward(x.notices) {
			if n.Known > m.Known {
				continue
			}
			s, err := v.school.Student(n.StudentID)
			if err != nil {
				return err
			}
			out = append(out, NoticeView{ID: n.ID, Student: v.ref(s, m.Date), Words: noticeOf(n).words(m.Date), Told: toldWords(n), Noted: instantWords(n.Known, m.Date) + by(n.By),
				Withdrawn: n.WithdrawnAt != nil && *n.WithdrawnAt <= m.Known})
		}
		return nil
	})
	return out, err
}

// noticeOf reads a stored notice back.
func noticeOf(n store.Notice) parsedNotice {
	return parsedNotice{from: n.FromDate, to: n.ToDate, fromTime: n.FromMinute, toTime: n.ToMinute, returns: n.Returns, reason: n.Reason}
}

// toldWords says who told a notice and how.
func toldWords(n store.Notice) string { return join(" · ", n.ToldBy, n.ToldHow) }

// instantWords says when something was written, with the day where that is another.
func instantWords(at day.Instant, today day.Date) string {
	if at.Date() == today {
		return at.Minute().String()
	}
	return at.Date().Words() + " " + at.Minute().String()
}

func by(name string) string {
	if name == "" {
		return ""
	}
	return " by " + name
}

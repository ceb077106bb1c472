package work

import (
	"context"
	"sort"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/whereabouts"
	"meldung/store"
)

// Bar is a stretch of a day bar: from and to in thousandths of the school day.
type Bar struct {
	From  int    `json:"from"`
	To    int    `json:"to"`
	State string `json:"state" enum:"unexcused,explained,late,unaccounted,left"`
}

// DayBar is one school day of a student.
type DayBar struct {
	Date   string `json:"date"`
	Words  string `json:"words"`
	Week   int    `json:"week"`
	Term   string `json:"term"`
	State  string `json:"state" enum:"past,today,future,out" doc:"out is outside enrolment"`
	Missed string `json:"missed" doc:"In words; empty for nothing"`
	Bars   []Bar  `json:"bars"`
}

// HappenedView is an entry of a student's history.
type HappenedView struct {
	Date  string `json:"date"`
	When  string `json:"when"`
	Kind  string `json:"kind" enum:"mark,desk,home,call,conduct,follow-up"`
	State string `json:"state"`
	Words string `json:"words"`
	By    string `json:"by"`
	sort  day.Instant
	seq   int64
}

// CourseLine is a student's grades in a course.
type CourseLine struct {
	Course  string   `json:"course"`
	Grades  []string `json:"grades"`
	Failing bool     `json:"failing"`
}

// StudentSheet is all about one student.
type StudentSheet struct {
	Student   StudentRef     `json:"student"`
	Born      string         `json:"born"`
	Travels   string         `json:"travels"`
	Bases     *WhyBases      `json:"bases,omitempty" doc:"For part-time and shared students"`
	Due       []DueView      `json:"due" doc:"Lines reached and steps due this year by every policy, newest first"`
	Warnings  []string       `json:"warnings"`
	Siblings  []StudentRef   `json:"siblings"`
	Place     Place          `json:"place"`
	Figures   AbsenceFigures `json:"figures"`
	Lates     int            `json:"lates"`
	LatesNow  int            `json:"latesNow" doc:"In this grading period"`
	Period    string         `json:"period"`
	Days      []DayBar       `json:"days"`
	Contacts  []ContactRef   `json:"contacts"`
	Courses   []CourseLine   `json:"courses"`
	Incidents int            `json:"incidents"`
	Happened  []HappenedView `json:"happened" doc:"Newest first"`
	Fetch     *FetchView     `json:"fetch,omitempty" doc:"Where the student is to be fetched"`
	MayFetch  bool           `json:"mayFetch" doc:"The student is here, and nobody is to fetch them yet"`
	Photo     bool           `json:"photo" doc:"There is a photo"`
}

// Sheet returns a student's sheet. A teacher sees their own students, without
// contacts and calls.
func (o *Office) Sheet(ctx context.Context, p Person, id int64, asAt string) (StudentSheet, error) {
	var out StudentSheet
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.look(func(v view) error {
		s, err := v.school.Student(id)
		if err != nil {
			return err
		}
		if err := v.school.maySee(p, id); err != nil {
			return err
		}
		x, err := v.day(ctx, m.Date)
		if err != nil {
			return err
		}
		out = StudentSheet{Student: v.ref(s, m.Date), Born: bornWords(s.Born), Travels: s.Travels, Warnings: warningWords(v.school.warnings[id]),
			Siblings: []StudentRef{}, Due: []DueView{}, Place: placeOf(v.position(x, id, m)), Contacts: []ContactRef{}, Courses: []CourseLine{}, Happened: []HappenedView{}, Days: []DayBar{}}
		for _, sib := range v.school.Siblings(id, m.Date) {
			out.Siblings = append(out.Siblings, v.ref(sib, m.Date))
		}
		if p.Role != Teacher {
			out.Contacts = contactRefs(v.school.ContactsOf(id))
			if open := x.openFetch(id, m); open != nil {
				f := v.fetchView(x, *open, m)
				out.Fetch = &f
			}
		}
		out.MayFetch = out.Fetch == nil && onPremises(v.position(x, id, m))
		photo, err := store.Photo(ctx, v.o.store.Read(), id)
		if err != nil {
			return err
		}
		out.Photo = len(photo) > 0
		if err := v.sheetFigures(&out, s, x, m); err != nil {
			return err
		}
		if err := v.sheetCourses(ctx, &out, id, m); err != nil {
			return err
		}
		return v.sheetHistory(ctx, &out, p, s, m)
	})
	return out, err
}

// bornWords says a date of birth as people do; other texts stay as given.
func bornWords(text string) string {
	d, err := day.ParseDate(text)
	if err != nil {
		return text
	}
	return d.Time().Format("2 January 2006")
}

func (v view) sheetFigures(out *StudentSheet, s store.Student, x *Day, m Moment) error {
	if v.o.ledger == nil {
		return nil
	}
	ten, err := v.measure(usualPolicy)
	if err != nil {
		return err
	}
	place := v.school.placeOf[s.ID]
	span := absence.Span{From: 0, To: v.endedBy(m)}
	f := ten.Student(place, span)
	out.Figures = v.figures(ten, f)
	out.Bases = v.bases(ten, s, span)
	panel, err := v.panel()
	if err != nil {
		return err
	}
	for n, year := range panel.Student(place, span.To) {
		measure := panel.Measures()[n]
		for _, d := range v.dueOf(measure, year, s, m, span) {
			if d.Kind != "band" || measure == ten { // several policies share the bands
				out.Due = append(out.Due, d)
			}
		}
	}
	sort.SliceStable(out.Due, func(a, b int) bool { return out.Due[a].Date > out.Due[b].Date })
	out.Lates = f.Lates
	if c := v.school.Calendar; span.To >= 0 {
		from := span.To
		for from > 0 && c.Day(from-1).GradingPeriod == c.Day(span.To).GradingPeriod {
			from--
		}
		out.Period = c.Day(span.To).GradingPeriod
		out.LatesNow = ten.Student(place, absence.Span{From: from, To: span.To}).Lates
	}
	out.Days = v.dayBars(ten, place, x, m)
	return nil
}

// endedBy is the last school day that was over at a moment: today takes part
// once its last slot has ended.
func (v view) endedBy(m Moment) int {
	c := v.school.Calendar
	i := c.UpTo(m.Date)
	if i >= 0 && c.Day(i).Date == m.Date {
		slots := c.Day(i).Pattern.Slots
		if len(slots) > 0 && m.Minute < slots[len(slots)-1].End {
			i--
		}
	}
	return i
}

func (v view) dayBars(ten *absence.Measure, place int, x *Day, m Moment) []DayBar {
	c := v.school.Calendar
	last := c.UpTo(m.Date)
	byDate := map[day.Date]absence.DayEvidence{}
	for _, e := range ten.Days(place, absence.Span{From: 0, To: last}) {
		byDate[e.Date] = e
	}
	out := make([]DayBar, c.Days())
	for i := range out {
		sd := c.Day(i)
		b := DayBar{Date: sd.Date.String(), Words: sd.Date.Words(), Week: c.Week(i), Term: sd.Term, State: "past", Bars: []Bar{}}
		switch {
		case sd.Date > m.Date:
			b.State = "future"
		case !v.o.ledger.Enrolled(place, i):
			b.State = "out"
		case sd.Date == m.Date:
			b.State = "today"
		}
		if e, ok := byDate[sd.Date]; ok && i <= last {
			b.Bars = barsOf(e, sd.Pattern)
			if e.Missed > 0 {
				b.Missed = day.Duration(e.Missed) + " of " + day.Duration(e.Due)
			}
		}
		out[i] = b
	}
	return out
}

// barsOf shows when of a day was missed, in thousandths of it.
func barsOf(e absence.DayEvidence, p *day.Pattern) []Bar {
	out := []Bar{}
	first, last := p.Slots[0].Start, p.Slots[len(p.Slots)-1].End
	at := func(m day.Minute) int { return int(m-first) * 1000 / int(last-first) }
	for _, k := range e.Marks {
		if k.Missed == 0 {
			continue
		}
		from, to := k.Slot.Start, k.Slot.End
		if k.From > from {
			from = k.From
		}
		if k.To >= 0 && k.To < to {
			to = k.To
		}
		b := Bar{From: at(from), To: at(to), State: codeState(k.Code)}
		switch {
		case k.Code.Unexplained:
			b.State = "unexcused"
		case k.Code.Counts == policy.Attended && !k.Code.Late:
			b.State = "left"
		}
		if n := len(out); n > 0 && out[n-1].State == b.State && b.From-out[n-1].To < 120 {
			out[n-1].To = b.To
			continue
		}
		out = append(out, b)
	}
	return out
}

func (v view) sheetCourses(ctx context.Context, out *StudentSheet, id int64, m Moment) error {
	grades, err := store.GradesOf(ctx, v.o.store.Read(), id, m.Date)
	if err != nil {
		return err
	}
	place := map[int64]int{}
	for _, g := range grades {
		i, ok := place[g.CourseID]
		if !ok {
			i = len(out.Courses)
			place[g.CourseID] = i
			out.Courses = append(out.Courses, CourseLine{Course: v.school.courses[g.CourseID].Title})
		}
		out.Courses[i].Grades = append(out.Courses[i].Grades, g.Grade)
		out.Courses[i].Failing = g.Grade == "F"
	}
	sort.SliceStable(out.Courses, func(a, b int) bool { return out.Courses[a].Failing && !out.Courses[b].Failing })
	return nil
}

func (v view) sheetHistory(ctx context.Context, out *StudentSheet, p Person, s store.Student, m Moment) error {
	q := v.o.store.Read()
	add := func(h HappenedView, at day.Instant, known day.Instant, seq int64) {
		if known > m.Known || at > day.At(m.Date, m.Minute) {
			return
		}
		h.Date, h.sort, h.seq = at.Date().String(), at, seq
		h.When = at.Date().Words()
		if at.Date() == m.Date {
			h.When = "today"
		}
		if h.Kind != "mark" || at.Date() == m.Date {
			h.When += " " + at.Minute().String()
		}
		out.Happened = append(out.Happened, h)
	}
	if err := v.marksHistory(ctx, s, m, add); err != nil {
		return err
	}
	moves, err := store.MovementsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, mv := range moves {
		h := HappenedView{Kind: "desk", State: "in", By: mv.By, Words: map[string]string{"arrived": "Signed in", "departed": "Signed out", "seen": "Found"}[mv.Kind]}
		h.Words = join(" · ", h.Words, mv.Reason, mv.Note, back(orMissing(mv.Returns)))
		if mv.Kind == "departed" {
			h.State = "left"
		}
		if mv.UndoneBy != nil {
			h.Words += " · taken back"
		}
		add(h, day.At(mv.Date, mv.Minute), mv.Known, mv.Journal)
	}
	incidents, err := store.IncidentsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, i := range incidents {
		if i.Date <= m.Date {
			out.Incidents++
		}
		add(HappenedView{Kind: "conduct", Words: join(" · ", i.Kind, i.Place, i.Role, i.Action), By: i.RecordedBy}, day.At(i.Date, i.Minute), 0, i.Journal)
	}
	if p.Role == Teacher {
		sortHappened(out)
		return nil
	}
	if err := v.talkHistory(ctx, s, add); err != nil {
		return err
	}
	sortHappened(out)
	return nil
}

func sortHappened(out *StudentSheet) {
	sort.SliceStable(out.Happened, func(a, b int) bool {
		x, y := out.Happened[a], out.Happened[b]
		if x.sort != y.sort {
			return x.sort > y.sort
		}
		return x.seq > y.seq
	})
	if len(out.Happened) > 60 {
		out.Happened = out.Happened[:60]
	}
}

// talkHistory adds what was said with home.
func (v view) talkHistory(ctx context.Context, s store.Student, add func(HappenedView, day.Instant, day.Instant, int64)) error {
	q := v.o.store.Read()
	notices, err := store.NoticesOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, n := range notices {
		h := HappenedView{Kind: "home", State: "explained", Words: join(" · ", "Home: "+noticeOf(n).words(n.Known.Date()), toldWords(n)), By: n.By}
		if n.WithdrawnBy != nil {
			h.Words += " · withdrawn"
		}
		add(h, n.Known, n.Known, n.Journal)
	}
	calls, err := store.CallsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, c := range calls {
		who := "nobody"
		if c.ContactID != nil {
			who = v.school.contacts[*c.ContactID].Name()
		}
		add(HappenedView{Kind: "call", Words: join(" · ", "Rang "+who+": "+c.Outcome, c.Said, c.Note), By: c.By}, day.At(c.Date, c.Minute), c.Known, c.Journal)
	}
	followups, err := store.FollowupsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, f := range followups {
		add(HappenedView{Kind: "follow-up", Words: join(" · ", "Follow-up: "+f.Outcome, f.Note, nextWords(f.NextDate)), By: f.By}, day.At(f.Date, f.Minute), f.Known, f.Journal)
	}
	return nil
}

func nextWords(d *day.Date) string {
	if d == nil {
		return ""
	}
	return "again " + d.Words()
}

// marksHistory adds the marks of the last sixty school days that were not plain
// presence: a line for a whole day alike, else a line for a mark.
func (v view) marksHistory(ctx context.Context, s store.Student, m Moment, add func(HappenedView, day.Instant, day.Instant, int64)) error {
	if v.school.Calendar == nil {
		return nil
	}
	c := v.school.Calendar
	from := c.Day(max(0, c.UpTo(m.Date)-60)).Date
	marks, err := store.MarksOf(ctx, v.o.store.Read(), s.ID, from, m.Date)
	if err != nil {
		return err
	}
	for len(marks) > 0 {
		n := 1
		for n < len(marks) && marks[n].Date == marks[0].Date {
			n++
		}
		v.dayHistory(marks[:n], m, add)
		marks = marks[n:]
	}
	return nil
}

func (v view) dayHistory(marks []store.Mark, m Moment, add func(HappenedView, day.Instant, day.Instant, int64)) {
	sd, _, ok := v.school.SchoolDay(marks[0].Date)
	if !ok {
		return
	}
	same, slots := true, map[string]bool{}
	for _, k := range marks {
		same = same && k.Code == marks[0].Code && k.Version == 1
		slots[k.Slot] = true
	}
	first := marks[0]
	code, _ := v.codes.Find(first.Code)
	if same && len(slots) > 2 && code.Counts != policy.Attended {
		add(HappenedView{Kind: "mark", State: historyState(code), Words: "All day: " + code.Word, By: first.By}, day.At(first.Date, sd.Pattern.Slots[0].Start), first.Known, first.Journal)
		return
	}
	for _, k := range marks {
		code, _ := v.codes.Find(k.Code)
		pos, ok := sd.Pattern.Position(k.Slot)
		if !ok || (code.Counts == policy.Attended && !code.Late && k.AwayFrom == nil && k.Version == 1) {
			continue
		}
		slot := sd.Pattern.Slots[pos]
		words := slot.Words() + ": " + code.Word
		if k.AwayTo != nil {
			words += ", came " + k.AwayTo.String()
		}
		if k.AwayFrom != nil {
			words += " at " + k.AwayFrom.String()
		}
		if k.Version > 1 {
			words = "corrected, " + words
		}
		at := slot.Start
		if k.Known.Date() == k.Date && k.Version > 1 {
			at = k.Known.Minute()
		}
		add(HappenedView{Kind: "mark", State: historyState(code), Words: join(" · ", words, k.Reason, k.Note), By: k.By}, day.At(k.Date, at), k.Known, k.Journal)
	}
}

func historyState(c policy.Code) string {
	if c.Unexplained {
		return whereabouts.Unaccounted.Slug()
	}
	return codeState(c)
}

package studentpage

import (
	"cmp"
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/parttime"
)

// PartTimeView is when a student is due and how much of full time is here, over time.
type PartTimeView struct {
	Student  pages.StudentRef `json:"student"`
	Today    string           `json:"today"`
	Periods  []PartTimePeriod `json:"periods" doc:"In the order of their dates; what is over at the top"`
	Slots    []SlotOffered    `json:"slots" doc:"The slots there are, by time"`
	Weekdays []DayOffered     `json:"weekdays" doc:"Those on which there is school"`
}

// PartTimePeriod is what holds of a student's time over some dates.
type PartTimePeriod struct {
	From      string         `json:"from" doc:"YYYY-MM-DD; empty for always"`
	To        string         `json:"to" doc:"YYYY-MM-DD; empty for no end"`
	When      string         `json:"when" doc:"In words"`
	Now       bool           `json:"now" doc:"It holds today"`
	Here      string         `json:"here" doc:"Share of full time here"`
	Elsewhere string         `json:"elsewhere"`
	Words     string         `json:"words" doc:"In which slots, in words"`
	Full      bool           `json:"full" doc:"Due in every slot, with all of the time here"`
	Slots     []parttime.Due `json:"slots" doc:"None for every one"`
}

// SlotOffered is a slot in which one can be due.
type SlotOffered struct {
	Slot  string `json:"slot"`
	Label string `json:"label"`
	From  string `json:"from"`
}

// DayOffered is a day of the week.
type DayOffered struct {
	Weekday int    `json:"weekday"`
	Label   string `json:"label"`
}

// ShowPartTime returns a student's time here and elsewhere, for who may see the student.
func ShowPartTime(ctx context.Context, o *work.Office, p work.Person, student ids.Student) (PartTimeView, error) {
	out := PartTimeView{Periods: []PartTimePeriod{}, Slots: []SlotOffered{}, Weekdays: []DayOffered{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		st, err := v.Student(student)
		if err != nil {
			return err
		}
		if err := v.MaySee(p, student); err != nil {
			return err
		}
		out.Student, out.Today = pages.Student(v, st, v.On), v.On.String()
		s := v.Of(student)
		weekdays := out.offer(s)
		rows := v.School.Records().Rows
		for _, on := range stretches(rows, student) {
			out.Periods = append(out.Periods, period(rows, student, on, v.On, weekdays))
		}
		return nil
	})
	return out, err
}

// offer lists the slots and weekdays of a section.
func (out *PartTimeView) offer(s work.Section) (weekdays []int) {
	var slots []store.PatternSlot
	for _, x := range s.School.Records().Rows.PatternSlots {
		if x.SectionID == s.ID && !x.Once && x.Dates().To >= s.On && !slices.ContainsFunc(slots, func(o store.PatternSlot) bool { return o.Slot == x.Slot }) {
			slots = append(slots, x)
		}
	}
	slices.SortStableFunc(slots, func(a, b store.PatternSlot) int {
		return cmp.Compare(a.Start.SinceMidnight(), b.Start.SinceMidnight())
	})
	for _, x := range slots {
		label := x.Slot
		if x.Kind == day.Registration.String() {
			label += " registration"
		}
		out.Slots = append(out.Slots, SlotOffered{x.Slot, label, x.Start.String()})
	}
	weekdays = parttime.Weekdays(s)
	for _, n := range weekdays {
		out.Weekdays = append(out.Weekdays, DayOffered{n, parttime.Weekday(n)[:3]})
	}
	return weekdays
}

// stretches returns the dates on which nothing of a student's time changes, in their order.
func stretches(rows store.School, student ids.Student) []day.Dates {
	starts := []day.Date{}
	last := day.NoStart
	add := func(on day.Dates) {
		starts = append(starts, on.From)
		if on.To != day.NoEnd {
			starts = append(starts, on.To+1)
		}
		last = max(last, on.To)
	}
	first := day.NoEnd
	for _, x := range rows.Details {
		if x.StudentID == student {
			add(x.Dates())
			first = min(first, x.Dates().From)
		}
	}
	for _, x := range rows.Slots {
		if x.StudentID == student {
			add(x.Dates())
		}
	}
	slices.Sort(starts)
	starts = slices.Compact(starts)
	var out []day.Dates
	for i, from := range starts {
		if from < first || from > last {
			continue
		}
		on := day.Since(from)
		if i+1 < len(starts) {
			on.To = starts[i+1] - 1
		}
		out = append(out, on)
	}
	return merged(rows, student, out)
}

// merged joins stretches that meet and say the same: another year group begins no other time.
func merged(rows store.School, student ids.Student, list []day.Dates) []day.Dates {
	var out []day.Dates
	for _, on := range list {
		if n := len(out); n > 0 && out[n-1].To+1 == on.From {
			a, b := period(rows, student, out[n-1], 0, nil), period(rows, student, on, 0, nil)
			if a.Here == b.Here && a.Elsewhere == b.Elsewhere && slices.Equal(a.Slots, b.Slots) {
				out[n-1].To = on.To
				continue
			}
		}
		out = append(out, on)
	}
	return out
}

// period says what holds on the first of some dates.
func period(rows store.School, student ids.Student, on day.Dates, today day.Date, weekdays []int) PartTimePeriod {
	out := PartTimePeriod{When: "always", Now: on.Has(today), Here: "1", Elsewhere: "0", Slots: []parttime.Due{}}
	at := on.From
	if at == day.NoStart {
		at = min(on.To, 0)
	}
	spoken := func(d day.Date) string { return d.Spoken() + d.Time().Format(" 2006") }
	switch {
	case on.From == day.NoStart && on.To != day.NoEnd:
		out.When = "until " + spoken(on.To)
	case on.From != day.NoStart:
		out.When = "from " + spoken(on.From)
		if on.To != day.NoEnd {
			out.When += " to " + spoken(on.To)
		}
	}
	if on.From != day.NoStart {
		out.From = on.From.String()
	}
	if on.To != day.NoEnd {
		out.To = on.To.String()
	}
	for _, x := range rows.Details {
		if x.StudentID == student && x.On(at) {
			out.Here, out.Elsewhere = x.ShareHere, x.ShareElsewhere
		}
	}
	for _, x := range rows.Slots {
		if x.StudentID == student && x.On(at) {
			out.Slots = append(out.Slots, parttime.Due{Slot: x.Slot, Weekday: x.Weekday})
		}
	}
	slices.SortStableFunc(out.Slots, func(a, b parttime.Due) int { return startOf(rows, a.Slot) - startOf(rows, b.Slot) })
	out.Words = parttime.Say(out.Slots, weekdays)
	here, err := policy.ParseFraction(out.Here)
	out.Full = len(out.Slots) == 0 && err == nil && here.Cmp(1, 1) == 0
	return out
}

// startOf returns when a slot begins, of the first pattern that has it.
func startOf(rows store.School, slot string) int {
	for _, x := range rows.PatternSlots {
		if x.Slot == slot {
			return int(x.Start.SinceMidnight())
		}
	}
	return 0
}

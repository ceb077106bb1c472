// Package parttime sets when a part-time student is due, and how much of full time is here and
// elsewhere, from a date on.
package parttime

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// Schedule is when a student is due and how much of full time is here, over some dates. Beyond them
// what was said stays.
type Schedule struct {
	Student   ids.Student `json:"student"`
	From      string      `json:"from,omitempty" maxLength:"10" doc:"YYYY-MM-DD; empty is today, or the day after for who has a mark of today"`
	To        string      `json:"to,omitempty" maxLength:"10" doc:"The last date; empty for no end"`
	Here      string      `json:"here" maxLength:"20" doc:"Share of full time here: 1/2, 0.5 or 50 %"`
	Elsewhere string      `json:"elsewhere" maxLength:"20"`
	Slots     []Due       `json:"slots,omitempty" maxItems:"500" doc:"In which the student is due; none for every one"`
	Past      bool        `json:"past,omitempty" doc:"The past is to be corrected: From may lie among the days whose registers are in"`
	Apply     bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
	Seen      string      `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// Due is a slot in which a student is due.
type Due struct {
	Slot    string `json:"slot" maxLength:"20"`
	Weekday int    `json:"weekday" minimum:"0" maximum:"7" doc:"1 is Monday; 0 is every day"`
}

// Set says what a schedule would change, and sets it when asked to.
func Set(ctx context.Context, o *work.Office, p work.Person, key string, in Schedule) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MaySetPartTime, Kind: "part-time", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen, CorrectPast: in.Past}, &change{in: in})
}

type change struct {
	in   Schedule
	next store.School
}

func (c *change) Plan(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	st, err := v.Student(c.in.Student)
	if err != nil {
		return p, rows, err
	}
	over, err := c.over(ctx, v, lastSent, sent)
	if err != nil {
		return p, rows, err
	}
	here, elsewhere, err := c.shares()
	if err != nil {
		return p, rows, err
	}
	slots, err := c.slots(v, rows, over)
	if err != nil {
		return p, rows, err
	}
	p.Hold(over, lastSent, sent)
	c.next = rows
	c.next.Details = setShares(&p, rows.Details, st, over, here, elsewhere)
	c.next.Slots = setSlots(&p, rows.Slots, st, over, slots)
	if sum := here.Add(elsewhere); sum.Cmp(1, 1) < 0 {
		p.Note("%s here and %s elsewhere are more than full time", policy.Share(here), policy.Share(elsewhere))
	}
	return p, c.next, nil
}

// over returns the dates over which something is said.
func (c *change) over(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (day.Dates, error) {
	over := day.Dates{To: day.NoEnd}
	usual := v.Now.Date()
	marked, err := store.MarkedFrom(ctx, v.Store(), usual)
	if err != nil {
		return over, err
	}
	if last, has := marked[c.in.Student]; has {
		usual = last + 1
	}
	opt := plans.Options{CorrectPast: c.in.Past, From: &usual}
	if c.in.From != "" {
		from, err := day.ParseDate(c.in.From)
		if err != nil {
			return over, work.Wrongf("%v; nothing was changed", err)
		}
		opt.From = &from
	}
	if over.From, err = plans.Beginning(usual, opt, lastSent, sent); err != nil {
		return over, err
	}
	if c.in.To != "" {
		if over.To, err = day.ParseDate(c.in.To); err != nil {
			return over, work.Wrongf("%v; nothing was changed", err)
		}
	}
	if over.Empty() {
		return over, work.Wrongf("it would end on %s, before it begins on %s; nothing was changed", over.To.Spoken(), over.From.Spoken())
	}
	return over, nil
}

func (c *change) shares() (here, elsewhere policy.Fraction, err error) {
	for _, x := range []struct {
		text string
		to   *policy.Fraction
		what string
	}{{c.in.Here, &here, "here"}, {c.in.Elsewhere, &elsewhere, "elsewhere"}} {
		f, err := policy.ParseShare(x.text)
		if err != nil || f.Cmp(1, 1) < 0 {
			return here, elsewhere, work.Wrongf("the share %s is %q; a part of full time such as 1/2 or 50 %% is expected; nothing was changed", x.what, x.text)
		}
		*x.to = f
	}
	if here.Sign() == 0 {
		return here, elsewhere, work.Wrongf("who has no share here is not on the roll: say how much of full time is here; nothing was changed")
	}
	return here, elsewhere, nil
}

// slots returns the slots asked for, each on days of its own or on every day; nil for all there are.
func (c *change) slots(v work.Snapshot, rows store.School, over day.Dates) ([]store.StudentSlot, error) {
	there, all := map[string]bool{}, true
	s := v.Of(c.in.Student)
	for _, x := range rows.PatternSlots {
		there[x.Slot] = there[x.Slot] || !x.Dates().Common(over).Empty()
	}
	asked := everyDay(c.in.Slots, Weekdays(s))
	for _, x := range rows.PatternSlots {
		if x.SectionID == s.ID && !x.Once && !x.Dates().Common(over).Empty() {
			all = all && slices.Contains(asked, Due{Slot: x.Slot})
		}
	}
	if all {
		return nil, nil
	}
	var out []store.StudentSlot
	for _, d := range asked {
		if !there[d.Slot] {
			return nil, work.Wrongf("there is no slot %q in any day pattern; nothing was changed", d.Slot)
		}
		row := store.StudentSlot{StudentID: c.in.Student, Slot: d.Slot, Weekday: d.Weekday}
		if slices.ContainsFunc(out, func(x store.StudentSlot) bool {
			return x.Slot == d.Slot && (x.Weekday == d.Weekday || x.Weekday == 0 || d.Weekday == 0)
		}) {
			return nil, work.Wrongf("the slot %s is there twice; nothing was changed", d.Slot)
		}
		out = append(out, row)
	}
	return out, nil
}

// setShares says shares over some dates; the student's year and section stay what they were on each.
func setShares(p *plans.Plan, all []store.StudentDetail, st store.Student, over day.Dates, here, elsewhere policy.Fraction) []store.StudentDetail {
	var others []store.StudentDetail
	var was []day.Dated[store.StudentDetail]
	for _, x := range all {
		if x.StudentID != st.ID {
			others = append(others, x)
			continue
		}
		on := x.Dates()
		x.Held = store.Held{}
		was = append(was, day.Dated[store.StudentDetail]{What: x, On: on})
	}
	slices.SortFunc(was, func(a, b day.Dated[store.StudentDetail]) int { return int(a.On.From - b.On.From) })
	then := was
	changed := []string{}
	for _, x := range was {
		on := x.On.Common(over)
		if on.Empty() {
			continue
		}
		now := x.What
		now.ShareHere, now.ShareElsewhere = same(x.What.ShareHere, here), same(x.What.ShareElsewhere, elsewhere)
		if now != x.What {
			changed = append(changed, fmt.Sprintf("shares of %s from %s here and %s elsewhere to %s and %s", st.Name(), x.What.ShareHere, x.What.ShareElsewhere, now.ShareHere, now.ShareElsewhere))
		}
		then = day.Supersede(then, &now, on)
	}
	part := plans.PlanPart{What: "share of a student", Changed: len(changed)}
	if len(changed) == 0 {
		part.Same = 1
	}
	p.Parts = append(p.Parts, part)
	for _, line := range changed {
		p.Detail("%s", line)
	}
	for _, d := range then {
		x := d.What
		x.Held = store.HeldOn(d.On)
		others = append(others, x)
	}
	return others
}

// same keeps a share as it is written where it is the same number.
func same(written string, f policy.Fraction) string {
	if was, err := policy.ParseFraction(written); err == nil && was.Rat().Cmp(f.Rat()) == 0 {
		return written
	}
	return f.String()
}

// setSlots says in which slots a student is due over some dates.
func setSlots(p *plans.Plan, all []store.StudentSlot, st store.Student, over day.Dates, now []store.StudentSlot) []store.StudentSlot {
	var others, own []store.StudentSlot
	for _, x := range all {
		if x.StudentID == st.ID {
			own = append(own, x)
		} else {
			others = append(others, x)
		}
	}
	said := plans.Said(p, "slot of a part-time student", own, now, over, func(x store.StudentSlot) store.StudentSlot { return x },
		func(x *store.StudentSlot) *store.Held { return &x.Held },
		func(x store.StudentSlot) string { return work.Join(", ", st.Name(), Words(x.Weekday, x.Slot)) })
	return append(others, said...)
}

// Words names a slot with its weekday: "Monday AM", "AM every day".
func Words(weekday int, slot string) string {
	if weekday == 0 {
		return slot + " every day"
	}
	return Weekday(weekday) + " " + slot
}

// Weekday names a day of the week; 1 is Monday.
func Weekday(n int) string {
	return (day.MustDate("2024-01-01") + day.Date(n-1)).Time().Format("Monday")
}

func (c *change) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, next store.School) error {
	of := func(id ids.Student) bool { return id == c.in.Student }
	details := slices.DeleteFunc(slices.Clone(next.Details), func(x store.StudentDetail) bool { return !of(x.StudentID) })
	slots := slices.DeleteFunc(slices.Clone(next.Slots), func(x store.StudentSlot) bool { return !of(x.StudentID) })
	return store.SetPartTime(ctx, tx.Tx, c.in.Student, details, slots)
}

// everyDay says of a slot that is due on all weekdays that it is due every day.
func everyDay(slots []Due, weekdays []int) []Due {
	var out []Due
	for _, d := range slots {
		whole := d.Weekday != 0 && len(weekdays) > 0 && !slices.ContainsFunc(weekdays, func(n int) bool { return !slices.Contains(slots, Due{d.Slot, n}) })
		switch {
		case !whole:
			out = append(out, d)
		case !slices.Contains(out, Due{Slot: d.Slot}):
			out = append(out, Due{Slot: d.Slot})
		}
	}
	return out
}

// Weekdays returns the days of the week on which a section has school; Monday to Friday while it has
// no calendar.
func Weekdays(s work.Section) []int {
	there := map[int]bool{}
	if c := s.Calendar; c != nil {
		for i := range c.Days() {
			there[c.Day(i).Date.Weekday()] = true
		}
	}
	var out []int
	for n := 1; n <= 7; n++ {
		if there[n] || len(there) == 0 && n <= 5 {
			out = append(out, n)
		}
	}
	return out
}

// Say says in words when a student is due: "Mon to Wed AM, 1, 2; Thu AM". Nothing is every slot.
func Say(slots []Due, weekdays []int) string {
	if len(slots) == 0 {
		return "every slot"
	}
	type run struct {
		days []int
		what string
	}
	var runs []run
	for _, n := range weekdays {
		var on []string
		for _, d := range slots {
			if d.Weekday == 0 || d.Weekday == n {
				on = append(on, d.Slot)
			}
		}
		what := strings.Join(on, ", ")
		switch last := len(runs) - 1; {
		case what == "":
		case last >= 0 && runs[last].what == what:
			runs[last].days = append(runs[last].days, n)
		default:
			runs = append(runs, run{[]int{n}, what})
		}
	}
	var out []string
	for _, r := range runs {
		days := Weekday(r.days[0])[:3]
		switch n := len(r.days); {
		case n == len(weekdays):
			days = "every day"
		case n == 2:
			days += " and " + Weekday(r.days[1])[:3]
		case n > 2 && r.days[n-1]-r.days[0] == n-1:
			days += " to " + Weekday(r.days[n-1])[:3]
		case n > 2:
			for _, d := range r.days[1:] {
				days += ", " + Weekday(d)[:3]
			}
		}
		out = append(out, days+" "+r.what)
	}
	return strings.Join(out, "; ")
}

package calendar

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// Bells are the slots of a day pattern as they are from a date on. A slot that is left out is none from
// then on.
type Bells struct {
	Section ids.Section `json:"section"`
	Pattern string      `json:"pattern" minLength:"1" maxLength:"60"`
	From    string      `json:"from" minLength:"10" maxLength:"10" doc:"YYYY-MM-DD"`
	Slots   []BellSlot  `json:"slots" minItems:"1" maxItems:"60"`
	New     bool        `json:"new,omitempty" doc:"It is a pattern that there is not yet"`
	Past    bool        `json:"past,omitempty" doc:"The past is to be corrected: From may lie among the days whose registers are in"`
	Apply   bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
	Seen    string      `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// BellSlot is a slot with its times.
type BellSlot struct {
	Slot string `json:"slot" maxLength:"20"`
	Kind string `json:"kind" enum:"registration,lesson"`
	From string `json:"from" maxLength:"10" doc:"As typed"`
	To   string `json:"to" maxLength:"10" doc:"As typed"`
}

// SetBells says what other times of a day pattern would change, and sets them when asked to. Days that
// were put right stay as they were put right.
func SetBells(ctx context.Context, o *work.Office, p work.Person, key string, in Bells) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MaySetBells, Kind: "bell times", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen, CorrectPast: in.Past}, &newBells{in: in})
}

type newBells struct{ in Bells }

func (c *newBells) Plan(_ context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	section, err := v.SectionWith(c.in.Section)
	if err != nil {
		return p, rows, err
	}
	asked, err := day.ParseDate(c.in.From)
	if err != nil {
		return p, rows, work.Wrongf("%v; nothing was changed", err)
	}
	from, err := plans.Beginning(v.Now.Date()+1, plans.Options{From: &asked, CorrectPast: c.in.Past}, lastSent, sent)
	if err != nil {
		return p, rows, err
	}
	over := day.Since(from)
	var kept, of, once []store.PatternSlot
	for _, x := range rows.PatternSlots {
		switch {
		case x.SectionID != section.ID || x.Pattern != c.in.Pattern:
			kept = append(kept, x)
		case x.Once && !x.Dates().Common(over).Empty():
			once = append(once, x)
			of = append(of, x)
		default:
			of = append(of, x)
		}
	}
	switch {
	case len(of) == 0 && !c.in.New:
		return p, rows, work.NotFoundf("there is no day pattern %q; nothing was changed", c.in.Pattern)
	case len(of) > 0 && c.in.New:
		return p, rows, work.Conflictf("there is a day pattern %q already; nothing was changed", c.in.Pattern)
	}
	slots, err := c.in.slots(section.ID)
	if err != nil {
		return p, rows, err
	}
	scratch := plans.New(nil, nil)
	for _, x := range once { // as if no day had been put right
		of = sayTimes(&scratch, of, usualSlots(v, section.ID, x.From), day.Dates{From: x.From, To: x.From})
	}
	said := sayTimes(&p, of, slots, over)
	for _, x := range once {
		said = sayTimes(&scratch, said, putRight(slots, once, x.From), day.Dates{From: x.From, To: x.From})
	}
	next := rows
	next.PatternSlots = append(kept, said...)
	c.lost(&p, v, rows, section.ID, slots, over)
	p.Hold(over, lastSent, sent)
	return p, next, nil
}

// sayTimes says the slots of a day pattern over some dates.
func sayTimes(p *plans.Plan, of, slots []store.PatternSlot, over day.Dates) []store.PatternSlot {
	return plans.Said(p, "slot", of, slots, over,
		func(x store.PatternSlot) string { return x.Slot },
		func(x *store.PatternSlot) *store.Held { return &x.Held },
		func(x store.PatternSlot) string { return fmt.Sprintf("%s, %s to %s", x.Slot, x.Start, x.End) })
}

// usualSlots returns the slots of a date as they would be had it not been put right.
func usualSlots(v work.Snapshot, section ids.Section, d day.Date) []store.PatternSlot {
	var out []store.PatternSlot
	for _, x := range UsualTimes(v, section, d) {
		x.Held = store.Held{}
		out = append(out, x)
	}
	return out
}

// putRight returns the slots of a date of which some were put right.
func putRight(slots, once []store.PatternSlot, d day.Date) []store.PatternSlot {
	out := slices.Clone(slots)
	for _, x := range once {
		i := slices.IndexFunc(out, func(s store.PatternSlot) bool { return s.Slot == x.Slot })
		if x.From == d && i >= 0 {
			x.Held = store.Held{}
			out[i] = x
		}
	}
	return out
}

// slots reads the slots: named, none twice, none over another.
func (b Bells) slots(section ids.Section) ([]store.PatternSlot, error) {
	var out []store.PatternSlot
	for _, s := range b.Slots {
		row := store.PatternSlot{SectionID: section, Pattern: b.Pattern, Slot: strings.TrimSpace(s.Slot), Kind: s.Kind}
		var err error
		if row.Slot == "" {
			return nil, work.Wrongf("a slot needs a name; nothing was changed")
		}
		if row.Start, err = day.ParseTyped(s.From); err == nil {
			row.End, err = day.ParseTyped(s.To)
		}
		switch {
		case err != nil:
			return nil, work.Wrongf("%s: %v; nothing was changed", row.Slot, err)
		case !row.End.After(row.Start):
			return nil, work.Wrongf("%s can’t end at %s, it begins at %s; nothing was changed", row.Slot, row.End, row.Start)
		}
		out = append(out, row)
	}
	if err := apart(out); err != nil {
		return nil, err
	}
	slices.SortStableFunc(out, func(a, b store.PatternSlot) int {
		return cmp.Compare(a.Start.SinceMidnight(), b.Start.SinceMidnight())
	})
	return out, nil
}

// apart refuses slots of one name, and such at the same time.
func apart(slots []store.PatternSlot) error {
	for i, a := range slots {
		for _, b := range slots[:i] {
			switch {
			case a.Slot == b.Slot:
				return work.Wrongf("the slot %s is there twice; nothing was changed", a.Slot)
			case day.Overlap(a.Start, a.End, b.Start, b.End) > 0:
				return work.Wrongf("%s, %s to %s, and %s, %s to %s, would be at the same time; nothing was changed", b.Slot, b.Start, b.End, a.Slot, a.Start, a.End)
			}
		}
	}
	return nil
}

// lost notes what names slots that are none any more.
func (c *newBells) lost(p *plans.Plan, v work.Snapshot, rows store.School, section ids.Section, slots []store.PatternSlot, over day.Dates) {
	there := map[string]bool{}
	for _, x := range slots {
		there[x.Slot] = true
	}
	for _, x := range rows.PatternSlots {
		if x.SectionID == section && x.Pattern != c.in.Pattern && !x.Once && !x.Dates().Common(over).Empty() {
			there[x.Slot] = true
		}
	}
	meetings, students := 0, map[ids.Student]bool{}
	for _, m := range rows.Timetable {
		if !there[m.Slot] && !m.Dates().Common(over).Empty() && v.School.SectionOfClass(m.ClassID).ID == section {
			meetings++
		}
	}
	for _, x := range rows.Slots {
		if !there[x.Slot] && !x.Dates().Common(over).Empty() && v.Of(x.StudentID).ID == section {
			students[x.StudentID] = true
		}
	}
	if meetings > 0 {
		p.Note("%s of the timetable are in slots that are none any more: nobody meets there", work.Count(meetings, "lesson"))
	}
	if len(students) > 0 {
		p.Note("%s with an own timetable are due in slots that are none any more", work.Count(len(students), "student"))
	}
}

func (c *newBells) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, next store.School) error {
	return store.ReplaceTimetable(ctx, tx.Tx, next)
}

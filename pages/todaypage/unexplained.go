package todaypage

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/absence"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/work"
)

// UnexplainedDay is a day without a reason.
type UnexplainedDay struct {
	Date    string `json:"date"`
	Label   string `json:"label" doc:"The date in words"`
	Slots   string `json:"slots" doc:"Which slots, in words; empty for all of them"`
	Since   int    `json:"since" doc:"School days since"`
	Overdue bool   `json:"overdue"`
}

// UnexplainedStudent is a student whose reason is missing for some days.
type UnexplainedStudent struct {
	Student pages.StudentRef `json:"student"`
	Days    []UnexplainedDay `json:"days" doc:"Oldest first"`
	Overdue int              `json:"overdue" doc:"How many of them are overdue"`
	Contact string           `json:"contact" doc:"Who is rung first, with the number; empty for nobody"`
}

// UnexplainedView is the list of missing reasons.
type UnexplainedView struct {
	Scope    string               `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Policy   string               `json:"policy"`
	After    int                  `json:"after" doc:"School days after which a reason is overdue"`
	Students []UnexplainedStudent `json:"students" doc:"The longest overdue first"`
	Overdue  int                  `json:"overdue" doc:"Students of them with an overdue reason"`
}

// ShowUnexplained lists who was absent without a reason before the day of a moment.
func ShowUnexplained(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (UnexplainedView, error) {
	out := UnexplainedView{Students: []UnexplainedStudent{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Scope = v.ScopeText(m.Scope)
		after, err := reasonsAfter(v)
		if err != nil {
			return err
		}
		for _, s := range x.Roll {
			p := after[s.Section]
			if p == nil {
				continue
			}
			out.Policy, out.After = p.Title, p.UnexplainedAfter
			row, ok := unexplained(v.Of(s.ID), s.ID, p.UnexplainedAfter, m)
			if !ok {
				continue
			}
			row.Student = pages.Student(v, s, m.Date)
			for _, c := range v.School.ContactsOf(s.ID) {
				if !c.DoNotCall {
					row.Contact = c.Name + " · " + c.Phone
					break
				}
			}
			if row.Overdue > 0 {
				out.Overdue++
			}
			out.Students = append(out.Students, row)
		}
		slices.SortStableFunc(out.Students, func(a, b UnexplainedStudent) int { return b.Days[0].Since - a.Days[0].Since })
		return nil
	})
	return out, err
}

// reasonsAfter is each section's policy that says when a reason is overdue.
func reasonsAfter(v work.Snapshot) (map[ids.Section]*policy.Policy, error) {
	out := map[ids.Section]*policy.Policy{}
	for _, s := range v.Sections() {
		p, ok, err := reasonPolicy(s)
		if err != nil {
			return nil, err
		}
		if ok {
			out[s.ID] = p
		}
	}
	return out, nil
}

// reasonPolicy is the shipped policy that says when a reason is overdue; of several the
// one with the fewest days.
func reasonPolicy(v work.Section) (*policy.Policy, bool, error) {
	if v.Ledger == nil {
		return nil, false, nil
	}
	panel, err := v.Panel()
	if err != nil {
		return nil, false, err
	}
	var found *policy.Policy
	for _, m := range panel.Measures() {
		if p := m.Policy(); p.UnexplainedAfter > 0 && (found == nil || p.UnexplainedAfter < found.UnexplainedAfter) {
			found = p
		}
	}
	return found, found != nil, nil
}

// unexplained lists a student's days without a reason before the day of a moment; ok is
// false for none.
func unexplained(v work.Section, student ids.Student, after int, m work.Moment) (UnexplainedStudent, bool) {
	var row UnexplainedStudent
	if v.Place(student) < 0 {
		return row, false
	}
	c := v.Calendar
	asAt := c.UpTo(m.Date)
	for _, d := range v.Ledger.UnexplainedDays(v.Place(student), asAt) {
		sd := c.Day(d.Day)
		if sd.Date >= m.Date {
			continue // today's are on the call list
		}
		one := UnexplainedDay{Date: sd.Date.String(), Label: sd.Date.Spoken(), Since: d.Since, Overdue: d.Since >= after}
		if len(d.Slots) < dueSlots(v, student, d) {
			names := make([]string, len(d.Slots))
			for i, pos := range d.Slots {
				names[i] = sd.Pattern.Slots[pos].Name
			}
			one.Slots = strings.Join(names, ", ")
		}
		if one.Overdue {
			row.Overdue++
		}
		row.Days = append(row.Days, one)
	}
	return row, len(row.Days) > 0
}

func dueSlots(v work.Section, student ids.Student, d absence.UnexplainedDay) int {
	n := 0
	for pos := range v.Calendar.Day(d.Day).Pattern.Slots {
		if v.Ledger.Due(v.Place(student), d.Day, pos) {
			n++
		}
	}
	return n
}

// overdueReasons counts the students with an overdue reason.
func overdueReasons(v work.Snapshot, x *work.Day, m work.Moment) int {
	after, err := reasonsAfter(v)
	if err != nil {
		return 0
	}
	n := 0
	for _, on := range x.Sections {
		p := after[on.ID]
		if p == nil {
			continue
		}
		key := fmt.Sprint("reasons overdue ", on.ID, m.Date, p.UnexplainedAfter)
		overdue, err := work.Remember(v, key, []string{work.PastMarks}, func() (int, error) {
			n := 0
			for _, s := range x.Roll {
				if s.Section != on.ID {
					continue
				}
				if row, ok := unexplained(v.Of(s.ID), s.ID, p.UnexplainedAfter, m); ok && row.Overdue > 0 {
					n++
				}
			}
			return n, nil
		})
		if err == nil {
			n += overdue
		}
	}
	return n
}

package steps

import (
	"fmt"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/work"
)

// Title says what is to be done and why, in a few words: "Letter home, 5 unexcused days".
func (i Item) Title() string {
	if i.Row != nil && i.Cause == nil {
		return i.Row.Title
	}
	if t := i.Trigger(); t != nil && i.Rule().Do == "" {
		return work.Join(", ", i.Action.Name, Line(t))
	}
	return work.Join(", ", i.Action.Name, LateText(i))
}

// Line says which line a trigger is: "5 unexcused days", "30 h unexcused in a run".
func Line(t *policy.Trigger) string {
	over := ""
	if t.Window.Kind != policy.Year {
		over = " " + t.Window.Words()
	}
	switch t.Count {
	case policy.CountLates:
		return t.Count.Of(t.Reach) + over
	case policy.CountMinutes:
		return t.Count.Of(t.Reach) + " " + t.Of.Words() + over
	default:
		one := map[bool]string{true: "day", false: "session"}[t.Count == policy.CountDays]
		if t.Reach != 1 {
			one += "s"
		}
		return fmt.Sprint(t.Reach, " ", t.Of.Words(), " ", one, over)
	}
}

// LateText says which late makes a step of a ladder due: "4th late in 12En1, Quarter 3".
func LateText(i Item) string {
	if i.Cause == nil {
		return absence.Ordinal(i.Rule().Number) + " late"
	}
	return i.Cause.Late.Words()
}

// Counted says what came to the line: "5 days", and on which dates.
func (i Item) Counted(s work.Section) (count string, dates []day.Date) {
	if i.Cause == nil {
		return "", nil
	}
	if i.Cause.Trigger < 0 {
		return policy.CountLates.Of(i.Cause.Number), []day.Date{i.On}
	}
	t := &i.Measure.Policy().Triggers[i.Cause.Trigger]
	for _, a := range i.Measure.BehindOccasion(s.Place(i.Student.ID), i.Cause.Trigger, i.Cause.Occasion) {
		dates = append(dates, s.Calendar.Day(a.Day).Date)
	}
	return t.Count.Of(i.Cause.Occasion.CountThen), dates
}

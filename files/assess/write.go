package assess

import (
	"iter"
	"strconv"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/files/table"
)

// Person is what the students' table says beside what the ledger needs.
type Person struct{ Family, Given, Year, Form string }

// Write returns a ledger as the files that Read reads; people are in the order of
// the ledger. Read on them gives a ledger that measures the same.
func Write(l *absence.Ledger, people []Person) table.Files {
	return table.Files{
		Calendar: table.WriteEach(columns[Calendar], calendarRows(l.Calendar())),
		Slots:    table.WriteEach([]string{"day", "slot", "start", "end", "kind"}, slotRows(l.Calendar())),
		Students: table.WriteEach(columns[Students], studentRows(l, people)),
		Schedule: table.WriteEach([]string{"student", "slot", "weekday"}, scheduleRows(l)),
		Marks:    table.WriteEach(columns[Marks], markRows(l)),
	}
}

func calendarRows(c *day.Calendar) iter.Seq[[]string] {
	return func(yield func([]string) bool) {
		first, last := c.Span()
		for d := first; d <= last; d++ {
			row := []string{d.String(), day.Closed, "", ""}
			if i, open := c.Index(d); open {
				sd := c.Day(i)
				row = []string{d.String(), sd.Pattern.Name, sd.Term, sd.GradingPeriod}
			}
			if !yield(row) {
				return
			}
		}
	}
}

func slotRows(c *day.Calendar) iter.Seq[[]string] {
	return func(yield func([]string) bool) {
		for _, p := range c.Patterns() {
			for _, s := range p.Slots {
				if !yield([]string{p.Name, s.Name, s.Start.String(), s.End.String(), s.Kind.String()}) {
					return
				}
			}
		}
	}
}

func studentRows(l *absence.Ledger, people []Person) iter.Seq[[]string] {
	return func(yield func([]string) bool) {
		for i, p := range people {
			s := l.Student(i)
			to := ""
			if s.To != absence.NoEnd {
				to = s.To.String()
			}
			here, _ := s.ShareHere.Decimal() // shares are read as decimals
			elsewhere, _ := s.ShareElsewhere.Decimal()
			if !yield([]string{s.ID, p.Family, p.Given, p.Year, p.Form, s.From.String(), to, here, elsewhere}) {
				return
			}
		}
	}
}

func scheduleRows(l *absence.Ledger) iter.Seq[[]string] {
	return func(yield func([]string) bool) {
		for i := range l.Len() {
			s := l.Student(i)
			for _, r := range s.Schedule {
				weekday := ""
				if r.Weekday > 0 {
					weekday = strconv.Itoa(r.Weekday)
				}
				if !yield([]string{s.ID, r.Slot, weekday}) {
					return
				}
			}
		}
	}
}

func markRows(l *absence.Ledger) iter.Seq[[]string] {
	codes := l.Codes().Codes
	return func(yield func([]string) bool) {
		for i := range l.Len() {
			id := l.Student(i).ID
			for d := range l.Calendar().Days() {
				sd := l.Calendar().Day(d)
				for pos, slot := range sd.Pattern.Slots {
					m, marked := l.Mark(i, d, pos)
					if !marked || !l.Due(i, d, pos) {
						continue
					}
					if !yield([]string{id, sd.Date.String(), slot.Name, codes[m.Code].Code, m.From.String(), m.To.String(), m.Class}) {
						return
					}
				}
			}
		}
	}
}

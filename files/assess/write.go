package assess

import (
	"iter"
	"slices"
	"strconv"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/table"
)

// Person is what the students' table says beside what the ledger needs.
type Person struct{ Family, Given, Year, Form string }

// Write returns what a ledger says of some dates, on which one code set holds, as the files
// that Read reads; people are in the order of the ledger. Read on the whole year's files
// gives a ledger that measures the same. A pattern that has changed is several. They are made
// while they are written, from the ledger as it then is.
func Write(l *absence.Ledger, people []Person, on day.Dates) table.Contents {
	files := table.Contents{
		Calendar: table.Rows(columns[Calendar], calendarRows(l.Calendar(), on)),
		Slots:    table.Rows([]string{"day", "slot", "start", "end", "kind"}, slotRows(l.Calendar())),
		Students: table.Rows(columns[Students], studentRows(l, people)),
		Schedule: table.Rows([]string{"student", "slot", "weekday", "from", "to"}, scheduleRows(l)),
		Marks:    table.Rows(columns[Marks], markRows(l, on)),
	}
	for name, rows := range map[string][][]string{Enrolments: enrolmentRows(l), Shares: sharesRows(l)} {
		if len(rows) > 0 {
			files[name] = table.Rows(columns[name], slices.Values(rows))
		}
	}
	return files
}

func calendarRows(c *day.Calendar, on day.Dates) iter.Seq[[]string] {
	return func(yield func([]string) bool) {
		first, last := c.Span()
		for d := max(first, on.From); d <= min(last, on.To); d++ {
			row := []string{d.String(), day.Closed, "", ""}
			if i, open := c.Index(d); open {
				sd := c.Day(i)
				row = []string{d.String(), sd.Pattern.Version(), sd.Term, sd.GradingPeriod}
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
				if !yield([]string{p.Version(), s.Name, s.Start.String(), s.End.String(), s.Kind.String()}) {
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
			from, to := "", ""
			if n := len(s.Enrolled); n > 0 {
				from, to = fromTo(day.Dates{From: s.Enrolled[0].From, To: s.Enrolled[n-1].To})
			}
			here, elsewhere := decimals(s.ShareHere, s.ShareElsewhere)
			if !yield([]string{s.ID, p.Family, p.Given, p.Year, p.Form, from, to, here, elsewhere}) {
				return
			}
		}
	}
}

// fromTo writes the ends of some dates; empty for none.
func fromTo(on day.Dates) (from, to string) {
	if on.From != day.NoStart {
		from = on.From.String()
	}
	if on.To != day.NoEnd {
		to = on.To.String()
	}
	return from, to
}

// decimals writes shares as they are read.
func decimals(here, elsewhere policy.Fraction) (h, e string) {
	h, _ = here.Decimal()
	e, _ = elsewhere.Decimal()
	return h, e
}

// enrolmentRows are the spans of those who have more than one.
func enrolmentRows(l *absence.Ledger) (rows [][]string) {
	for i := range l.Len() {
		s := l.Student(i)
		if len(s.Enrolled) < 2 {
			continue
		}
		for _, e := range s.Enrolled {
			from, to := fromTo(e)
			rows = append(rows, []string{s.ID, from, to})
		}
	}
	return rows
}

func sharesRows(l *absence.Ledger) (rows [][]string) {
	for i := range l.Len() {
		for _, x := range l.Student(i).Shares {
			from, to := fromTo(x.On)
			here, elsewhere := decimals(x.Here, x.Elsewhere)
			rows = append(rows, []string{l.Student(i).ID, from, to, here, elsewhere})
		}
	}
	return rows
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
				from, to := fromTo(r.On)
				if !yield([]string{s.ID, r.Slot, weekday, from, to}) {
					return
				}
			}
		}
	}
}

func markRows(l *absence.Ledger, on day.Dates) iter.Seq[[]string] {
	days := l.Between(on.From, on.To)
	return func(yield func([]string) bool) {
		for i := range l.Len() {
			id := l.Student(i).ID
			for d := days.From; d <= days.To; d++ {
				sd, codes := l.Calendar().Day(d), l.Codes(d).Codes
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

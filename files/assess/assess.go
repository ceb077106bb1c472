// Package assess reads a school's year from a folder of CSV files and writes what
// a policy says of it: the calculations on plain files. It knows how the files
// are written and what can be wrong in them; what they add up to is
// core/absence's.
package assess

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/table"
)

// The names of the files that are read.
const (
	Calendar   = "calendar.csv"
	Slots      = "slots.csv"
	Students   = "students.csv"
	Enrolments = "enrolments.csv" // may be missing
	Shares     = "shares.csv"     // may be missing
	Schedule   = "schedule.csv"   // may be missing
	Marks      = "marks.csv"
)

// order is the order of the files, in which they are read and their problems told.
var order = []string{Calendar, Slots, Students, Enrolments, Shares, Schedule, Marks}

// columns are the columns that a file must have; those of optional it may have.
var (
	columns = map[string][]string{
		Calendar:   {"date", "day", "term", "grading_period"},
		Slots:      {"day", "slot", "start", "end"},
		Students:   {"student", "family_name", "given_name", "year", "form", "enrolled_from", "enrolled_to", "share_here", "share_elsewhere"},
		Enrolments: {"student", "from", "to"},
		Shares:     {"student", "from", "to", "share_here", "share_elsewhere"},
		Schedule:   {"student", "slot"},
		Marks:      {"student", "date", "slot", "code", "from", "to", "class"},
	}
	optional = map[string][]string{Slots: {"kind"}, Schedule: {"weekday", "from", "to"}}
)

// Measure measures every student of a ledger by a policy and returns the tables
// students.csv, triggers.csv and steps.csv, students in the ledger's order.
func Measure(l *absence.Ledger, p *policy.Policy, asAt day.Date) table.Files {
	panel := absence.NewPanel(l, p)
	span := l.YearTo(asAt)
	var students, triggers, steps [][]string
	for i := range l.Len() {
		id := l.Student(i).ID
		r := panel.Student(i, span.To)[0]
		students = append(students, studentRow(id, p, r.Figures))
		for _, t := range r.Triggers {
			triggers = append(triggers, []string{id, t.Trigger.ID, strconv.Itoa(t.Now), strconv.Itoa(t.Trigger.Reach), reachedOn(l, t)})
		}
		for _, s := range r.Steps {
			steps = append(steps, []string{id, s.Ladder.ID, s.Scope, s.Period, strconv.Itoa(s.Count),
				l.Calendar().Day(s.Day).Date.String(), strings.Join(s.Do, ";")})
		}
	}
	return table.Files{
		"students.csv": table.Write([]string{"student", "unit", "possible", "absent", "excused", "unexcused", "unexplained", "void", "unmarked",
			"lates", "due_minutes", "missed_minutes", "charged_minutes", "absence_rate", "band", "headroom", "way_back"}, students),
		"triggers.csv": table.Write([]string{"student", "trigger", "now", "reach", "reached_on"}, triggers),
		"steps.csv":    table.Write([]string{"student", "ladder", "scope", "period", "count", "date", "actions"}, steps),
	}
}

func studentRow(id string, p *policy.Policy, f absence.Figures) []string {
	row := []string{id, p.Unit.String()}
	for _, n := range []int{f.Possible, f.Absent, f.Excused, f.Unexcused, f.Unexplained, f.Void, f.Unmarked, f.Lates,
		f.DueMinutes, f.MissedMinutes, f.ChargedMinutes} {
		row = append(row, strconv.Itoa(n))
	}
	band := ""
	if f.Band >= 0 {
		band = p.Bands[f.Band].Name
	}
	return append(row, f.Rate(), band, room(f.Headroom), room(f.WayBack))
}

func room(r absence.Room) string {
	switch {
	case !r.Known:
		return ""
	case r.None:
		return "none"
	default:
		return strconv.Itoa(r.Units)
	}
}

func reachedOn(l *absence.Ledger, t absence.Reached) string {
	if !t.Ever {
		return ""
	}
	return l.Calendar().Day(t.On).Date.String()
}

// byFileAndLine puts problems in the order of the files, then of the lines.
func byFileAndLine(list []table.Problem) {
	slices.SortStableFunc(list, func(a, b table.Problem) int {
		return cmp.Or(cmp.Compare(slices.Index(order, a.File), slices.Index(order, b.File)), cmp.Compare(a.Line, b.Line))
	})
}

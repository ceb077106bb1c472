package absencepage

import (
	"meldung/core/absence"
	"meldung/files/sheet"
	"meldung/work"
)

// grade writes attendance for grading by a section's own rule.
func grade(s work.Section, c absence.Counts) string { return s.Settings.Graded().Text(c) }

// gradedIn says what a section's attendance for grading is in; empty where it has no rule.
func gradedIn(s work.Section) string {
	return map[absence.GradingKind]string{absence.GradedByShare: "%", absence.GradedByPoints: "points"}[s.Settings.Graded().Kind]
}

func gradingColumn(in string) sheet.Column {
	decimals := 1
	if in == "points" {
		decimals = 2
	}
	return sheet.Column{Heading: "Attendance for grading, " + in, Width: 16, Decimal: decimals}
}

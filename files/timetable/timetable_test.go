package timetable_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/table"
	"meldung/files/timetable"
)

func good() table.Files {
	return table.Files{
		"calendar.csv":  []byte("date,day,term,grading_period\n2026-03-09,normal,Spring,Q3\n2026-03-10,closed,,\n"),
		"slots.csv":     []byte("day,slot,start,end,kind\nnormal,AM,08:45,09:00,registration\nnormal,1,09:05,09:55,lesson\n"),
		"timetable.csv": []byte("class,pattern,weekday,slot,room\n7G,normal,,AM,room 1\n7Ma1,,2,1,lab\n"),
	}
}

func TestReadsAndWritesTheSame(t *testing.T) {
	got := timetable.Read(good())
	require.Empty(t, got.Problems)
	assert.Len(t, got.Bundle.Slots, 2)
	assert.Equal(t, good(), timetable.Write(got.Bundle))
}

func TestEveryWrongLineIsSaid(t *testing.T) {
	for _, c := range []struct{ file, old, new, want string }{
		{"calendar.csv", "2026-03-09", "2026-02-30", `calendar.csv:2: date "2026-02-30" is not a date`},
		{"calendar.csv", "2026-03-10", "2026-03-09", "calendar.csv:3: 2026-03-09 is there twice"},
		{"calendar.csv", "normal", "short", `calendar.csv:2: day pattern "short" is not in slots.csv`},
		{"calendar.csv", "2026-03-09,normal,Spring,Q3\n2026-03-10,closed,,\n", "", "calendar.csv:1: the calendar has no dates"},
		{"slots.csv", "08:45", "8:45", `slots.csv:2: start "8:45" is not a time`},
		{"slots.csv", "09:55", "09:05", "slots.csv:3: end 09:05 is not after start 09:05"},
		{"slots.csv", "09:05", "08:50", `slots.csv:3: slot "1" overlaps "AM"`},
		{"slots.csv", "normal,1,", "normal,AM,", `slots.csv:3: slot "AM" is there twice`},
		{"slots.csv", "lesson", "party", `slots.csv:3: kind "party"`},
		{"timetable.csv", ",2,1,", ",8,1,", `timetable.csv:3: weekday "8"`},
		{"timetable.csv", ",2,1,", ",2,9,", `timetable.csv:3: slot "9" is in no pattern`},
		{"timetable.csv", "7G,normal", "7G,odd", `timetable.csv:2: pattern "odd"`},
		{"timetable.csv", "7Ma1,,2,1,lab", "7G,normal,,AM,lab", "timetable.csv:3: this meeting is there twice"},
	} {
		files := good()
		text := string(files[c.file])
		require.Contains(t, text, c.old)
		files[c.file] = []byte(strings.Replace(text, c.old, c.new, 1))
		var got []string
		for _, p := range timetable.Read(files).Problems {
			got = append(got, p.String())
		}
		assert.Contains(t, strings.Join(got, "\n"), c.want)
	}
	assert.NotEmpty(t, timetable.Read(table.Files{}).Problems)
}

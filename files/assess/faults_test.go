package assess_test

import (
	"fmt"
	"io/fs"
	"maps"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/assess"
	"meldung/files/policyfile"
)

// good is a small school without a fault: a Monday to a Wednesday, of which the
// Tuesday is closed, and a Friday after a Thursday that the calendar leaves out.
var good = map[string]string{
	"calendar.csv": "date,day,term,grading_period\n2025-09-01,full,autumn,q1\n2025-09-02,closed,,\n2025-09-03,full,autumn,q1\n2025-09-05,short,autumn,q1\n",
	"slots.csv":    "day,slot,start,end,kind\nfull,AM,08:45,09:00,registration\nfull,1,09:00,09:50,lesson\nfull,2,10:00,10:50,\nshort,AM,08:45,09:00,registration\nshort,1,09:00,09:30,\n",
	"students.csv": "student,family_name,given_name,year,form,enrolled_from,enrolled_to,share_here,share_elsewhere\n" +
		"a,Fenn,Odd,7,7 Reef,2025-09-01,,,\nb,Holm,Ida,7,7 Reef,2025-09-03,2025-09-04,0.5,0.5\nc,,,,,2025-09-01,2026-07-01,1,0\n",
	"schedule.csv": "student,slot,weekday\nc,1,\nc,2,3\n",
	"marks.csv":    "student,date,slot,code,from,to,class\na,2025-09-01,AM,P,,,\na,2025-09-01,1,L,,09:10,geography\nb,2025-09-03,2,U,,,\nc,2025-09-03,2,M,10:00,10:50,\nc,2025-09-05,1,N,,,\n",
}

func shipped(t *testing.T, id string) *policy.Policy {
	t.Helper()
	p, err := policyfile.Shipped(id)
	require.NoError(t, err)
	return p
}

func folder(files map[string]string) fs.FS {
	out := fstest.MapFS{}
	for name, text := range files {
		out[name] = &fstest.MapFile{Data: []byte(text)}
	}
	return out
}

func told(files map[string]string, p *policy.Policy) []string {
	_, problems := assess.Read(folder(files), p)
	out := []string{}
	for _, one := range problems {
		out = append(out, one.String())
	}
	return out
}

// changed returns the good school with one text replaced in one file; from "" is
// the whole file, and a missing file where to is "" too.
func changed(t *testing.T, name, from, to string) map[string]string {
	t.Helper()
	files := maps.Clone(good)
	switch {
	case from == "" && to == "":
		delete(files, name)
	case from == "":
		files[name] = to
	default:
		require.Contains(t, files[name], from)
		files[name] = strings.Replace(files[name], from, to, 1)
	}
	return files
}

func TestTheGoodSchoolIsGood(t *testing.T) {
	assert.Empty(t, told(good, shipped(t, "ten-percent")))
	assert.Empty(t, told(changed(t, "schedule.csv", "", ""), shipped(t, "lates-example")), "everyone may be due in all slots")
	assert.Empty(t, told(changed(t, "schedule.csv", "student,slot,weekday\nc,1,\nc,2,3\n", "student,slot\nc,1\nc,2\n"), shipped(t, "hours")))
	assert.Empty(t, told(changed(t, "marks.csv", "a,2025-09-01,1,L,,09:10,", "a,2025-09-01,1,L,11:00,,"), shipped(t, "hours")), "one time alone beyond the slot is accepted")
}

func TestEveryFaultIsToldByFileAndLine(t *testing.T) {
	for _, c := range []struct {
		name, file, from, to string
		want                 []string
	}{
		{"no calendar", "calendar.csv", "", "", []string{"calendar.csv: the file is missing"}},
		{"no marks", "marks.csv", "", "", []string{"marks.csv: the file is missing"}},
		{"an empty file", "slots.csv", "", "\n\n", []string{"slots.csv:1: the file is empty; a header row is expected"}},
		{"a calendar with a header only", "calendar.csv", "", "\n\ndate,day,term,grading_period\n", []string{"calendar.csv:1: the calendar has no dates"}},
		{"a missing column", "students.csv", "form,", "", []string{`students.csv:1: the column "form" is missing`}},
		{"the header's own line", "marks.csv", "student,date,slot,code,from", "\n\nstudent,date,slot,code,until", []string{`marks.csv:3: the column "from" is missing`}},
		{"a column twice", "marks.csv", "class", "code", []string{`marks.csv:1: the column "code" is there twice`, `marks.csv:1: the column "class" is missing`}},
		{"fewer fields", "marks.csv", "N,,,", "N,,", []string{"marks.csv:6: 6 fields where the header has 7"}},
		{"more fields", "calendar.csv", "closed,,", "closed,,,", []string{"calendar.csv:3: 5 fields where the header has 4"}},
		{"a stray quote", "marks.csv", "geography", "geo\"graphy", []string{"marks.csv:3: a stray quote in an unquoted field"}},
		{"an unfinished quote swallows what follows", "marks.csv", "geography", "\"geography", []string{"marks.csv:3: a stray or unfinished quote"}},
		{"not UTF-8", "students.csv", "Holm,Ida", "H\xf6lm,\xff", []string{"students.csv:3: this line is not valid UTF-8"}},
		{"not UTF-8 and another fault", "students.csv", "Holm,Ida,7,7 Reef,2025-09-03", "H\xf6lm,Ida,7,7 Reef,2025-9-3", []string{"students.csv:3: this line is not valid UTF-8", `students.csv:3: enrolled_from "2025-9-3" is not a date`}},
		{"a name that is not UTF-8 can't be judged", "marks.csv", "a,2025-09-01,AM", "\xff,2025-09-01,AM", []string{"marks.csv:2: this line is not valid UTF-8"}},
		{"a header that is not UTF-8", "marks.csv", "class", "cl\xffss", []string{"marks.csv:1: this line is not valid UTF-8"}},
		{"the line on which a record starts", "marks.csv", "a,2025-09-01,AM,P,,,\na,2025-09-01,1,L,,09:10,geography", "a,2025-09-01,AM,P,,,\"x\ny\"\na,2025-09-01,1,L,,9:10,\"x\n\ny\"", []string{`marks.csv:4: to "9:10" is not a time`}},

		{"a date that is none", "calendar.csv", "2025-09-03,", "2025-13-03,", []string{`calendar.csv:4: date "2025-13-03" is not a date`}},
		{"a date twice", "calendar.csv", "2025-09-05,short", "2025-09-03,short", []string{"calendar.csv:5: the date 2025-09-03 is there twice", "marks.csv:6: 2025-09-05 is outside the calendar"}},
		{"an unknown day pattern", "calendar.csv", "2025-09-05,short", "2025-09-05,shorter", []string{`calendar.csv:5: the day "shorter" has no slots in slots.csv`}},
		{"an empty day", "calendar.csv", "2025-09-05,short", "2025-09-05,", []string{"calendar.csv:5: day is empty"}},

		{"a pattern called closed", "slots.csv", "short,1,", "closed,1,", []string{`slots.csv:6: no day pattern can be called "closed"`}},
		{"a slot twice", "slots.csv", "full,2,10:00,10:50", "full,1,10:00,10:50", []string{`slots.csv:4: the slot "1" is there twice on the day "full"`, `schedule.csv:3: the slot "2" is in no day pattern`, `marks.csv:4: the slot "2" is in no day pattern`, `marks.csv:5: the slot "2" is in no day pattern`}},
		{"an empty slot", "slots.csv", "full,2,", "full,,", []string{"slots.csv:4: slot is empty"}},
		{"an overlap, once, at the later row", "slots.csv", "full,2,10:00,10:50", "full,2,08:50,09:10", []string{`slots.csv:4: slot "2" from 08:50 to 09:10 overlaps with slot "AM" from 08:45 to 09:00`}},
		{"the end before the start", "slots.csv", "short,1,09:00,09:30", "short,1,09:00,09:00", []string{"slots.csv:6: end 09:00 is not after start 09:00"}},
		{"a time that is none", "slots.csv", "short,1,09:00,09:30", "short,1,9:00,24:00", []string{`slots.csv:6: start "9:00" is not a time`, `slots.csv:6: end "24:00" is not a time`}},
		{"an unknown kind", "slots.csv", "lesson", "Lesson", []string{`slots.csv:3: kind "Lesson" is neither lesson nor registration`}},

		{"a student twice", "students.csv", "b,Holm", "a,Holm", []string{`students.csv:3: the student "a" is there twice`, `marks.csv:4: the student "b" is not in students.csv`}},
		{"an empty student", "students.csv", "b,Holm", ",Holm", []string{"students.csv:3: student is empty"}},
		{"no enrolment", "students.csv", "7 Reef,2025-09-01", "7 Reef,", []string{`students.csv:2: enrolled_from "" is not a date`}},
		{"leaving before coming", "students.csv", "2025-09-04", "2025-09-02", []string{"students.csv:3: enrolled_to 2025-09-02 is before enrolled_from 2025-09-03"}},
		{"a share of nothing", "students.csv", "0.5,0.5", "0.0,0.5", []string{"students.csv:3: share_here is 0; it must be above 0"}},
		{"shares above the whole", "students.csv", "0.5,0.5", ",0.5", []string{"students.csv:3: share_here 1 and share_elsewhere 1/2 are more than 1 together"}},
		{"shares that are no decimals", "students.csv", "0.5,0.5", ".5,1/2", []string{`students.csv:3: share_here ".5" is not a decimal such as 0.5`, `students.csv:3: share_elsewhere "1/2" is not a decimal such as 0.5`}},
		{"a share above 1", "students.csv", "0.5,0.5", "1.5,0", []string{`students.csv:3: share_here "1.5" is more than 1`}},

		{"an unknown student in the schedule", "schedule.csv", "c,1,", "d,1,", []string{`schedule.csv:2: the student "d" is not in students.csv`, `marks.csv:6: "c" is not due in slot "1" on 2025-09-05`}},
		{"a slot in no pattern", "schedule.csv", "c,1,", "c,4,", []string{`schedule.csv:2: the slot "4" is in no day pattern`}},
		{"a weekday that is none", "schedule.csv", "c,2,3", "c,2,8", []string{`schedule.csv:3: weekday "8" is not a weekday from 1 (Monday) to 7`}},

		{"a schedule that ends before it begins", "schedule.csv", "", "student,slot,weekday,from,to\nc,1,,2025-09-03,2025-09-01\nc,2,3,,\n", []string{"schedule.csv:2: to 2025-09-01 is before from 2025-09-03"}},
		{"a schedule that holds on other dates", "schedule.csv", "", "student,slot,weekday,from,to\nc,1,,,2025-09-04\nc,2,3,2025-09-03,\n", []string{`marks.csv:6: "c" is not due in slot "1" on 2025-09-05`}},
		{"between two enrolments", "enrolments.csv", "", "student,from,to\nc,2025-09-01,2025-09-03\nc,2025-09-08,\n", []string{`marks.csv:6: 2025-09-05 is outside the enrolment of "c"`}},
		{"an enrolment that begins in another", "enrolments.csv", "", "student,from,to\nc,2025-09-01,2025-09-03\nc,2025-09-03,\n", []string{`enrolments.csv:3: from 2025-09-03 is not after the end of the enrolment of "c" before it`}},
		{"an enrolment after one without an end", "enrolments.csv", "", "student,from,to\nc,2025-09-01,\nc,2026-09-01,\n", []string{`enrolments.csv:3: from 2026-09-01 is not after the end of the enrolment of "c" before it`}},
		{"enrolments out of order", "enrolments.csv", "", "student,from,to\nc,2025-09-05,\nc,2025-09-01,2025-09-03\n", []string{`enrolments.csv:3: from 2025-09-01 is not after the end of the enrolment of "c" before it`}},
		{"an enrolment of nobody, without a beginning, and backwards", "enrolments.csv", "", "student,from,to\nd,2025-09-01,\na,,\nb,2025-09-03,2025-09-01\n", []string{`enrolments.csv:2: the student "d" is not in students.csv`, `enrolments.csv:3: from "" is not a date`, "enrolments.csv:4: to 2025-09-01 is before from 2025-09-03"}},
		{"shares of nobody, and too many", "shares.csv", "", "student,from,to,share_here,share_elsewhere\nd,2025-09-01,,,\na,2025-09-01,,0.7,0.5\n", []string{`shares.csv:2: the student "d" is not in students.csv`, "shares.csv:3: share_here 7/10 and share_elsewhere 1/2 are more than 1 together"}},
		{"shares twice on a date", "shares.csv", "", "student,from,to,share_here,share_elsewhere\na,2025-09-03,2025-09-05,0.5,\na,2025-09-01,2025-09-03,0.7,\n", []string{`shares.csv:3: the shares of "a" from 2025-09-01 overlap with those from 2025-09-03`}},
		{"shares without a beginning", "shares.csv", "", "student,from,to,share_here,share_elsewhere\na,,,0.7,\n", []string{`shares.csv:2: from "" is not a date`}},

		{"an unknown student", "marks.csv", "b,2025", "B,2025", []string{`marks.csv:4: the student "B" is not in students.csv`}},
		{"an empty student in a mark", "marks.csv", "b,2025", ",2025", []string{`marks.csv:4: the student "" is not in students.csv`}},
		{"an unknown slot", "marks.csv", "b,2025-09-03,2", "b,2025-09-03,3", []string{`marks.csv:4: the slot "3" is in no day pattern`}},
		{"an unknown code", "marks.csv", "2,U,", "2,u,", []string{`marks.csv:4: the code "u" is not in the policy's codes`}},
		{"a date that is none in a mark", "marks.csv", "2025-09-01,AM", "2026-13-01,AM", []string{`marks.csv:2: date "2026-13-01" is not a date`}},
		{"times the wrong way round", "marks.csv", "10:00,10:50", "10:50,10:00", []string{"marks.csv:5: to 10:00 is not after from 10:50"}},
		{"a mark twice", "marks.csv", "b,2025-09-03,2,U", "a,2025-09-01,1,U", []string{`marks.csv:4: the mark of "a" on 2025-09-01 in slot "1" is there twice`}},
		{"a closed date", "marks.csv", "b,2025-09-03", "b,2025-09-02", []string{"marks.csv:4: 2025-09-02 is a closed date"}},
		{"a date that the calendar leaves out", "marks.csv", "b,2025-09-03", "b,2025-09-04", []string{"marks.csv:4: 2025-09-04 is a closed date"}},
		{"outside the calendar", "marks.csv", "b,2025-09-03", "b,2025-09-06", []string{"marks.csv:4: 2025-09-06 is outside the calendar"}},
		{"outside enrolment", "marks.csv", "b,2025-09-03", "b,2025-09-01", []string{`marks.csv:4: 2025-09-01 is outside the enrolment of "b"`}},
		{"a slot that is not in the day", "marks.csv", "a,2025-09-01,1", "a,2025-09-05,2", []string{`marks.csv:3: slot "2" is not in the day "short" of 2025-09-05`}},
		{"not due by the schedule", "marks.csv", "c,2025-09-05,1", "c,2025-09-05,AM", []string{`marks.csv:6: "c" is not due in slot "AM" on 2025-09-05`}},
		{"several faults of one row", "marks.csv", "b,2025-09-03,2,U,,", "b,2025-09-02,9,?,25:00,", []string{`marks.csv:4: the slot "9" is in no day pattern`, `marks.csv:4: the code "?" is not in the policy's codes`, `marks.csv:4: from "25:00" is not a time`, "marks.csv:4: 2025-09-02 is a closed date"}},
		{"all values compare exactly", "marks.csv", "b,2025-09-03,2,U,,,", " b,2025-09-03 ,2,U ,,,", []string{`marks.csv:4: the student " b" is not in students.csv`, `marks.csv:4: date "2025-09-03 " is not a date`, `marks.csv:4: the code "U " is not in the policy's codes`}},
	} {
		t.Run(c.name, func(t *testing.T) {
			assert.Equal(t, c.want, told(changed(t, c.file, c.from, c.to), shipped(t, "ten-percent")))
		})
	}
}

// What another fault makes doubtful is not told: without students nobody is unknown.
func TestWhatCantBeJudgedIsNotTold(t *testing.T) {
	for _, name := range []string{"calendar.csv", "slots.csv", "students.csv"} {
		got := told(changed(t, name, "", ""), shipped(t, "ten-percent"))
		assert.Equal(t, []string{name + ": the file is missing"}, got)
		got = told(changed(t, name, "", "wrong\n"), shipped(t, "ten-percent"))
		for _, line := range got {
			assert.True(t, strings.HasPrefix(line, name+":1: the column"), line)
		}
	}
	lost := told(changed(t, "students.csv", "b,Holm,Ida", "b,Holm"), shipped(t, "ten-percent"))
	assert.Equal(t, []string{"students.csv:3: 8 fields where the header has 9"}, lost, "its marks may be that row's")
}

func TestWhatThePolicyNeedsOfTheCalendar(t *testing.T) {
	lates := shipped(t, "lates-example")
	files := changed(t, "calendar.csv", "2025-09-03,full,autumn,q1", "2025-09-03,full,,")
	assert.Equal(t, []string{"calendar.csv:4: grading_period is empty on an open date, and the policy counts by grading period"}, told(files, lates))
	assert.Empty(t, told(files, shipped(t, "ten-percent")))
	lates.Triggers = []policy.Trigger{{ID: "t", Count: policy.CountLates, Reach: 1, Window: policy.Window{Kind: policy.Term}}}
	assert.Len(t, told(files, lates), 2, "a missing term and a missing grading period are two")

	sessions := shipped(t, "sessions")
	sessions.Codes = shipped(t, "ten-percent").Codes
	assert.Empty(t, told(good, sessions))
	files = changed(t, "slots.csv", "", strings.ReplaceAll(good["slots.csv"], "registration", "lesson"))
	assert.Equal(t, []string{"slots.csv:1: the policy counts registrations, and no slot is one"}, told(files, sessions))
	files = changed(t, "slots.csv", "full,2,10:00,10:50", "full,2,08:50,09:10")
	assert.Empty(t, told(files, sessions), "slots that the policy does not count may overlap")
}

// Worked by hand: student a has a late of ten minutes on the first day and one
// unmarked slot; of two days to come, none is marked.
func TestTheTables(t *testing.T) {
	p := shipped(t, "hours")
	ledger, problems := assess.Read(folder(good), p)
	require.Empty(t, problems)
	got := assess.Measure(ledger, p, day.MustDate("2025-09-03"))
	assert.Equal(t, "student,unit,possible,absent,excused,unexcused,unexplained,void,unmarked,lates,due_minutes,missed_minutes,charged_minutes,absence_rate,band,headroom,way_back\n"+
		"a,minute,65,10,0,10,0,0,4,1,65,10,10,15.4,chronic,,\n"+
		"b,minute,50,50,0,50,0,0,2,0,50,50,50,100.0,severe,,\n"+
		"c,minute,50,50,50,0,0,0,2,0,50,50,50,100.0,severe,,\n", string(got["students.csv"]))
	assert.Equal(t, 1+3*5, strings.Count(string(got["triggers.csv"]), "\n"))
	assert.Equal(t, "student,ladder,scope,period,count,date,actions\n", string(got["steps.csv"]), "a header even where there are none")
}

func TestStepsAreQuotedOnlyWhereNeeded(t *testing.T) {
	p := shipped(t, "lates-example")
	p.Ladders[0].Steps = []policy.Step{{From: 1, Do: []string{"word", "tell home, twice"}}}
	ledger, problems := assess.Read(folder(good), p)
	require.Empty(t, problems)
	assert.Contains(t, string(assess.Measure(ledger, p, day.MustDate("2030-01-01"))["steps.csv"]),
		"a,lateness,geography,q1,1,2025-09-01,\"word;tell home, twice\"\n")
}

// The command must stand whatever it is fed: either a ledger or problems, never both
// or a panic, and every problem names a file.
func FuzzRead(f *testing.F) {
	for name, text := range good {
		f.Add(name, text)
	}
	p, err := policyfile.Shipped("lates-example")
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, name, text string) {
		files := maps.Clone(good)
		if _, ok := files[name]; !ok {
			return
		}
		files[name] = text
		ledger, problems := assess.Read(folder(files), p)
		if (ledger == nil) != (len(problems) > 0) {
			t.Fatal(fmt.Sprint("a ledger: ", ledger != nil, "; problems: ", problems))
		}
		if ledger != nil {
			assess.Measure(ledger, p, day.MustDate("2025-09-04"))
		}
	})
}

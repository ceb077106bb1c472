package register_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/register"
)

// codes are one of each kind that the door and a notice may meet.
var codes = map[string]policy.Code{
	"P": {Code: "P", Counts: policy.Attended, OnSite: true},
	"L": {Code: "L", Counts: policy.Attended, OnSite: true, Late: true},
	"R": {Code: "R", Counts: policy.Attended},
	"V": {Code: "V", Counts: policy.Activity},
	"N": {Code: "N", Counts: policy.Unexcused, Unexplained: true},
	"U": {Code: "U", Counts: policy.Unexcused},
	"M": {Code: "M", Counts: policy.Excused},
	"Z": {Code: "Z", Counts: policy.Void},
}

func inForce(code string) register.InForce {
	return register.InForce{Code: codes[code], Made: day.MustMinute("09:10")}
}

var lesson = day.Slot{Name: "1", Start: day.MustMinute("09:05"), End: day.MustMinute("09:55")}

func TestWhatAnArrivalMakesOfAMark(t *testing.T) {
	ferry := register.Reason{Absent: "X", Late: "LX"}
	for _, c := range []struct {
		name, mark, at string
		want           register.Changed
		changes        bool
	}{
		{"before the slot: the register will see", "N", "09:00", register.Changed{}, false},
		{"as it begins", "N", "09:05", register.Changed{}, false},
		{"within it: come late, at that minute", "N", "09:20", register.Changed{Code: "LX", To: day.MustMinute("09:20"), Made: day.MustMinute("09:20")}, true},
		{"as it ends: missed for the reason", "N", "09:55", register.Changed{Code: "X", Made: day.MustMinute("09:10")}, true},
		{"long after it", "N", "13:00", register.Changed{Code: "X", Made: day.MustMinute("09:10")}, true},
		{"explained already", "M", "09:20", register.Changed{}, false},
		{"settled as unexcused", "U", "09:20", register.Changed{}, false},
		{"present", "P", "09:20", register.Changed{}, false},
	} {
		got, ok := register.Arrive(lesson, inForce(c.mark), ferry, day.MustMinute(c.at))
		assert.Equal(t, c.changes, ok, c.name)
		if ok {
			assert.Equal(t, c.want, got, c.name)
		}
	}
	_, ok := register.Arrive(lesson, inForce("N"), register.Reason{Absent: "N", Late: "L"}, day.MustMinute("13:00"))
	assert.False(t, ok, "no reason given: what was missed stays without one")
}

func TestWhatLeavingMakesOfAMark(t *testing.T) {
	for _, c := range []struct {
		name, mark, at string
		changes        bool
	}{
		{"within the slot", "P", "09:30", true},
		{"as it begins: it was not there at all", "P", "09:05", false},
		{"as it ends", "P", "09:55", false},
		{"one who came late", "L", "09:30", false},
		{"attending at a distance", "R", "09:30", false},
		{"on a trip", "V", "09:30", false},
		{"absent", "N", "09:30", false},
		{"not required", "Z", "09:30", false},
	} {
		got, ok := register.Leave(lesson, inForce(c.mark), "D", day.MustMinute(c.at))
		assert.Equal(t, c.changes, ok, c.name)
		if ok {
			assert.Equal(t, register.Changed{Code: "D", From: day.MustMinute(c.at), Made: day.MustMinute("09:10")}, got, c.name)
		}
	}
}

// Whatever happens: only a mark without a reason is explained or come late to, a presence
// is never turned into an absence, and what is changed once by a rule that names a reason
// is not changed by it again.
func TestChangesKeepWhatIsKnown(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.SampledFrom([]string{"P", "L", "R", "V", "N", "U", "M", "Z"}).Draw(t, "mark")
		code := rapid.SampledFrom([]string{"M", "U", "N"}).Draw(t, "code")
		at := day.Midnight.Add(day.Minutes(rapid.IntRange(500, 640).Draw(t, "at")))
		m := inForce(name)
		if got, ok := register.Explain(m, code); ok {
			assert.True(t, m.Code.Unexplained)
			assert.Equal(t, register.Changed{Code: code, Made: m.Made}, got)
			_, again := register.Explain(register.InForce{Code: codes[code], Made: m.Made}, code)
			assert.False(t, again)
		} else {
			assert.True(t, !m.Code.Unexplained || code == name)
		}
		if got, ok := register.Arrive(lesson, m, register.Reason{Absent: "M", Late: "L"}, at); ok {
			assert.True(t, m.Code.Unexplained)
			assert.Equal(t, at.After(lesson.Start) && at.Before(lesson.End), got.Code == "L")
			assert.False(t, got.Made.After(day.Latest(at, m.Made)))
		}
		if got, ok := register.Leave(lesson, m, "D", at); ok {
			assert.True(t, m.Code.OnSite && m.Code.Counts == policy.Attended)
			assert.True(t, got.From.After(lesson.Start) && got.From.Before(lesson.End))
		}
	})
}

func TestForWhichMinuteAMarkIsEvidence(t *testing.T) {
	for _, c := range []struct {
		made, now, want string
		sameDay         bool
	}{
		{"09:12", "09:20", "09:12", true},
		{"09:40", "09:20", "09:20", true}, // a clock that is ahead
		{"08:00", "09:20", "09:05", true},
		{"10:30", "11:00", "09:55", true},
		{"09:40", "08:00", "09:40", false}, // another day's now means nothing
	} {
		assert.Equal(t, day.MustMinute(c.want), register.MadeWithin(lesson, day.MustMinute(c.made), day.MustMinute(c.now), c.sameDay))
	}
}

// A set asks for its own codes: one of letters, one with a code for each half of the day and
// none for leaving early.
func TestTheCodesOfADoor(t *testing.T) {
	halves, err := policy.NewCodeSet("halves", []policy.Code{
		{Code: "/", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Morning},
		{Code: "\\", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Afternoon},
		{Code: "L", Counts: policy.Attended, OnSite: true, Late: true, Uses: policy.UseLate},
	})
	assert.NoError(t, err)
	afternoon := day.Slot{Name: "PM", Start: day.MustMinute("13:00"), End: day.MustMinute("13:10")}
	in, late := register.There(halves, lesson)
	assert.Equal(t, []string{"/", "L"}, []string{in, late})
	in, _ = register.There(halves, afternoon)
	assert.Equal(t, "\\", in)
	assert.Empty(t, register.LeftEarly(halves, lesson, register.Reason{Excused: true}), "leaving makes no difference to the mark")
	none, err := policy.NewCodeSet("none", []policy.Code{codes["M"]})
	assert.NoError(t, err)
	in, late = register.There(none, lesson)
	assert.Empty(t, in+late)
	assert.Equal(t, []string{"D", "DU"}, []string{register.LeftEarly(letters, lesson, register.Reason{Excused: true}), register.LeftEarly(letters, lesson, register.Reason{})})
}

// letters is a set with a code for every use.
var letters = func() *policy.CodeSet {
	set, err := policy.NewCodeSet("letters", []policy.Code{
		{Code: "P", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent},
		{Code: "V", Counts: policy.Activity, Uses: policy.UseOffSite},
		{Code: "D", Counts: policy.Attended, OnSite: true, Uses: policy.UseLeftWithReason},
		{Code: "DU", Counts: policy.Attended, OnSite: true, Uses: policy.UseLeft},
	})
	if err != nil {
		panic(err)
	}
	return set
}()

func TestUnseenMarks(t *testing.T) {
	drafts := map[string]register.Draft{"a": {Code: "P", Version: 2}, "b": {Code: "N", Version: 1}, "c": {Code: "L", Time: "5", Version: 3}}
	sent := func(yield func(string, register.Draft) bool) {
		for _, s := range []struct {
			who  string
			mark register.Draft
		}{{"a", register.Draft{Code: "P"}}, {"b", register.Draft{Code: "P", Version: 1}}, {"c", register.Draft{Code: "L", Time: "9", Version: 2}}, {"d", register.Draft{Code: "P"}}} {
			if !yield(s.who, s.mark) {
				return
			}
		}
	}
	assert.Equal(t, []string{"c"}, register.Unseen(drafts, sent), "the same mark, a version that was seen and a row nobody marked are no surprise")
}

package quickline_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/quickline"
)

var today = day.MustDate("2026-03-10") // a Tuesday

func TestALineIsTakenApart(t *testing.T) {
	nothing := quickline.Details{From: today, To: today}
	with := func(change func(d *quickline.Details)) quickline.Details {
		d := nothing
		change(&d)
		return d
	}
	for text, want := range map[string]struct {
		name    []string
		all     bool
		verb    quickline.Verb
		details quickline.Details
	}{
		"":                   {nil, false, quickline.None, nothing},
		"tolv elis":          {[]string{"tolv", "elis"}, false, quickline.None, nothing},
		"in":                 {[]string{"in"}, false, quickline.None, nothing}, // a name, since somebody has to come first
		"tolv IN":            {[]string{"tolv"}, false, quickline.In, nothing},
		"tolv both ill":      {[]string{"tolv"}, true, quickline.Ill, nothing},
		"tolv late 12":       {[]string{"tolv"}, false, quickline.Late, with(func(d *quickline.Details) { d.Minutes = 12 })},
		"tolv in 9:25 ferry": {[]string{"tolv"}, false, quickline.In, with(func(d *quickline.Details) { d.At, d.Reason = day.MustMinute("09:25"), "ferry" })},
		"tolv out 1005 dentist back 1130": {[]string{"tolv"}, false, quickline.Out, with(func(d *quickline.Details) {
			d.At, d.Until, d.Reason = day.MustMinute("10:05"), day.MustMinute("11:30"), "dentist"
		})},
		"tolv ill until wed":           {[]string{"tolv"}, false, quickline.Ill, with(func(d *quickline.Details) { d.To = today + 1 })},
		"tolv away from thu until fri": {[]string{"tolv"}, false, quickline.Away, with(func(d *quickline.Details) { d.From, d.To = today+2, today+3 })},
		"tolv away tomorrow funeral":   {[]string{"tolv"}, false, quickline.Away, with(func(d *quickline.Details) { d.From, d.To, d.Reason = today+1, today+1, "funeral" })},
		"tolv ill until tue":           {[]string{"tolv"}, false, quickline.Ill, with(func(d *quickline.Details) { d.To = today + 7 })}, // the next to come
	} {
		l := quickline.Parse(text)
		assert.Equal(t, want.name, l.Name, text)
		assert.Equal(t, want.all, l.All, text)
		assert.Equal(t, want.verb, l.Verb, text)
		got, err := l.Details(today)
		require.NoError(t, err, text)
		assert.Equal(t, want.details, got, text)
	}
}

func TestAWordThatIsNeitherIsTold(t *testing.T) {
	for text, want := range map[string]string{
		"tolv ill until soon": `"soon" is neither a day nor a time`,
		"tolv ill from x":     `"x" is neither a day nor a time`,
		"tolv in 975":         `"975" is not a time: hours go to 23, minutes to 59`,
	} {
		_, err := quickline.Parse(text).Details(today)
		assert.EqualError(t, err, want, text)
	}
}

// Whatever is typed is taken apart without harm, and nothing that was typed before the verb
// is lost.
func FuzzParse(f *testing.F) {
	f.Add("tolv both ill until wed")
	f.Fuzz(func(t *testing.T, text string) {
		l := quickline.Parse(text)
		_, _ = l.Details(today)
		for _, w := range l.Name {
			assert.Contains(t, text, w)
		}
	})
}

// 40 minutes are two thirds of an hour, 0.67 h in decimals; five days of 375 minutes are 31.25 h
// (common practice, no source).
func TestATimeToATime(t *testing.T) {
	for text, want := range map[string]string{
		"845-925":        "08:45 to 09:25: 40 min, 0.67 h",
		"8:45–9:25":      "08:45 to 09:25: 40 min, 0.67 h",
		"0900-1515":      "09:00 to 15:15: 6 h 15 min, 6.25 h",
		"vale 1000-1001": "10:00 to 10:01: 1 min, 0.02 h",
	} {
		l := quickline.Parse(text)
		require.NotNil(t, l.Span, text)
		assert.Equal(t, want, l.Span.Words())
	}
	for _, text := range []string{"925-845", "40217", "40217-1", "vale", "9-10", "2500-2600", "anna-lena", "07700-900123"} {
		assert.Nil(t, quickline.Parse(text).Span, text)
	}
	assert.Equal(t, []string{"vale"}, quickline.Parse("vale 845-925").Name)
	assert.Nil(t, quickline.Parse("vale out 845-925").Span, "what follows a verb belongs to it")
}

func TestWhatCanBeAQuestion(t *testing.T) {
	for line, asks := range map[string]bool{
		"evacuation": true, "who has not called": true, "how often was she late": true, "valle ill": false, "vale out 1015 clinic": false, "845-925": false, "": false, "print late passes": true, "a student comes late": true, "students known to be ill": true,
	} {
		assert.Equal(t, asks, quickline.Parse(line).Asks(), line)
	}
}

package followup_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
	"meldung/core/followup"
)

func TestReadReply(t *testing.T) {
	reasons := []string{"ill", "appointment", "on the way", "away", "doctor", "doctor in town"}
	for _, c := range []struct {
		words, reason string
		by            day.Minute
	}{
		{"Ill today, sorry", "ill", day.Minute{}},
		{"She is on the way, there by 9.40", "on the way", day.MustMinute("09:40")},
		{"ON THE WAY!", "on the way", day.Minute{}},
		{"still in bed, will ring", "", day.Minute{}}, // ill is not a part of still or will
		{"At the doctor in town until 11:15.", "doctor in town", day.MustMinute("11:15")},
		{"the way on", "", day.Minute{}},
		{"back at 1030 or 1130", "", day.MustMinute("10:30")},
		{"2 of them, 10 minutes", "", day.Minute{}},
		{"", "", day.Minute{}},
		{"25:99 what", "", day.Minute{}},
	} {
		assert.Equal(t, followup.Reply{Reason: c.reason, By: c.by}, followup.ReadReply(c.words, reasons), c.words)
	}
}

func FuzzReadReply(f *testing.F) {
	f.Add("on the way 9:40", "on the way")
	f.Fuzz(func(t *testing.T, words, reason string) {
		got := followup.ReadReply(words, []string{reason})
		assert.Contains(t, []string{"", reason}, got.Reason)
		assert.True(t, !got.By.Before(day.Minute{}) && got.By.Before(day.EndOfDay))
	})
}

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
		{"Ill today, sorry", "ill", -1},
		{"She is on the way, there by 9.40", "on the way", 580},
		{"ON THE WAY!", "on the way", -1},
		{"still in bed, will ring", "", -1}, // ill is not a part of still or will
		{"At the doctor in town until 11:15.", "doctor in town", 675},
		{"the way on", "", -1},
		{"back at 1030 or 1130", "", 630},
		{"2 of them, 10 minutes", "", -1},
		{"", "", -1},
		{"25:99 what", "", -1},
	} {
		assert.Equal(t, followup.Reply{Reason: c.reason, By: c.by}, followup.ReadReply(c.words, reasons), c.words)
	}
}

func FuzzReadReply(f *testing.F) {
	f.Add("on the way 9:40", "on the way")
	f.Fuzz(func(t *testing.T, words, reason string) {
		got := followup.ReadReply(words, []string{reason})
		assert.Contains(t, []string{"", reason}, got.Reason)
		assert.True(t, got.By >= -1 && got.By < day.EndOfDay)
	})
}

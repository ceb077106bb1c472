package policy

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWords(t *testing.T) {
	assert.Equal(t, []string{"31 h 15 min", "3 days", "1 late", "1 session"}, []string{CountMinutes.Of(1875), CountDays.Of(3), CountLates.Of(1), CountSessions.Of(1)})
	assert.Equal(t, []string{"40 min", "3"}, []string{CountMinutes.Bare(40), CountDays.Bare(3)})
	assert.Equal(t, []string{"unexcused", "excused", "excused or unexcused", "medical", "medical or unexcused"},
		[]string{SideUnexcused.Words(), SideExcused.Words(), (SideExcused | SideUnexcused).Words(), SideMedical.Words(), (SideMedical | SideUnexcused).Words()})
	assert.Equal(t, []string{"in the year", "in 10 school weeks", "in a run"}, []string{Window{}.Words(), Window{RollingWeeks, 10}.Words(), Window{Kind: Run}.Words()})
}

package demo

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// However large the school, nobody shares a username, a number or a card.
func TestAGrownSchoolHasOneOfEach(t *testing.T) {
	for _, students := range []int{2040, 5000} {
		s := NewOf(Options{Students: students, Years: 1})
		seen := map[string]bool{}
		once := func(what, value string) {
			assert.False(t, seen[what+value], "%s %s twice at %d", what, value, students)
			seen[what+value] = true
		}
		for _, p := range s.people.school.Staff {
			once("username", strings.ToLower(p.Family))
		}
		for _, p := range s.people.school.Students {
			once("number", p.Number)
			once("card", p.Card)
			once("student", p.SourcedID)
		}
		for _, c := range s.people.school.Contacts {
			once("contact", c.SourcedID)
		}
		assert.InDelta(t, students, len(s.people.school.Students), float64(students)/20)
	}
}

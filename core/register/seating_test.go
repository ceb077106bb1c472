package register

import (
	"maps"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/ids"
)

func TestSeatingIsMovedAndSwapped(t *testing.T) {
	s := Seating{}.Move(1, 0).Move(2, 3)
	assert.Equal(t, Seating{1: 0, 2: 3}, s)
	assert.Equal(t, Seating{1: 3, 2: 0}, s.Move(1, 3), "they swap")
	assert.Equal(t, Seating{3: 3, 1: 0}, s.Move(3, 3), "whoever comes from the tray sends the other there")
	assert.Equal(t, Seating{2: 3}, s.Move(1, Tray))
	assert.Equal(t, s, s.Move(9, Tray))
	assert.Equal(t, Seating{1: 0, 2: 3, 7: 1, 5: 2}, s.Fill([]ids.Student{2, 7, 5, 8}, 4), "8 finds no place")
	assert.Equal(t, []int{5, 5, 5, 6}, []int{Rows(1), Rows(26), Rows(32), Rows(33)})
}

// Whatever is moved, no place is held by two, and nobody but the one moved and the one
// in the way changes place.
func TestSeatingHoldsAnyMoves(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := Seating{}
		for range rapid.IntRange(1, 60).Draw(t, "moves") {
			student := ids.Student(rapid.Int64Range(1, 12).Draw(t, "student"))
			place := rapid.IntRange(Tray, 15).Draw(t, "place")
			before := maps.Clone(s)
			if rapid.IntRange(0, 9).Draw(t, "fill") == 0 {
				s = s.Fill([]ids.Student{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12}, 16)
				assert.Len(t, s, 12)
			} else {
				next := s.Move(student, place)
				assert.Equal(t, before, s, "a plan is not changed in place")
				for other, p := range before {
					if other != student && p != place {
						assert.Equal(t, p, next[other])
					}
				}
				s = next
			}
			held := map[int]ids.Student{}
			for who, p := range s {
				assert.Zero(t, held[p], "two sit at %d", p)
				held[p] = who
			}
		}
	})
}

func TestOnTimeUntil(t *testing.T) {
	assert.Equal(t, day.MustMinute("08:50"), OnTimeUntil(day.Slot{Start: day.MustMinute("08:45"), End: day.MustMinute("09:00")}, 5))
}

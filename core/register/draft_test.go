package register_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/register"
)

func TestPuttingMarksOnASharedRegister(t *testing.T) {
	nobody := register.Draft{}
	in, _ := register.Put(nobody, register.Draft{Code: "P"}, 0)
	assert.Equal(t, register.Draft{Code: "P", Version: 1}, in)

	again, conflict := register.Put(in, register.Draft{Code: "P"}, 0)
	assert.Equal(t, in, again, "the same mark from someone who had not seen it is no conflict")
	assert.False(t, conflict)

	stays, conflict := register.Put(in, register.Draft{Code: "N"}, 0)
	assert.True(t, conflict, "another mark from someone who had not seen it is")
	assert.Equal(t, in, stays, "and overwrites nothing")

	late, conflict := register.Put(in, register.Draft{Code: "L", Time: "5"}, 1)
	assert.False(t, conflict, "who had seen it may change it")
	assert.Equal(t, 2, late.Version)

	off, conflict := register.Put(late, register.Draft{}, 2)
	assert.False(t, conflict)
	assert.Equal(t, register.Draft{Version: 3}, off, "taking a mark off is a change like another")
}

// shared is a register as a server keeps it, with the answers it gave.
type shared struct {
	rows    map[int]register.Draft
	answers map[string]bool // by key: whether it was a conflict
	taken   map[string]bool // every version of every row that was ever stored
}

func (s *shared) put(key string, student, seen int, mark register.Draft) (conflict bool) {
	if answer, done := s.answers[key]; done {
		return answer
	}
	after, conflict := register.Put(s.rows[student], mark, seen)
	if after.Version > s.rows[student].Version {
		s.taken[fmt.Sprint(student, " ", after.Version, " ", after.Code)] = true
	}
	s.rows[student] = after
	s.answers[key] = conflict
	return conflict
}

// request is a mark on its way; it may be lost, come late, or come twice.
type request struct {
	key           string
	student, seen int
	mark          register.Draft
}

// Whatever is lost, late or repeated on the way from several windows: each mark
// that was acknowledged is stored once, a mark never overwrites one that its
// window had not seen, and when all lines are back everyone sees the same.
func TestAnyInterleavingOfWindowsEndsInOneRegister(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		server := &shared{rows: map[int]register.Draft{}, answers: map[string]bool{}, taken: map[string]bool{}}
		seen := []map[int]register.Draft{{}, {}, {}} // by window, as it last looked
		var way []request
		conflicts, stored := 0, map[string]int{}
		for step := range rapid.IntRange(1, 60).Draw(t, "steps") {
			window := rapid.IntRange(0, 2).Draw(t, "window")
			switch rapid.IntRange(0, 3).Draw(t, "what") {
			case 0: // marks a row
				student := rapid.IntRange(0, 3).Draw(t, "student")
				way = append(way, request{fmt.Sprint("key ", step), student, seen[window][student].Version,
					register.Draft{Code: rapid.SampledFrom([]string{"P", "L", "N", ""}).Draw(t, "code")}})
			case 1: // looks
				for student, d := range server.rows {
					seen[window][student] = d
				}
			case 2: // any request on its way arrives, and may stay to arrive again
				if len(way) == 0 {
					continue
				}
				n := rapid.IntRange(0, len(way)-1).Draw(t, "request")
				r := way[n]
				before := server.rows[r.student]
				_, repeated := server.answers[r.key]
				conflict := server.put(r.key, r.student, r.seen, r.mark)
				after := server.rows[r.student]
				if repeated {
					assert.Equal(t, before, after, "a repeat changes nothing")
				} else if after != before {
					assert.Equal(t, r.seen, before.Version, "only a row as it was seen is changed")
					stored[fmt.Sprint(r.student, " ", after.Version)]++
				}
				if conflict && !repeated {
					conflicts++
					assert.Equal(t, before, after)
				}
				if rapid.Bool().Draw(t, "answer comes") {
					way = append(way[:n], way[n+1:]...)
				}
			default: // the line is cut, what is on its way stays with its window
			}
		}
		for _, r := range way { // the line is back: everything is sent again, in order
			server.put(r.key, r.student, r.seen, r.mark)
		}
		for version, n := range stored {
			assert.Equal(t, 1, n, "row and version %s stored once", version)
		}
		for student, d := range server.rows {
			if d.Version > 0 {
				assert.True(t, server.taken[fmt.Sprint(student, " ", d.Version, " ", d.Code)], "what stands is a mark that someone made")
			}
		}
	})
}

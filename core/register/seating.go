package register

import "meldung/core/ids"

// Columns is how many seats a seating plan has in a row.
const Columns = 8

// Rows returns how many rows of seats a plan has for a class of n: enough for
// everyone with a row to spare, and never fewer than five.
func Rows(n int) int { return max(5, (n+Columns-1)/Columns+1) }

// Tray is the place of those without a seat.
const Tray = -1

// Seating is a seating plan: the place of each student who has one, counted from
// the front, row by row. No place is held by two.
type Seating map[ids.Student]int

// Move returns the plan with a student at a place, or in the tray. Whoever sat
// there moves to where the student came from, so that nobody falls off the plan
// but who had no seat to give.
func (s Seating) Move(student ids.Student, place int) Seating {
	out := Seating{}
	from, seated := s[student]
	for other, p := range s {
		switch {
		case other == student:
		case p != place:
			out[other] = p
		case seated:
			out[other] = from
		}
	}
	if place != Tray {
		out[student] = place
	}
	return out
}

// Fill returns the plan with everyone in the tray set down on the free places from
// the front, in the order given; who finds none stays in the tray.
func (s Seating) Fill(students []ids.Student, places int) Seating {
	out, held := Seating{}, map[int]bool{}
	for student, p := range s {
		out[student], held[p] = p, true
	}
	next := 0
	for _, student := range students {
		if _, seated := out[student]; seated {
			continue
		}
		for next < places && held[next] {
			next++
		}
		if next == places {
			break
		}
		out[student], held[next] = next, true
	}
	return out
}

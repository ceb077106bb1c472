package work

import (
	"meldung/core/day"
	"meldung/core/ids"
)

// Role is what an account may do.
type Role string

// The roles.
const (
	Officer       Role = "officer"
	Pastoral      Role = "pastoral"
	Teacher       Role = "teacher"
	Desk          Role = "desk"
	Leader        Role = "leader"
	Administrator Role = "administrator"
)

// Roles lists the roles.
var Roles = []Role{Officer, Pastoral, Teacher, Desk, Leader, Administrator}

// Person is who does a piece of work. The zero Person is the program itself: what falls
// due by itself, a station, a student's phone.
type Person struct {
	Account ids.Account
	Name    string
	Role    Role
	Staff   ids.Staff   // 0 for none
	at      day.Instant // when it is done, where that is not now: the demonstration's own people
}

// ActingAt returns the person doing things at an instant of the demonstration.
func (p Person) ActingAt(i day.Instant) Person { p.at = i; return p }

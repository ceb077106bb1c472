// Package safearrival says how the first registration of a day stands: whether it can be
// closed, is closed, or was opened again by what became known since. It must not know
// where students are or how that is found out.
package safearrival

import "meldung/core/day"

// State is how safe arrival stands.
type State string

// The states.
const (
	None     State = "none"     // there is no school, or no slot
	Open     State = "open"     // a register is out, or somebody is missing
	Ready    State = "ready"    // it may be closed
	Closed   State = "closed"   // somebody closed it, and that holds
	Reopened State = "reopened" // it was closed, and is open again
)

// Standing is how the first registration stands at a minute.
type Standing struct {
	Registers int  // of the slot
	In        int  // of them
	Missing   int  // students due who are unaccounted for or not yet known
	Begun     bool // the slot has begun
}

// Settled reports whether every register is in and nobody is missing.
func (s Standing) Settled() bool { return s.Registers > 0 && s.In == s.Registers && s.Missing == 0 }

// Closing is somebody closing safe arrival, or opening it again by hand.
type Closing struct {
	Minute   day.Minute
	Reopened bool
}

// StateOf returns how safe arrival stands. last is the newest closing, nil for none, and
// then how the registration stood at its minute by what is known now: a closing holds as
// long as that would still have allowed it. Time passing opens nothing; new evidence does.
func StateOf(now Standing, last *Closing, then Standing) State {
	ready := now.Settled() && now.Begun
	switch {
	case last != nil && !last.Reopened && then.Settled():
		return Closed
	case ready:
		return Ready
	case last != nil:
		return Reopened
	default:
		return Open
	}
}

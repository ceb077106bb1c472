package work

import (
	"sync"

	"meldung/core/ids"
)

// Event tells the pages that something changed.
type Event struct {
	Seq   ids.Entry `json:"seq" doc:"The journal entry that made the change"`
	Kind  string    `json:"kind" doc:"What was done"`
	Scope string    `json:"scope,omitempty" doc:"All that the change concerns, where that is one register: date, class and slot"`
}

// listeners are the pages that are told of events.
type listeners struct{ channels sync.Map } // chan Event → struct{}

// Listen returns a channel of events until stop is called. A listener that does
// not keep up misses events, never holds others up.
func (o *Office) Listen() (events <-chan Event, stop func()) {
	ch := make(chan Event, 16)
	o.listeners.channels.Store(ch, struct{}{})
	return ch, func() { o.listeners.channels.Delete(ch) }
}

func (l *listeners) tell(e Event) {
	l.channels.Range(func(k, _ any) bool {
		select {
		case k.(chan Event) <- e:
		default:
		}
		return true
	})
}

// Announce tells the pages that something other than a write has changed.
func (o *Office) Announce(kind string) { o.listeners.tell(Event{Kind: kind}) }

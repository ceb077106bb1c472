package work

import (
	"context"
	"sync"
)

// Progress is how far something is that takes longer than a second.
type Progress struct {
	Done int `json:"done"`
	Of   int `json:"of" doc:"0 where nothing is running under that name"`
}

// running is what runs now, by whose it is and the name that they gave it.
type running struct{ steps sync.Map }

type runningKey struct {
	account int64
	name    string
}

// Step returns what is told of each step of something that may take long, and what ends it: it goes on while
// whoever asked waits for it. Without a name nobody can ask how far it is.
func (o *Office) Step(ctx context.Context, p Person, name string) (step func(done, of int) bool, end func()) {
	key := runningKey{int64(p.Account), name}
	step = func(done, of int) bool {
		if name != "" {
			o.running.steps.Store(key, Progress{done, of})
		}
		return ctx.Err() == nil
	}
	return step, func() { o.running.steps.Delete(key) }
}

// HowFar returns how far something of one's own is.
func (o *Office) HowFar(p Person, name string) Progress {
	if at, ok := o.running.steps.Load(runningKey{int64(p.Account), name}); ok {
		return at.(Progress)
	}
	return Progress{}
}

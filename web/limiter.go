package web

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"

	"meldung/work"
)

// limiter bounds how often a name may be wrong: a number of times at once, and then one more
// after each pause.
type limiter struct {
	free  int
	pause time.Duration

	mu      sync.Mutex
	names   map[string]*tries
	settled chan struct{} // closed and made anew whenever a try is settled
}

// patience is how long a try waits for the verdict on those before it.
const patience = 2 * time.Second

// tries are what a name has left, and how many tries of it are under way.
type tries struct {
	left     *rate.Limiter
	underWay int
}

func newLimiter(free int, pause time.Duration) *limiter {
	return &limiter{free: free, pause: pause, names: map[string]*tries{}, settled: make(chan struct{})}
}

// verdict is what came of a try.
type verdict uint8

const (
	neither verdict = iota // it does not count
	right                  // the wrong tries before it are forgotten
	wrong                  // it counts
)

// reserve reserves a try before it is made, so that many at once gain nothing by it: those for
// which there may be a place wait for the verdict on those before them. It returns how long the
// name has to wait first; where that is 0 the try may be made, and settle says what came of it.
func (s *limiter) reserve(ctx context.Context, name string) (wait time.Duration, settle func(verdict)) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	for {
		wait, settle, settled := s.tryReserve(name)
		if settled == nil {
			return wait, settle
		}
		select {
		case <-settled:
		case <-ctx.Done():
			return s.pause, nil
		}
	}
}

// tryReserve is reserve without waiting; it returns what to wait for where others are to be
// settled first.
func (s *limiter) tryReserve(name string) (wait time.Duration, settle func(verdict), settled <-chan struct{}) {
	s.mu.Lock()
	defer s.mu.Unlock()
	t := s.names[name]
	if t == nil {
		s.makeRoom()
		t = &tries{left: rate.NewLimiter(rate.Every(s.pause), s.free)}
		s.names[name] = t
	}
	switch left := t.left.Tokens(); {
	case left < 1:
		return time.Duration(math.Ceil((1 - left) * float64(s.pause))), nil, nil
	case left < float64(t.underWay+1):
		return 0, nil, s.settled
	}
	t.underWay++
	return 0, func(v verdict) { s.settle(t, v) }, nil
}

func (s *limiter) settle(t *tries, v verdict) {
	s.mu.Lock()
	defer s.mu.Unlock()
	t.underWay--
	switch v {
	case wrong:
		t.left.Allow()
	case right:
		t.left = rate.NewLimiter(rate.Every(s.pause), s.free)
	}
	close(s.settled)
	s.settled = make(chan struct{})
}

// mostNames bounds the names that are remembered.
const mostNames = 10_000

// makeRoom forgets the names that have nothing to wait for when there are too many, or else the
// one that is nearest to it: whoever invents names to have one forgotten has to try each of them
// as often.
func (s *limiter) makeRoom() {
	if len(s.names) < mostNames {
		return
	}
	nearest, most := "", -1.0
	for name, t := range s.names {
		left := t.left.Tokens() - float64(t.underWay)
		if left >= float64(s.free) {
			delete(s.names, name)
		} else if left > most {
			nearest, most = name, left
		}
	}
	if len(s.names) >= mostNames {
		delete(s.names, nearest)
	}
}

// reservation is a name to reserve a try for, and whether a right one forgives the wrong ones
// before it.
type reservation struct {
	by       *limiter
	name     string
	forgives bool
}

// reserveAll reserves a try for several names: for all of them or for none.
func reserveAll(ctx context.Context, of ...reservation) (wait time.Duration, settle func(verdict)) {
	var settles []func(verdict)
	settle = func(v verdict) {
		for i, s := range settles {
			if v == right && !of[i].forgives {
				s(neither)
			} else {
				s(v)
			}
		}
	}
	for _, r := range of {
		wait, one := r.by.reserve(ctx, r.name)
		if wait > 0 {
			settle(neither)
			return wait, nil
		}
		settles = append(settles, one)
	}
	return 0, settle
}

// limited makes a try for those names that have one left. An error of the kind that counts is a
// wrong one.
func limited[T any](ctx context.Context, counts work.ErrorKind, try func() (T, error), of ...reservation) (out T, err error) {
	wait, settle := reserveAll(ctx, of...)
	if wait > 0 {
		return out, tooMany(wait)
	}
	v := neither
	defer func() { settle(v) }()
	out, err = try()
	var mistake *work.Error
	switch {
	case err == nil:
		v = right
	case errors.As(err, &mistake) && mistake.Kind == counts:
		v = wrong
	}
	if err != nil {
		return out, problem(err)
	}
	return out, nil
}

// tooMany is the answer to who has to wait.
func tooMany(wait time.Duration) error {
	return huma.NewError(http.StatusTooManyRequests, fmt.Sprintf("too many tries: wait %d s", int(math.Ceil(wait.Seconds()))))
}

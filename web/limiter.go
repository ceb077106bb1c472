package web

import (
	"fmt"
	"math"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

// limiter makes those who guess wait: after some free tries a second, then two, four
// and so on up to a longest pause. Who has not been wrong for a while is forgotten.
type limiter struct {
	free    int
	longest time.Duration
	forget  time.Duration // 0 for never

	mu    sync.Mutex
	tries map[string]tries
}

type tries struct {
	failed int
	last   time.Time
}

func newLimiter(free int, longest, forget time.Duration) *limiter {
	return &limiter{free: free, longest: longest, forget: forget, tries: map[string]tries{}}
}

// wait returns how long a name has to wait before the next try.
func (s *limiter) wait(name string) time.Duration {
	s.mu.Lock()
	defer s.mu.Unlock()
	t := s.tries[name]
	if t.failed < s.free || s.forgotten(t) {
		return 0
	}
	pause := min(time.Duration(1)<<min(t.failed-s.free, 12)*time.Second, s.longest)
	return time.Until(t.last.Add(pause))
}

func (s *limiter) forgotten(t tries) bool { return s.forget > 0 && time.Since(t.last) > s.forget }

// wrong counts a wrong try.
func (s *limiter) wrong(name string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.tries) > 10_000 {
		clear(s.tries)
	}
	t := s.tries[name]
	if s.forgotten(t) {
		t.failed = 0
	}
	s.tries[name] = tries{t.failed + 1, time.Now()}
}

// right forgets a name's wrong tries.
func (s *limiter) right(name string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	delete(s.tries, name)
}

// tooMany is the answer to who has to wait.
func tooMany(wait time.Duration) error {
	return huma.NewError(http.StatusTooManyRequests, fmt.Sprintf("too many tries: wait %d s", int(math.Ceil(wait.Seconds()))))
}

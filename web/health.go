package web

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"meldung/work"
)

// health says whether the school can be served: whether anything can be written. It tries at
// most once in a while, however often it is asked.
type health struct {
	office *work.Office

	mu    sync.Mutex
	tried time.Time
	fault error
}

const (
	healthFor = 5 * time.Second  // how long an answer holds
	longWrite = 10 * time.Second // how long a write may wait for others
)

func (h *health) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-store")
	if err := h.try(r.Context()); err != nil {
		http.Error(w, "nothing can be written", http.StatusServiceUnavailable)
		return
	}
	fmt.Fprintln(w, "ok")
}

func (h *health) try(ctx context.Context) error {
	h.mu.Lock()
	defer h.mu.Unlock()
	if !h.tried.IsZero() && time.Since(h.tried) < healthFor {
		return h.fault
	}
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), longWrite)
	defer cancel()
	err := h.office.Store().Writable(ctx)
	if err != nil {
		slog.Error("nothing can be written", "error", err)
	}
	h.tried, h.fault = time.Now(), err
	return err
}

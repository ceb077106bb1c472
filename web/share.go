package web

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/klauspost/compress/gzip"

	"meldung/core/day"
	"meldung/work"
)

// sharedBy are the routes whose answers are made once for all who ask for the same until
// anything is written or a minute is over, and whether it matters which account asks. Answers
// that change otherwise are not among them.
var sharedBy = map[work.Permission]bool{
	work.MaySeeRail: false, work.MaySeeToday: false, work.MaySeeDesk: false, work.MaySeeAbsence: false, work.MaySeeLates: false,
	work.MaySeeNotices: false, work.MaySeeUnexplained: false, work.MaySeeProtocol: false, work.MaySeeTasks: false,
	work.MaySeeSettings: false, work.MaySeeReasonKinds: false, work.MaySeeStandIns: false, work.MaySeeSchool: false,
	work.MaySeeRegisters: true, work.MaySeeRegister: true, work.MaySeeConcerns: true, work.MaySeeStudent: true, work.MaySeeWhy: true, work.MaySeeNotes: true,
}

// shared are answers as they are since the last write, or the last minute that began.
type shared struct {
	mu      sync.Mutex
	of      asOf
	answers map[string]*sharedAnswer
	size    int
}

// asOf is since when answers hold.
type asOf struct {
	version int64
	now     day.Instant
}

// mostShared bounds the bytes of answers that are kept, and leastPacked is from how many on one
// is compressed.
const (
	mostShared  = 64 << 20
	leastPacked = 1 << 10
)

// sharedAnswer is an answer that somebody makes, or has made.
type sharedAnswer struct {
	done        chan struct{} // closed when it is made
	good        bool          // it may be handed on
	contentType string
	tag         string
	plain       []byte
	packed      []byte // gzip; nil where that is no gain
}

// share answers what is shared from what was made before, and otherwise makes it for those who
// ask meanwhile too.
func (s *server) share(ctx huma.Context, next func(huma.Context)) {
	needs := work.Permission(ctx.Operation().OperationID)
	own, may := sharedBy[needs]
	if !may || ctx.Method() != http.MethodGet {
		next(ctx)
		return
	}
	url := ctx.URL()
	key := url.RequestURI()
	if own {
		key = fmt.Sprintf("%d %s", person(ctx.Context()).Account, key)
	}
	a, mine := s.shared.take(asOf{s.office.Version(), s.office.Now()}, key)
	if mine {
		s.shared.make(ctx, a, next)
		return
	}
	select {
	case <-a.done:
	case <-ctx.Context().Done():
		return
	}
	if a.good {
		a.send(ctx)
		return
	}
	next(ctx) // who made it has gone away or was refused: that is no answer for others
}

// take returns the answer under a key, and whether the caller is to make it.
func (c *shared) take(of asOf, key string) (a *sharedAnswer, mine bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.of != of || c.answers == nil || c.size > mostShared {
		c.of, c.answers, c.size = of, map[string]*sharedAnswer{}, 0
	}
	if a = c.answers[key]; a != nil {
		return a, false
	}
	a = &sharedAnswer{done: make(chan struct{})}
	c.answers[key] = a
	return a, true
}

// make makes an answer, sends it, and hands it to those who wait.
func (c *shared) make(ctx huma.Context, a *sharedAnswer, next func(huma.Context)) {
	defer close(a.done)
	held := &heldBack{request: ctx}
	next(held)
	if held.Status() != http.StatusOK {
		ctx.SetHeader("Content-Type", held.contentType)
		ctx.SetStatus(held.Status())
		_, _ = ctx.BodyWriter().Write(held.body.Bytes())
		return
	}
	sum := sha256.Sum256(held.body.Bytes())
	a.contentType, a.plain, a.tag = held.contentType, held.body.Bytes(), `W/"`+base64.RawURLEncoding.EncodeToString(sum[:12])+`"`
	if len(a.plain) >= leastPacked {
		a.packed = packed(a.plain)
	}
	a.good = ctx.Context().Err() == nil
	c.mu.Lock()
	c.size += len(a.plain) + len(a.packed)
	c.mu.Unlock()
	a.send(ctx)
}

func packed(plain []byte) []byte {
	var out bytes.Buffer
	w, err := gzip.NewWriterLevel(&out, gzip.BestSpeed)
	if err != nil {
		return nil
	}
	if _, err := w.Write(plain); err != nil || w.Close() != nil {
		return nil
	}
	return out.Bytes()
}

// send sends an answer: nothing of it to who has it already, and compressed to who takes that.
func (a *sharedAnswer) send(ctx huma.Context) {
	ctx.SetHeader("ETag", a.tag)
	ctx.AppendHeader("Vary", "Accept-Encoding")
	if ctx.Header("If-None-Match") == a.tag {
		ctx.SetStatus(http.StatusNotModified)
		return
	}
	ctx.SetHeader("Content-Type", a.contentType)
	body := a.plain
	if a.packed != nil && strings.Contains(ctx.Header("Accept-Encoding"), "gzip") {
		ctx.SetHeader("Content-Encoding", "gzip")
		body = a.packed
	}
	ctx.SetStatus(http.StatusOK)
	_, _ = ctx.BodyWriter().Write(body) // who has gone away misses it
}

// request is a context under another name: it has a method of its own one.
type request huma.Context

// heldBack keeps an answer instead of sending it.
type heldBack struct {
	request
	status      int
	contentType string
	body        bytes.Buffer
}

func (h *heldBack) SetStatus(code int)    { h.status = code }
func (h *heldBack) Status() int           { return h.status }
func (h *heldBack) BodyWriter() io.Writer { return &h.body }
func (h *heldBack) SetHeader(name, value string) {
	if name == "Content-Type" {
		h.contentType = value
		return
	}
	h.request.SetHeader(name, value)
}

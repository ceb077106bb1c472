package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"strconv"
	"strings"
	"sync"
	"time"

	"meldung/demo"
)

// browser is somebody who is signed in.
type browser struct {
	url    string
	client *http.Client
	mu     sync.Mutex
	had    map[string]had // by path
}

// had is an answer that was had, and what it covers.
type had struct {
	tag    string
	covers int64
	at     time.Time
}

func signedIn(ctx context.Context, url, username string) (*browser, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	b := &browser{url: url, client: &http.Client{Jar: jar, Timeout: 30 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 200}}, had: map[string]had{}}
	_, err = b.post(ctx, "/api/session", "", map[string]string{"username": username, "password": demo.Password})
	return b, err
}

// as is another page of the same person's browser.
func (b *browser) as() *browser {
	return &browser{url: b.url, client: b.client, had: map[string]had{}}
}

// refused is an answer that is not what was asked for.
type refused struct {
	status int
	words  string
}

func (r *refused) Error() string { return fmt.Sprintf("%d: %s", r.status, r.words) }

// get reads a path as a page does: it says what it has, and is told when that still holds.
func (b *browser) get(ctx context.Context, path string) ([]byte, error) {
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, b.url+path, nil)
	if err != nil {
		return nil, err
	}
	b.mu.Lock()
	before := b.had[path]
	b.mu.Unlock()
	if before.tag != "" {
		r.Header.Set("If-None-Match", before.tag)
	}
	a, err := b.client.Do(r)
	if err != nil {
		return nil, err
	}
	defer a.Body.Close()
	body, err := io.ReadAll(a.Body)
	if err != nil {
		return nil, err
	}
	if a.StatusCode != http.StatusOK && a.StatusCode != http.StatusNotModified {
		return nil, &refused{a.StatusCode, string(body)}
	}
	now := had{tag: a.Header.Get("ETag"), at: time.Now()}
	now.covers, _ = strconv.ParseInt(a.Header.Get("Covers"), 10, 64)
	b.mu.Lock()
	b.had[path] = now
	b.mu.Unlock()
	return body, nil
}

// post writes, and returns the answer.
func (b *browser) post(ctx context.Context, path, key string, body any) ([]byte, error) {
	text, err := json.Marshal(body)
	if err != nil {
		return nil, err
	}
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, b.url+path, bytes.NewReader(text))
	if err != nil {
		return nil, err
	}
	r.Header.Set("Content-Type", "application/json")
	if key != "" {
		r.Header.Set("Idempotency-Key", key)
	}
	a, err := b.client.Do(r)
	if err != nil {
		return nil, err
	}
	defer a.Body.Close()
	answer, err := io.ReadAll(a.Body)
	if err != nil {
		return nil, err
	}
	if a.StatusCode != http.StatusOK {
		return nil, &refused{a.StatusCode, string(answer)}
	}
	return answer, nil
}

// event is what the server tells of a change.
type event struct {
	Seq   int64    `json:"seq"`
	About []string `json:"about"`
	Scope string   `json:"scope"`
	heard time.Time
}

// What the interface knows of its paths (ui/src/api/topics.ts), and how it paces itself
// (ui/src/api/again.ts).
var (
	topics = map[string][]string{"/api/today": {"day", "messages", "school"}, "/api/rail": {"day", "school"}, "/api/notes": {"messages", "day"},
		"/api/desk": {"day", "school"}, "/api/absence": {"day", "school"}, "/api/registers": {"day", "school"}, "/api/concerns": {"day", "concerns", "school"}}
	long = map[string]bool{"/api/absence": true, "/api/concerns": true}
)

const (
	pace     = 250 * time.Millisecond
	slowPace = 10 * time.Second
	rail     = 15 * time.Second
)

// page is an open page: it follows the live line and asks again for what a change concerns.
type page struct {
	*browser
	paths []string // the rail's first
	fresh func(took time.Duration)
	fault func(error)
}

// run follows the live line until the context ends.
func (p *page) run(ctx context.Context) {
	for _, path := range p.paths {
		if _, err := p.get(ctx, path); err != nil {
			p.failed(ctx, err)
		}
	}
	events := make(chan event, 1000)
	go p.listen(ctx, events)
	every := time.NewTicker(rail)
	defer every.Stop()
	for {
		var waiting []event
		select {
		case <-ctx.Done():
			return
		case <-every.C:
			if _, err := p.get(ctx, p.paths[0]); err != nil {
				p.failed(ctx, err)
			}
			continue
		case e := <-events:
			waiting = append(waiting, e)
		}
		begun := time.Now()
		for more := true; more; {
			select {
			case e := <-events:
				waiting = append(waiting, e)
			default:
				more = false
			}
		}
		p.look(ctx, waiting)
		if ctx.Err() == nil {
			p.fresh(time.Since(waiting[0].heard))
		}
		select {
		case <-time.After(time.Until(begun.Add(pace))):
		case <-ctx.Done():
		}
	}
}

// look asks again for what some changes concern, all at once.
func (p *page) look(ctx context.Context, changes []event) {
	var asking sync.WaitGroup
	for _, path := range p.paths {
		for _, e := range changes {
			if !p.concerns(path, e) {
				continue
			}
			asking.Go(func() {
				if _, err := p.get(ctx, path); err != nil {
					p.failed(ctx, err)
				}
			})
			break
		}
	}
	asking.Wait()
}

func (p *page) concerns(path string, e event) bool {
	p.mu.Lock()
	before := p.had[path]
	p.mu.Unlock()
	if (e.Seq > 0 && before.covers >= e.Seq) || (long[path] && time.Since(before.at) < slowPace) {
		return false
	}
	if e.Scope != "" {
		f := strings.Fields(e.Scope)
		return len(f) == 3 && path == "/api/registers/"+f[1]+"/"+f[2]
	}
	shows, known := topics[path]
	if !known {
		shows = []string{"day", "school"} // a register
	}
	for _, a := range e.About {
		for _, t := range shows {
			if a == t {
				return true
			}
		}
	}
	return len(e.About) == 0
}

func (p *page) failed(ctx context.Context, err error) {
	if ctx.Err() == nil {
		p.fault(err)
	}
}

// listen hands on what the server tells, and opens the line again when it breaks.
func (p *page) listen(ctx context.Context, events chan<- event) {
	stream := &http.Client{Jar: p.client.Jar}
	for ctx.Err() == nil {
		if err := p.listenOnce(ctx, stream, events); err != nil {
			p.failed(ctx, err)
		}
		select {
		case <-time.After(time.Second):
		case <-ctx.Done():
		}
	}
}

func (p *page) listenOnce(ctx context.Context, stream *http.Client, events chan<- event) error {
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, p.url+"/api/live", nil)
	if err != nil {
		return err
	}
	a, err := stream.Do(r)
	if err != nil {
		return err
	}
	defer a.Body.Close()
	if a.StatusCode != http.StatusOK {
		return &refused{a.StatusCode, "the live line"}
	}
	lines := bufio.NewScanner(a.Body)
	for lines.Scan() {
		text, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		e := event{heard: time.Now()}
		if err := json.Unmarshal([]byte(text), &e); err != nil {
			return err
		}
		events <- e
	}
	return errors.Join(lines.Err(), io.ErrUnexpectedEOF)
}

package main

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"sync"
	"time"
)

// How a phone paces itself (ui/src/api/ticks.ts).
const (
	gather   = 150 * time.Millisecond // ticks go out together
	mostSent = 200                    // in one request
	lookAt   = 5 * time.Second        // between looks without an event
)

// offline is how many of the phones have no line while the others tick.
const offline = 2

// somebody is who is to be found.
type somebody struct {
	Kind   string `json:"kind"`
	Person int64  `json:"person"`
}

// tick is a tick as it is sent.
type tick struct {
	somebody
	Token string `json:"token"`
	Here  bool   `json:"here"`
	How   string `json:"how"`
	Ago   int    `json:"ago"`
}

// drill is a roll call that several phones tick at once.
type drill struct {
	id     int64
	people []somebody
	opened []time.Duration // from the touch to the list on each phone

	mu    sync.Mutex
	made  map[string]time.Time // by token: when it could go out
	seen  []time.Duration      // from a tick to another phone's having it
	fault func(error)
}

// phone ticks and follows what the others tick.
type phone struct {
	*page
	of     *drill
	mine   []somebody
	online chan struct{} // closed when it has a line
	since  time.Time     // when that was

	mu      sync.Mutex
	waiting []tick
	mineToo map[string]bool
	known   map[string]bool
	seq     int64
}

// begin begins a roll call and has every phone open its list.
func begin(ctx context.Context, p people, phones int, fault func(error)) (*drill, []*phone, error) {
	d := &drill{made: map[string]time.Time{}, fault: fault}
	touched := time.Now()
	text, err := p.officer.post(ctx, "/api/roll-calls", rand.Text(), map[string]any{"token": rand.Text(), "kind": "drill"})
	if err != nil {
		return nil, nil, err
	}
	var begun struct{ ID int64 }
	if err := json.Unmarshal(text, &begun); err != nil {
		return nil, nil, err
	}
	d.id = begun.ID
	fmt.Printf("a roll call begun:      %v\n", time.Since(touched).Round(time.Millisecond))
	who := []*browser{p.officer, p.pastoral, p.teacher, p.desk, p.leader}
	var all []*phone
	for n := range phones {
		ph := &phone{page: &page{browser: who[n%len(who)].as(), fault: fault}, of: d, online: make(chan struct{}), mineToo: map[string]bool{}, known: map[string]bool{}}
		asked := time.Now()
		text, err := ph.get(ctx, "/api/roll-call")
		if err != nil {
			return nil, nil, err
		}
		d.opened = append(d.opened, time.Since(asked))
		var list struct{ People []somebody }
		if err := json.Unmarshal(text, &list); err != nil {
			return nil, nil, err
		}
		d.people = list.People
		all = append(all, ph)
	}
	for n, one := range d.people {
		all[n%phones].mine = append(all[n%phones].mine, one)
	}
	return d, all, nil
}

// run ticks what is this phone's over a time, and follows the others until the context ends.
func (ph *phone) run(ctx context.Context, over time.Duration) {
	wake := make(chan struct{}, 1)
	events := make(chan event, 1000)
	go func() {
		<-ph.online
		ph.listen(ctx, events)
	}()
	go func() {
		every := time.NewTicker(over / time.Duration(max(1, len(ph.mine))))
		defer every.Stop()
		for _, one := range ph.mine {
			select {
			case <-every.C:
			case <-ctx.Done():
				return
			}
			ph.tick(one)
			select {
			case wake <- struct{}{}:
			default:
			}
		}
	}()
	<-ph.online
	ph.mu.Lock()
	ph.since = time.Now()
	ph.mu.Unlock()
	look := time.NewTicker(lookAt)
	defer look.Stop()
	for ctx.Err() == nil {
		if err := ph.talk(ctx); err != nil {
			ph.failed(ctx, err)
		}
		for more := true; more; {
			select {
			case <-events:
			default:
				more = false
			}
		}
		select {
		case <-wake:
			time.Sleep(gather)
		case e := <-events:
			if ph.covered(e.Seq) {
				continue
			}
		case <-look.C:
		case <-ctx.Done():
		}
	}
}

func (ph *phone) covered(seq int64) bool {
	ph.mu.Lock()
	defer ph.mu.Unlock()
	return seq > 0 && seq <= ph.seq && len(ph.waiting) == 0
}

func (ph *phone) tick(one somebody) {
	t := tick{somebody: one, Token: rand.Text(), Here: true, How: "list"}
	ph.mu.Lock()
	ph.waiting, ph.mineToo[t.Token] = append(ph.waiting, t), true
	ph.mu.Unlock()
	select {
	case <-ph.online:
		ph.of.mu.Lock()
		ph.of.made[t.Token] = time.Now()
		ph.of.mu.Unlock()
	default: // nobody can see it before it has a line
	}
}

// talk sends what waits, and takes in what the others have ticked.
func (ph *phone) talk(ctx context.Context) error {
	path := "/api/roll-calls/" + strconv.FormatInt(ph.of.id, 10) + "/ticks"
	for {
		ph.mu.Lock()
		out := ph.waiting[:min(len(ph.waiting), mostSent)]
		ph.mu.Unlock()
		if len(out) == 0 {
			break
		}
		if _, err := ph.post(ctx, path, rand.Text(), map[string]any{"ticks": out}); err != nil {
			return err
		}
		ph.mu.Lock()
		ph.waiting = ph.waiting[len(out):]
		ph.mu.Unlock()
	}
	text, err := ph.get(ctx, fmt.Sprint(path, "?after=", ph.seq))
	if err != nil {
		return err
	}
	var view struct {
		Seq   int64
		Ticks []tick
	}
	if err := json.Unmarshal(text, &view); err != nil {
		return err
	}
	now := time.Now()
	ph.of.mu.Lock()
	defer ph.of.mu.Unlock()
	ph.mu.Lock()
	defer ph.mu.Unlock()
	ph.seq = view.Seq
	for _, t := range view.Ticks {
		if made, online := ph.of.made[t.Token]; online && made.After(ph.since) && !ph.known[t.Token] && !ph.mineToo[t.Token] {
			ph.of.seen = append(ph.of.seen, now.Sub(made))
		}
		ph.known[t.Token] = true
	}
	return nil
}

// done waits until every phone knows every tick, and says what is lost or doubled.
func (d *drill) done(ctx context.Context, officer *browser, phones []*phone) ([]string, error) {
	for begun := time.Now(); time.Since(begun) < patience; time.Sleep(50 * time.Millisecond) {
		all := true
		for _, ph := range phones {
			ph.mu.Lock()
			all = all && len(ph.known) == len(d.people)
			ph.mu.Unlock()
		}
		if all {
			break
		}
	}
	var wrong []string
	for n, ph := range phones {
		if len(ph.known) != len(d.people) {
			wrong = append(wrong, fmt.Sprintf("phone %d knows of %d ticks, of %d", n, len(ph.known), len(d.people)))
		}
	}
	text, err := officer.get(ctx, fmt.Sprintf("/api/roll-calls/%d/record", d.id))
	if err != nil {
		return nil, err
	}
	var record struct {
		Rows []struct {
			somebody
			Tick *struct{ Token string }
		}
	}
	if err := json.Unmarshal(text, &record); err != nil {
		return nil, err
	}
	for _, r := range record.Rows {
		if r.Tick == nil {
			wrong = append(wrong, fmt.Sprintf("the tick of %s %d", r.Kind, r.Person))
		}
	}
	if len(record.Rows) != len(d.people) {
		wrong = append(wrong, fmt.Sprintf("%d people on the list, of %d", len(record.Rows), len(d.people)))
	}
	return wrong, nil
}

// rollCalled measures a roll call beside registers, desks and open pages.
func rollCalled(ctx context.Context, folder string, o options) error {
	m, err := beginMorning(ctx, folder, o)
	if err != nil {
		return err
	}
	d, phones, err := begin(ctx, m.p, o.rollCall, m.k.fault)
	if err != nil {
		return errors.Join(err, m.end())
	}
	during, stop := context.WithTimeout(ctx, o.minute)
	defer stop()
	for n, ph := range phones {
		if n >= offline {
			close(ph.online)
		}
		m.looking.Go(func() { ph.run(m.open, o.minute*9/10) })
	}
	busyBefore, _, _ := m.s.used()
	begun := time.Now()
	morningWork(during, m.p, m.registers, o, m.k)
	busy, resident, peak := m.s.used()
	wall := time.Since(begun)
	for _, ph := range phones[:min(offline, len(phones))] {
		close(ph.online)
	}
	wrong, err := d.done(ctx, m.p.officer.as(), phones)
	joined := time.Since(begun) - wall
	if err == nil {
		var lost []string
		lost, err = m.k.lost(ctx, m.p.officer)
		wrong = append(wrong, lost...)
	}
	m.close()
	m.looking.Wait()
	if err == nil && len(wrong) == 0 {
		_, err = m.p.officer.post(ctx, fmt.Sprintf("/api/roll-calls/%d/end", d.id), rand.Text(), map[string]string{})
	}
	if err := errors.Join(err, m.end()); err != nil {
		return err
	}
	fmt.Printf("%d people, %d phones, %d of them without a line for %.0f s; %d pages open, %d registers and %d arrivals\n", len(d.people), len(phones), min(offline, len(phones)), wall.Seconds(), o.pages, len(m.k.sends), len(m.k.moves))
	fmt.Printf("its list opened:        %s\n", spread(d.opened))
	fmt.Printf("a tick seen by others:  %s\n", spread(d.seen))
	fmt.Printf("all joined up after:    %v\n", joined.Round(time.Millisecond))
	m.figures(busy-busyBefore, resident, peak, wall)
	return m.k.verdict(wrong)
}

package main

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	mathrand "math/rand/v2"
	"net/http"
	"slices"
	"sync"
	"time"

	"meldung/outside"
	"meldung/store"
	"meldung/work"
	"meldung/work/check"
)

// people are those who are signed in.
type people struct{ officer, pastoral, teacher, desk, leader *browser }

func signIn(ctx context.Context, url string) (people, error) {
	var p people
	for _, one := range []struct {
		b    **browser
		name string
	}{{&p.officer, "tolvan"}, {&p.pastoral, "ase"}, {&p.teacher, "osk"}, {&p.desk, "kersey"}, {&p.leader, "strom"}} {
		var err error
		if *one.b, err = signedIn(ctx, url, one.name); err != nil {
			return p, err
		}
	}
	return p, nil
}

// openPages are the pages of a morning: most are registers, some look at the whole school.
func openPages(p people, registers []at, n int, k *acknowledged) []*page {
	var out []*page
	for i := range n {
		var b *browser
		own := ""
		switch i % 10 {
		case 0:
			b, own = p.officer.as(), "/api/today"
		case 1:
			b, own = p.desk.as(), "/api/desk"
		case 2:
			b, own = p.pastoral.as(), "/api/registers"
		case 3:
			b, own = p.leader.as(), "/api/absence"
		default:
			b, own = p.officer.as(), registers[i%len(registers)].path()
		}
		out = append(out, &page{b, []string{"/api/rail", "/api/notes", own}, func(took time.Duration) {
			k.mu.Lock()
			defer k.mu.Unlock()
			k.fresh = append(k.fresh, took)
		}, k.fault})
	}
	return out
}

// morningWork has registers come in and desks sign students in until the context ends.
func morningWork(ctx context.Context, p people, registers []at, o options, k *acknowledged) {
	var working sync.WaitGroup
	working.Go(func() {
		every := time.NewTicker(o.minute / time.Duration(max(1, len(registers))))
		defer every.Stop()
		for _, a := range registers {
			select {
			case <-every.C:
			case <-ctx.Done():
				return
			}
			working.Go(func() {
				took, marks, err := sent(ctx, p.officer, a, rand.Text())
				if err != nil {
					if ctx.Err() == nil {
						k.fault(fmt.Errorf("sending class %d, %s: %w", a.Class, a.Slot, err))
					}
					return
				}
				k.mu.Lock()
				defer k.mu.Unlock()
				k.registers[a] = marks
				k.sends = append(k.sends, took)
			})
		}
	})
	for d := range o.desks {
		working.Go(func() {
			for n := 0; ; n++ {
				select {
				case <-time.After(o.arrivals):
				case <-ctx.Done():
					return
				}
				student, key := mathrand.IntN(o.students)+1, fmt.Sprint(rand.Text(), d)
				took, err := arrived(ctx, p.desk, student, key)
				var no *refused
				switch {
				case errors.As(err, &no) && no.status < http.StatusInternalServerError:
					continue // is in already, or not on the roll
				case err != nil:
					if ctx.Err() == nil {
						k.fault(fmt.Errorf("signing in student %d: %w", student, err))
					}
					continue
				}
				k.mu.Lock()
				k.movements[key] = student
				k.moves = append(k.moves, took)
				k.mu.Unlock()
			}
		})
	}
	working.Wait()
}

// morningUnderWay is a school that is served, with its pages open.
type morningUnderWay struct {
	s         *server
	p         people
	registers []at // those that are to come in
	k         *acknowledged
	open      context.Context // ends with the pages
	close     func()
	looking   sync.WaitGroup
}

// beginMorning serves a folder and opens the pages of a morning.
func beginMorning(ctx context.Context, folder string, o options) (*morningUnderWay, error) {
	m := &morningUnderWay{k: newAcknowledged()}
	begun := time.Now()
	var err error
	if m.s, err = started(ctx, folder); err != nil {
		return nil, err
	}
	fmt.Printf("from the start to its address: %.1f s\n", time.Since(begun).Seconds())
	if m.p, err = signIn(ctx, m.s.url); err != nil {
		return nil, errors.Join(err, m.s.end())
	}
	if m.registers, err = out(ctx, m.p.officer); err != nil {
		return nil, errors.Join(err, m.s.end())
	}
	m.registers = m.registers[:min(len(m.registers), o.registers)]
	m.open, m.close = context.WithCancel(ctx)
	for _, page := range openPages(m.p, m.registers, o.pages, m.k) {
		m.looking.Go(func() { page.run(m.open) })
	}
	time.Sleep(10 * time.Second) // until every page has opened and the ledgers are filled
	return m, nil
}

// end closes the pages and asks the server to end.
func (m *morningUnderWay) end() error {
	m.close()
	m.looking.Wait()
	return m.s.end()
}

// figures prints how the work of the morning went.
func (m *morningUnderWay) figures(busy time.Duration, resident, peak int64, wall time.Duration) {
	fmt.Printf("a register sent:        %s\n", spread(m.k.sends))
	fmt.Printf("an arrival at a desk:   %s\n", spread(m.k.moves))
	fmt.Printf("event to a fresh page:  %s\n", spread(m.k.fresh))
	fmt.Printf("the server: %.2f of one core, %d MB resident, %d MB at most\n", busy.Seconds()/wall.Seconds(), resident>>20, peak>>20)
}

// measured runs the busiest minute and prints its figures.
func measured(ctx context.Context, folder string, o options) error {
	m, err := beginMorning(ctx, folder, o)
	if err != nil {
		return err
	}
	during, stop := context.WithTimeout(ctx, o.minute)
	defer stop()
	busyBefore, _, _ := m.s.used()
	begun := time.Now()
	morningWork(during, m.p, m.registers, o, m.k)
	busy, resident, peak := m.s.used()
	wall := time.Since(begun)
	lost, err := m.k.lost(ctx, m.p.officer)
	if err := errors.Join(err, m.end()); err != nil {
		return err
	}
	fmt.Printf("%d students, %d pages open, %d registers and %d arrivals in %.0f s\n", o.students, o.pages, len(m.k.sends), len(m.k.moves), wall.Seconds())
	m.figures(busy-busyBefore, resident, peak, wall)
	return m.k.verdict(lost)
}

// verdict says what went wrong and what is lost, the first of each.
func (k *acknowledged) verdict(lost []string) error {
	fmt.Printf("errors: %d, lost: %d\n", len(k.faults), len(lost))
	for _, f := range slices.Concat(k.faults[:min(len(k.faults), 5)], lost[:min(len(lost), 5)]) {
		fmt.Println("  ", f)
	}
	if len(k.faults)+len(lost) > 0 {
		return errors.New("that is not a quiet morning")
	}
	return nil
}

// spread says how a number of times are spread.
func spread(times []time.Duration) string {
	if len(times) == 0 {
		return "none"
	}
	slices.Sort(times)
	of := func(hundredth int) time.Duration {
		return times[min(len(times)-1, len(times)*hundredth/100)].Round(100 * time.Microsecond)
	}
	return fmt.Sprintf("p50 %v, p99 %v, most %v (%d)", of(50), of(99), of(100), len(times))
}

const (
	registersAKill = 5                // that come in between a start and a kill, at most
	patience       = 20 * time.Second // for the first write after a start
)

// killed has the server killed in the midst of the work, again and again, and looks after each
// whether everything that was acknowledged is there.
func killed(ctx context.Context, folder string, o options) error {
	k := newAcknowledged()
	var firsts []time.Duration
	for n := 1; n <= o.kills; n++ {
		s, err := started(ctx, folder)
		if err != nil {
			return err
		}
		p, err := signIn(ctx, s.url)
		if err != nil {
			return errors.Join(err, s.Process.Kill())
		}
		missing, err := k.lost(ctx, p.officer)
		if err != nil {
			return errors.Join(err, s.Process.Kill())
		}
		if len(missing) > 0 {
			return fmt.Errorf("after %d kills %d things are lost, first %s", n-1, len(missing), missing[0])
		}
		registers, err := out(ctx, p.officer)
		if err != nil {
			return errors.Join(err, s.Process.Kill())
		}
		during, stop := context.WithCancel(ctx)
		quiet := newAcknowledged() // its faults are those of a server that is gone
		var working sync.WaitGroup
		if len(registers) > 0 {
			for _, page := range openPages(p, registers, o.pages, quiet) {
				working.Go(func() { page.run(during) })
			}
		}
		hurried := o
		hurried.minute, hurried.arrivals = 3*time.Second, 100*time.Millisecond
		next := registers[:min(len(registers), registersAKill)]
		before, begun := k.count(), time.Now()
		working.Go(func() { morningWork(during, p, next, hurried, k) })
		for k.count() == before && time.Since(begun) < patience {
			time.Sleep(5 * time.Millisecond)
		}
		firsts = append(firsts, time.Since(begun))
		time.Sleep(time.Duration(mathrand.IntN(1500)) * time.Millisecond)
		if err := s.Process.Kill(); err != nil {
			stop()
			return err
		}
		stop()
		working.Wait()
		_ = s.Wait() // it was killed
	}
	s, err := started(ctx, folder)
	if err != nil {
		return err
	}
	p, err := signIn(ctx, s.url)
	if err != nil {
		return errors.Join(err, s.end())
	}
	missing, err := k.lost(ctx, p.officer)
	if err := errors.Join(err, s.end()); err != nil {
		return err
	}
	wrong, err := damage(ctx, folder)
	if err != nil {
		return err
	}
	if k.count() == 0 {
		return fmt.Errorf("nothing was acknowledged in %d kills: %v", o.kills, k.faults)
	}
	fmt.Printf("first write stored, with every page asking at once after a start: %s\n", spread(firsts))
	fmt.Printf("%d kills; acknowledged: %d registers, %d arrivals; lost: %d; damage: %d\n", o.kills, len(k.registers), len(k.movements), len(missing), len(wrong))
	for _, m := range slices.Concat(missing, wrong) {
		fmt.Println("  ", m)
	}
	if len(missing)+len(wrong) > 0 {
		return errors.New("something is lost")
	}
	return nil
}

// damage looks for damage in a folder that nobody serves.
func damage(ctx context.Context, folder string) (wrong []string, err error) {
	db, err := store.OpenToRead(ctx, folder)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	office, err := work.Open(ctx, db, outside.NewDemoClock(morning))
	if err != nil {
		return nil, err
	}
	return check.Check(ctx, office, false)
}

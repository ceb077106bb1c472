package demo

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/outside"
	"meldung/store"
	"meldung/work"
	"meldung/work/accounts"
	"meldung/work/concerns"
	"meldung/work/messages"
	"meldung/work/paperlists"
)

// act is something that one of the school's own people does at an instant.
type act struct {
	at  day.Instant
	key string
	who string // username
	do  func(ctx context.Context, p work.Person, key string) error
}

// Clock is the office's clock, which the player moves.
type Clock interface {
	work.Clock
	Set(at day.Instant)
}

// Player has the school's people do their part as the demonstration's clock
// passes; what the visitor has done already is left alone.
type Player struct {
	school    *School
	office    *work.Office
	clock     Clock
	simulated outside.Simulated

	mu      sync.Mutex
	people  map[string]work.Person
	scripts map[day.Date][]act
	first   day.Date // the first day that is played, not written
	done    day.Instant
}

// NewPlayer readies the people of an office. Nothing happens before Advance.
func NewPlayer(ctx context.Context, s *School, o *work.Office, clock Clock) (*Player, error) {
	p := &Player{school: s, office: o, clock: clock, people: map[string]work.Person{}, scripts: map[day.Date][]act{}}
	if found, err := store.Setting(ctx, o.Store().Read(), firstPlayed, &p.first); err != nil || !found {
		return nil, errors.Join(fmt.Errorf("this data folder holds no demonstration"), err)
	}
	p.done = day.At(p.first, day.Midnight) - 1
	all, err := store.Accounts(ctx, o.Store().Read())
	if err != nil {
		return nil, err
	}
	for _, a := range all {
		if p.people[a.Username], _, err = accounts.PersonOf(ctx, o, a.ID); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// Advance plays everything up to the clock's present minute.
func (p *Player) Advance(ctx context.Context) error {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.advance(ctx, p.clock.Now())
}

func (p *Player) advance(ctx context.Context, to day.Instant) error {
	from := p.done
	ticked := from
	for d := max(from.Date(), p.first); d <= to.Date(); d++ {
		for _, a := range p.script(d) {
			if a.at <= from || a.at > to {
				continue
			}
			if err := p.tick(ctx, &ticked, a.at); err != nil {
				return err
			}
			err := a.do(ctx, p.people[a.who].ActingAt(a.at), a.key)
			var mistake *work.Error
			if err != nil && !errors.As(err, &mistake) {
				return fmt.Errorf("playing %s at %s: %w", a.key, a.at, err)
			}
		}
	}
	p.done = to
	if from == to {
		return messages.Tick(ctx, p.office, p.simulated, to) // something new may have been done within the minute
	}
	return p.tick(ctx, &ticked, to+1)
}

// tick lets what falls due by itself happen in every minute of the school's hours
// before an instant that has not been ticked yet.
func (p *Player) tick(ctx context.Context, done *day.Instant, before day.Instant) error {
	for at := max(*done+1, day.At(before.Date(), day.Midnight)); at < before; at++ {
		if err := paperlists.Tick(ctx, p.office, at); err != nil {
			return fmt.Errorf("making lists at %s: %w", at, err)
		}
	}
	for at := max(*done+1, day.At(before.Date(), dayShape[0].Start)); at < before && !at.Minute().After(upperShape[len(upperShape)-1].End.Add(30)); at++ {
		if err := messages.Tick(ctx, p.office, p.simulated, at); err != nil {
			return fmt.Errorf("ticking at %s: %w", at, err)
		}
		if err := concerns.TellNew(ctx, p.office, at); err != nil {
			return fmt.Errorf("telling of new concerns at %s: %w", at, err)
		}
	}
	*done = max(*done, before-1)
	return nil
}

// Run keeps playing until the context ends.
func (p *Player) Run(ctx context.Context) {
	tick := time.NewTicker(2 * time.Second)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			if err := p.Advance(ctx); err != nil {
				slog.Error("the demonstration has stopped playing", "error", err)
				return
			}
		}
	}
}

// Jumps are the moments that the demonstration offers.
var Jumps = []string{"08:30", "08:50", "09:12", "10:05", "14:40", "next"}

// Jump moves the clock. Forward, everybody's part up to then is played; back, the
// day starts again and what was entered since midnight is dropped.
func (p *Player) Jump(ctx context.Context, to string) error {
	p.mu.Lock()
	defer p.mu.Unlock()
	now := p.clock.Now()
	target, err := p.target(now, to)
	if err != nil {
		return err
	}
	if target <= now {
		start := day.At(target.Date(), day.Midnight)
		if err := p.office.Store().Write(ctx, func(tx *sqlx.Tx) error { return store.DropFrom(ctx, tx, target.Date()) }); err != nil {
			return err
		}
		p.done = start - 1
		p.clock.Set(target)
		if err := p.office.Reload(ctx); err != nil {
			return err
		}
	}
	// The clock goes first, so that nothing played lies in the future.
	p.clock.Set(target)
	if err := p.advance(ctx, target); err != nil {
		return err
	}
	p.office.Announce("clock")
	return nil
}

func (p *Player) target(now day.Instant, to string) (day.Instant, error) {
	if to == "next" {
		for _, d := range p.school.days {
			if d > now.Date() {
				return day.At(d, day.MustMinute("08:30")), nil
			}
		}
		return 0, &work.Error{Kind: work.Refused, Message: "the school year is over"}
	}
	m, err := day.ParseMinute(to)
	if err != nil {
		return 0, &work.Error{Kind: work.Wrong, Message: err.Error()}
	}
	return day.At(now.Date(), m), nil
}

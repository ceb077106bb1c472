package demo

import (
	"context"
	"fmt"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// ownRules are two that the school has made itself; the second did badly.
const ownRules = `rules:
  - id: mondays
    title: Monday drift
    source: our own, after the talk of the pastoral leads in January
    all:
      - absence: {policy: ten-percent, count: days, of: [excused, unexcused], weekday: monday, window: {rolling_days: 4}}
        at_least: 2
  - id: two-lates
    title: Two lates in ten days
    source: our own, on trial
    on: false
    all:
      - lates: {policy: ten-percent, per: school, window: {rolling_days: 10}}
        at_least: 2
`

// reviewed are the days of the reviews that the school has held, at ten to four.
var reviewed = []string{"2026-01-27", "2026-02-03", "2026-02-10", "2026-02-24", "2026-03-03"}

// standing is a clock that stands where it is put.
type standing struct{ now day.Instant }

func (c *standing) Now() day.Instant { return c.now }
func (c *standing) Unix() int64      { return int64(c.now) * 60 }

// holdReviews has the pastoral lead hold the reviews before a date, as anybody would: with what was known then.
func (s *School) holdReviews(ctx context.Context, db *store.Store, until day.Date) error {
	clock := &standing{day.At(day.MustDate(reviewed[0]), day.MustMinute("15:50"))}
	if clock.now.Date() >= until {
		return nil
	}
	o, err := work.Open(ctx, db, clock)
	if err != nil {
		return err
	}
	list, err := store.Accounts(ctx, db.Read())
	if err != nil {
		return err
	}
	account := map[string]store.Account{}
	for _, a := range list {
		account[a.Username] = a
	}
	lead := work.Person{Account: account["ase"].ID, Name: account["ase"].Name, Role: work.Pastoral}
	if _, err := concerns.SetReviews(ctx, o, lead, "", concerns.ReviewRule{Weekday: 2, Weeks: 1}); err != nil {
		return err
	}
	if _, err := concerns.BringRules(ctx, o, lead, "", concerns.RulesText{Text: ownRules, Apply: true}); err != nil {
		return fmt.Errorf("the school's own rules: %w", err)
	}
	past, err := store.LastHistory(ctx, db.Read())
	if err != nil {
		return err
	}
	admin := work.Person{Account: account["admin"].ID, Name: account["admin"].Name, Role: work.Administrator}
	if _, err := outlooks.SetRule(ctx, o, admin, "", outlooks.OutlookRule{On: true, Ridge: "0", From: "1.5", History: past.ID}); err != nil {
		return fmt.Errorf("the outlook: %w", err)
	}
	owners := []ids.Account{account["ase"].ID, account["tolvan"].ID, account["ase"].ID, account["strom"].ID}
	strom := work.Person{Account: account["strom"].ID, Name: account["strom"].Name, Role: work.Leader}
	h := holding{s: s, o: o, clock: clock, lead: lead, owners: owners, leads: [2]work.Person{lead, strom}}
	before := day.At(until, day.Midnight) - 1
	for n, date := range reviewed {
		at := day.At(day.MustDate(date), day.MustMinute("15:50"))
		if err := h.support(ctx, min(at, before)); err != nil {
			return err
		}
		if at > before {
			return nil
		}
		clock.now, h.last = at, n == len(reviewed)-1
		if err := h.review(ctx); err != nil {
			return fmt.Errorf("the review of %s: %w", date, err)
		}
	}
	return h.support(ctx, before)
}

// holding is a review that is being held.
type holding struct {
	s      *School
	o      *work.Office
	clock  *standing
	lead   work.Person
	owners []ids.Account
	last   bool // some are left undecided
	leads  [2]work.Person
	weeks  int // of support that were held
}

// workOn notes what became of the cases whose date has come, and closes some; it returns how many stay open.
func (h *holding) workOn(ctx context.Context, cases []caseload.Case) (open int, err error) {
	said := []string{"spoke with the student: wants to sit elsewhere in two lessons", "home reached, a plan until the holidays", "met with home and tutor"}
	words, err := caseload.Words(ctx, h.o.Store().Read())
	if err != nil {
		return 0, err
	}
	ends := words.List(caseload.Ends)
	for i, c := range cases {
		last := c.Last()
		if !c.Open() {
			continue
		}
		open++
		if *last.NextDate > h.clock.now.Date() {
			continue
		}
		change := caseload.CaseChange{Case: c.ID, Kind: caseload.CaseChanged, Next: (h.clock.now.Date() + 7 + day.Date(i)).String(), Text: said[i%len(said)]}
		if i%3 == 2 {
			open--
			end := ends[[]int{0, 1, 0, 2, 1, 0, 3}[i/3%7]]
			change = caseload.CaseChange{Case: c.ID, Kind: caseload.CaseClosed, End: end.ID, Text: "seen with the home; " + end.Name}
		}
		if _, err := concerns.ChangeCase(ctx, h.o, h.lead, "", change); err != nil {
			return open, err
		}
	}
	return open, nil
}

// review decides about whoever waits for it: who is found by several rules comes into somebody's hands, as long
// as there are hands; who fails a course alone waits for the grades; the rest is known to the tutor.
func (h *holding) review(ctx context.Context) error {
	var due []concerns.Found
	var cases []caseload.Case
	err := h.o.Read(ctx, func(v work.Snapshot) error {
		looks, _, err := concerns.Find(ctx, v, v.Moment())
		if err != nil {
			return err
		}
		all, err := store.ReviewDecisions(ctx, v.Store(), v.Now)
		if err != nil {
			return err
		}
		if cases, err = caseload.Cases(ctx, v.Store(), v.Now); err != nil {
			return err
		}
		waits := map[ids.Student]attention.Decided{}
		for _, d := range all {
			if waits[d.StudentID], err = concerns.DecidedOf(d, 0, cases); err != nil {
				return err
			}
		}
		for _, look := range looks {
			for _, id := range look.IDs {
				f, any := look.Found[id]
				before, decided := waits[id]
				if any && !(decided && before.Holds(f.Stood(), v.Now.Date())) {
					due = append(due, f)
				}
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	opened, err := h.workOn(ctx, cases)
	if err != nil {
		return err
	}
	cases, err = caseload.Cases(ctx, h.o.Store().Read(), h.clock.now) // some are closed by now
	if err != nil {
		return err
	}
	const hands = 37
	at := h.clock.now
	for i, f := range due {
		if h.last && i%5 == 4 {
			continue
		}
		d := concerns.Decide{Student: f.Student}
		on := at.Date()
		open := caseload.OpenCaseOf(cases, f.Student)
		switch {
		case open != nil:
			d.Kind, d.Owner, d.Until, d.Text = attention.OpenCase, open.Last().OwnerID, (on + 14).String(), "something more has come"
		case len(f.Rules) > 1 && opened < hands:
			opened++
			d.Kind, d.Owner, d.Until, d.Text = attention.OpenCase, h.owners[opened%len(h.owners)], (on + 14 + day.Date(opened)).String(), "speak with the student, then with the home"
		case len(f.Rules) > 1:
			d.Kind, d.Until, d.Text = attention.WaitFor, (on + 21).String(), "the tutor speaks with them first"
		case f.Rules[0].Area == "courses":
			d.Kind, d.Until, d.Text = attention.WaitFor, "2026-03-27", "the quarter’s grades"
		case i%3 == 0:
			d.Kind, d.Text = attention.NoAction, "ill, and back since"
		default:
			d.Kind, d.Until, d.Text = attention.WaitFor, (on + 35).String(), "the officer has it in hand"
		}
		h.clock.now = at + day.Instant(i/12)
		if _, err := concerns.Settle(ctx, h.o, h.lead, "", d); err != nil {
			return err
		}
	}
	h.clock.now = at + 20
	if h.last {
		if err := h.meet(ctx, cases); err != nil {
			return err
		}
	}
	_, err = concerns.Finish(ctx, h.o, h.lead, "", concerns.OfSections{})
	return err
}

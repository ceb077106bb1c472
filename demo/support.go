package demo

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/work"
	"meldung/work/caseload"
)

// supported are the days on which the two who lead support write down what was held since the last of them.
var supported = []string{"2026-01-30", "2026-02-06", "2026-02-13", "2026-02-27", "2026-03-06", "2026-03-09"}

// onTheCaseload is how many are to have a session each week.
const onTheCaseload = 21

// supporting is support as it is given in a week.
type supporting struct {
	o      *work.Office
	clock  *standing
	leads  [2]work.Person // the pastoral lead, and a leader
	words  caseload.Vocabulary
	named  func(name string) ids.Student
	number int // of the week
}

// week has both leads write down the sessions of a week. Most of the caseload is met, some are not, and two were
// away.
func (s supporting) week(ctx context.Context) error {
	cases, err := caseload.Cases(ctx, s.o.Store().Read(), s.clock.now)
	if err != nil {
		return err
	}
	load, err := s.caseload(ctx, cases)
	if err != nil || len(load) == 0 {
		return err
	}
	if s.number == len(supported)-1 {
		return s.present(ctx, load)
	}
	kinds := s.words.List(caseload.Kinds)
	friday := s.clock.now.Date()
	for g := 0; g*4 < len(load); g++ {
		var parts []caseload.SessionPart
		for i, id := range load[g*4 : min(len(load), g*4+4)] {
			if (i+g*3+s.number)%7 != 6 { // somebody is missed each week
				parts = append(parts, caseload.SessionPart{Student: id})
			}
		}
		if len(parts) == 0 {
			continue
		}
		kind := kinds[[]int{0, 1, 0, 3, 0, 1}[g%6]]
		one := caseload.NewSession{Date: (friday.Monday() + day.Date(g%5)).String(), From: []string{"12:20", "15:40", "12:20", "10:10", "12:20"}[g%5], Minutes: []int{30, 45, 30, 20, 40}[g%5], Kind: kind.ID, Students: parts, Sure: true}
		if g == 1 {
			one.Note = "homework of the week; two have begun to plan it"
		}
		if _, err := caseload.AddSession(ctx, s.o, s.leads[g%2], "", one); err != nil {
			return err
		}
	}
	return s.away(ctx, load)
}

// away says of two why nobody met them.
func (s supporting) away(ctx context.Context, load []ids.Student) error {
	why := []string{"away with the school’s sailors", "ill all week"}
	for i, text := range why {
		if n := 3 + 5*i + s.number%2; n < len(load) && s.number < len(why)+1 {
			if _, err := caseload.SayWhyNone(ctx, s.o, s.leads[0], "", caseload.NoSession{Student: load[n], Week: s.clock.now.Date().String(), Text: text}); err != nil {
				return err
			}
		}
	}
	return nil
}

// present is the week of the day that is played: a group at lunch on Monday, and one who was seen alone.
func (s supporting) present(ctx context.Context, load []ids.Student) error {
	kinds := s.words.List(caseload.Kinds)
	lunch := caseload.NewSession{Date: s.clock.now.Date().String(), From: "12:20", Minutes: 30, Kind: kinds[0].ID, Note: "the lunch group: what to do when the ferry is late"}
	for _, name := range []string{"Cato Vane", "Mika Ulvar", "Juno Sandal", "Pip Garrow", "Milo Tideswell"} {
		if id := s.named(name); id != 0 {
			lunch.Students = append(lunch.Students, caseload.SessionPart{Student: id})
		}
	}
	for _, id := range load[:min(len(load), 5-len(lunch.Students))] {
		lunch.Students = append(lunch.Students, caseload.SessionPart{Student: id})
	}
	if _, err := caseload.AddSession(ctx, s.o, s.leads[0], "", lunch); err != nil {
		return err
	}
	study := caseload.NewSession{Date: s.clock.now.Date().String(), From: "13:20", Minutes: 40, Kind: kinds[1].ID, Sure: true}
	for _, id := range load[min(len(load)-1, 12):] {
		study.Students = append(study.Students, caseload.SessionPart{Student: id})
	}
	if _, err := caseload.AddSession(ctx, s.o, s.leads[1], "", study); err != nil {
		return err
	}
	rest := load[min(len(load)-1, 6):]
	for i := range min(3, len(rest)) {
		talk := caseload.NewSession{Date: s.clock.now.Date().String(), From: []string{"10:05", "13:35", "14:30"}[i], Minutes: 20, Kind: kinds[3].ID, Students: []caseload.SessionPart{{Student: rest[i], Note: "wants to change the seat in two lessons"}}}
		if i == 1 {
			talk.Kept, talk.Students[0].Note = caseload.ForLeads, "afraid of the way home; the mother knows"
		}
		if _, err := caseload.AddSession(ctx, s.o, s.leads[1], "", talk); err != nil {
			return err
		}
	}
	return nil
}

// caseload are those who are to have a session each week; who is in a case joins until there are enough.
func (s supporting) caseload(ctx context.Context, cases []caseload.Case) ([]ids.Student, error) {
	var out []ids.Student
	for _, c := range cases {
		if c.Open() && c.Last().Weekly {
			out = append(out, c.StudentID)
		}
	}
	for i, c := range cases {
		last := c.Last()
		if !c.Open() || last.Weekly || len(out) >= onTheCaseload {
			continue
		}
		change := caseload.CaseChange{Case: c.ID, Kind: caseload.CaseChanged, Next: last.NextDate.String(), Weekly: "yes"}
		if *last.NextDate < s.clock.now.Date() {
			change.Next = (s.clock.now.Date() + 5).String()
		}
		if i%11 == 3 {
			change.Kept, change.Text = caseload.ForLeads, "what is at home stays with us"
		}
		if _, err := caseload.ChangeCase(ctx, s.o, s.leads[0], "", change, nil); err != nil {
			return nil, err
		}
		if err := s.plan(ctx, c, i); err != nil {
			return nil, err
		}
		out = append(out, c.StudentID)
	}
	return out, nil
}

// plan plans something in a case, of which some is done.
func (s supporting) plan(ctx context.Context, c caseload.Case, n int) error {
	on := s.clock.now.Date()
	for i, text := range []string{"speak with the tutor", "look at the way to school together", "meet home and student"}[:1+n%3] {
		due := max(on+1, day.MustDate("2026-03-06")+day.Date(n%17+4*i))
		if due.Weekday() > 5 {
			due = due.Monday() + 7
		}
		r, err := caseload.Plan(ctx, s.o, s.leads[n%2], "", caseload.PlanStep{Case: c.ID, Text: text, Due: due.String()})
		if err != nil {
			return err
		}
		if i == 0 && n%4 != 1 {
			if _, err := caseload.EndPlanned(ctx, s.o, s.leads[n%2], "", caseload.PlanStepEnd{Case: c.ID, Step: ids.CaseStep(r.IDs[0]), Done: true, Text: "the tutor has an eye on Mondays"}); err != nil {
				return err
			}
		}
	}
	return nil
}

// support holds the sessions of the days from one date up to another.
func (h *holding) support(ctx context.Context, upto day.Instant) error {
	words, err := caseload.Words(ctx, h.o.Store().Read())
	if err != nil {
		return err
	}
	for ; h.weeks < len(supported); h.weeks++ {
		at := day.At(day.MustDate(supported[h.weeks]), day.MustMinute("15:20"))
		if at > upto {
			return nil
		}
		h.clock.now = at
		s := supporting{o: h.o, clock: h.clock, leads: h.leads, words: words, named: h.studentNamed, number: h.weeks}
		if err := s.week(ctx); err != nil {
			return fmt.Errorf("support in the week of %s: %w", supported[h.weeks], err)
		}
	}
	return nil
}

// studentNamed finds a student of the invented school; 0 for none.
func (h *holding) studentNamed(name string) (id ids.Student) {
	_ = h.o.Read(context.Background(), func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if s.Name() == name {
				id = s.ID
			}
		}
		return nil
	})
	return id
}

// meet arranges a meeting that is ahead on the day that is played.
func (h *holding) meet(ctx context.Context, all []caseload.Case) error {
	for _, c := range all {
		if c.Open() {
			_, err := caseload.Meet(ctx, h.o, h.leads[0], "", caseload.Meeting{Student: c.StudentID, Date: "2026-03-12", From: "15:30", Until: "16:00", Title: "Home, tutor and student", Room: "Room 4", People: []string{"Disa Ase", "the tutor", "the home"}})
			return err
		}
	}
	return nil
}

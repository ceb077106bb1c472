// Package todaypage holds the Today page and the lists of the morning: the count, who is
// rung, what is settled, what went out, and the record of it.
package todaypage

import (
	"context"
	"slices"
	"sort"
	"strings"

	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/home"
	"meldung/work/morning"
	"meldung/work/trips"
)

// CountPart is one state of the count.
type CountPart struct {
	State string `json:"state"`
	Label string `json:"label"`
	N     int    `json:"n"`
}

// RegisterOut is a register that should be in.
type RegisterOut struct {
	Class    ids.Class `json:"class"`
	Slot     string    `json:"slot"`
	Label    string    `json:"label" doc:"The slot in words"`
	Title    string    `json:"title"`
	Teacher  string    `json:"teacher"`
	Room     string    `json:"room"`
	Overdue  int       `json:"overdue" doc:"Minutes"`
	Waiting  int       `json:"waiting" doc:"Students of whom nothing else is known"`
	Answer   string    `json:"answer" doc:"What became of the last reminder, in words"`
	Reminded []string  `json:"reminded" doc:"When and by whom"`
}

// TodayView is the Today page.
type TodayView struct {
	Date       string            `json:"date"`
	AsAt       string            `json:"asAt"`
	Scope      string            `json:"scope"`
	Open       bool              `json:"open" doc:"Whether it is a school day"`
	Roll       int               `json:"roll"`
	Count      []CountPart       `json:"count"`
	Worked     bool              `json:"worked" doc:"Whether it can be worked on: the present day, or an earlier one as it stands now"`
	Past       bool              `json:"past" doc:"An earlier day as it stands now"`
	Just       []Just            `json:"just" doc:"What has just happened, the newest first"`
	Worried    []WorriedFor      `json:"worried" doc:"Whose homes believe them at school, and whom nobody has seen: before everyone else"`
	Unsettled  []UnsettledDay    `json:"unsettled" doc:"What earlier days have left open, the latest first"`
	OnSite     []MissingOnSite   `json:"onSite"`
	Registers  []RegisterOut     `json:"registers"`
	Due        int               `json:"due" doc:"Registers due by now"`
	Waiting    int               `json:"waiting"`
	Mismatches []DiffersView     `json:"mismatches"`
	DueBack    []pages.DueBack   `json:"dueBack"`
	Trips      []pages.TripLine  `json:"trips" doc:"Those that are out, or should be back: nobody's home is rung for one before its leader is"`
	Households []HouseholdView   `json:"households"`
	Causes     []CauseView       `json:"causes" doc:"What many of those on the call list have in common"`
	Holds      []HoldView        `json:"holds" doc:"Groups whose homes are not rung yet"`
	Held       int               `json:"held" doc:"Students on the call list who are held"`
	Answers    []AnswerView      `json:"answers" doc:"What homes answered to messages, not dealt with yet"`
	Fetches    []pages.FetchView `json:"fetches" doc:"Students to be collected"`
	Tasks      int               `json:"tasks" doc:"Contacts to correct"`
	Overdue    int               `json:"overdue" doc:"Students whose reasons are overdue"`
	Notices    int               `json:"notices" doc:"Notices from home that hold today"`
	Missing    int               `json:"missing" doc:"Students on the call list"`
	Ring       int               `json:"ring" doc:"Homes to ring now: neither held nor waiting for their time"`
	CallFrom   string            `json:"callFrom" doc:"From when homes are rung, where that is still to come; empty for now"`
	Calm       string            `json:"calm" doc:"What it means that nobody is on the call list"`
	NoContact  int               `json:"noContact"`
	Safe       []SafeArrival     `json:"safe" doc:"How each section stands"`
}

// Show puts the Today page together as at a moment.
func Show(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (TodayView, error) {
	var out TodayView
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	wrongNumbers, err := store.WrongNumbers(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out = today(v, x, m)
		if out.Just, err = justNow(v, x, m); err != nil {
			return err
		}
		before, err := tripsBefore(ctx, v, m)
		if err != nil {
			return err
		}
		out.Trips = append(before, out.Trips...)
		left, err := v.Unsettled(ctx, m)
		if err != nil {
			return err
		}
		out.Unsettled = unsettledDays(v, x, left, m)
		out.Tasks, out.Overdue = len(tasks(v, x, wrongNumbers, m)), overdueReasons(v, x, m)
		return nil
	})
	return out, err
}

// today puts the page together, without tasks and overdue reasons.
func today(v work.Snapshot, x *work.Day, m work.Moment) TodayView {
	out := TodayView{Date: x.Date.String(), AsAt: m.At().String(), Scope: work.Join(", ", v.SchoolName(), v.ScopeText(m.Scope)), Open: x.Open(), Roll: len(x.Roll),
		Past: m.Date < v.Now.Date() && m.Known >= v.Now, Just: []Just{}, Worried: []WorriedFor{}, Unsettled: []UnsettledDay{}, OnSite: []MissingOnSite{}, Holds: []HoldView{}, Answers: []AnswerView{}, Fetches: []pages.FetchView{}, Registers: []RegisterOut{}, Mismatches: []DiffersView{}, DueBack: []pages.DueBack{}}
	positions := make(map[ids.Student]whereabouts.Position, len(x.Roll))
	var count whereabouts.Count
	var missing []followup.Missing
	waiting := map[ids.Student]bool{} // for a register that is still out
	var away map[ids.Student]bool
	away, out.Trips = withTrips(v, x, m)
	for _, s := range x.Roll {
		p := v.Position(x, s.ID, m)
		positions[s.ID] = p
		if p.State == whereabouts.NotYetKnown {
			waiting[s.ID] = true
		}
		search := morning.SearchOf(x, s.ID, m)
		switch {
		case !p.Worried.IsZero():
			out.Worried = append(out.Worried, worriedFor(v, x, s, p, m))
		case p.NotBack && away[s.ID]:
			count[p.State]++
			continue // the trip stands as a whole
		case p.State == whereabouts.Unaccounted && out.Past:
			missing = append(missing, home.Missing(v, x, s, m)) // there is nowhere left to search
		case p.State == whereabouts.Unaccounted && p.OnSite && (search == nil || search.Outcome != morning.GivenUp):
			out.OnSite = append(out.OnSite, missingOnSite(v, x, s, p, search, m))
		case p.State == whereabouts.Unaccounted && x.Evidence[s.ID].EarlierOut(p.Slot, m.Known):
			waiting[s.ID] = true
		case p.State == whereabouts.Unaccounted:
			missing = append(missing, home.Missing(v, x, s, m))
		}
		count[p.State]++
		if b, ok := pages.Expected(v, s, p, m); ok {
			out.DueBack = append(out.DueBack, b)
		}
		if d, ok := differs(v, x, s, p, m); ok {
			out.Mismatches = append(out.Mismatches, d)
		}
	}
	out.Count, out.Missing = countParts(count), len(missing)
	pages.SortDueBack(out.DueBack)
	registersOut(v, &out, x, waiting, m)
	out.Households = slices.DeleteFunc(households(v, x, append(siblingsElsewhere(v, x, missing, positions, m), missing...), positions, m), func(h HouseholdView) bool {
		return !slices.ContainsFunc(h.Students, func(s HouseholdStudent) bool { return m.Scope.Has(v.School.StudentOf(s.Student.ID).Section) })
	})
	out.Causes = causes(v, x, missing, positions)
	out.Holds, out.Answers, out.Fetches = holdViews(v, x, missing, m), answers(v, x, m), pages.Fetches(v, x, m)
	for _, n := range x.Notices {
		if n.Known <= m.Known && (n.WithdrawnAt == nil || *n.WithdrawnAt > m.Known) {
			out.Notices++
		}
	}
	for _, h := range out.Households {
		if h.Held != "" {
			out.Held += len(h.Students)
		}
		if len(h.Contacts) == 0 {
			out.NoContact += len(h.Students)
		}
	}
	out.Safe = safeArrivals(v, x, m)
	out.Worked = m.Live || out.Past
	slices.SortStableFunc(out.Worried, func(a, b WorriedFor) int { return strings.Compare(a.Since, b.Since) })
	for _, h := range out.Households {
		if h.Held == "" && !h.Waits && !h.Early && len(h.Contacts) > 0 {
			out.Ring++
		}
		if h.Early {
			out.CallFrom = callFrom(v, x, m)
		}
	}
	out.Calm = calm(out, count)
	return out
}

// withTrips returns the students who are with a trip of which nobody has said that it is back, and the
// trips of the day. Where they are late it is the leader who is asked first, not every home.
func withTrips(v work.Snapshot, x *work.Day, m work.Moment) (away map[ids.Student]bool, list []pages.TripLine) {
	away, list = map[ids.Student]bool{}, []pages.TripLine{}
	for _, a := range x.Activities {
		a, known := trips.AsKnown(a, m.Known)
		if !known || a.OnSite || a.Leader == "" {
			continue
		}
		line := pages.Trip(v, a, work.Person{}, pages.ReturnGrace(x), m.At())
		if line.State != "back" && line.State != "cancelled" {
			list = append(list, line)
		}
		if line.State != "not back" {
			continue
		}
		for _, s := range trips.Members(a) {
			said, _ := trips.StandingOf(a, s)
			away[s] = away[s] || said != trips.Missing
		}
	}
	return away, list
}

// tripsBefore returns the trips of earlier days that should be back.
func tripsBefore(ctx context.Context, v work.Snapshot, m work.Moment) ([]pages.TripLine, error) {
	out := []pages.TripLine{}
	if !m.Live {
		return out, nil
	}
	all, err := pages.TripsNow(ctx, v, work.Person{})
	for _, t := range all {
		if t.State == "not back" && t.Last < m.Date.String() {
			out = append(out, t)
		}
	}
	return out, err
}

// siblingsElsewhere returns those who are missing from other sections than those in sight and
// have a sibling on the call list: a home is rung about all of them at once.
func siblingsElsewhere(v work.Snapshot, x *work.Day, missing []followup.Missing, positions map[ids.Student]whereabouts.Position, m work.Moment) []followup.Missing {
	if len(m.Scope) == 0 {
		return nil
	}
	var out []followup.Missing
	for _, one := range missing {
		for _, s := range v.School.Siblings(one.Student, x.Date) {
			if _, seen := positions[s.ID]; seen || m.Scope.Has(s.Section) {
				continue
			}
			p := v.Position(x, s.ID, m)
			positions[s.ID] = p
			if p.State == whereabouts.Unaccounted && !p.OnSite && !x.Evidence[s.ID].EarlierOut(p.Slot, m.Known) {
				out = append(out, home.Missing(v, x, s, m))
			}
		}
	}
	return out
}

// registersOut adds the registers that should be in, with who waits for them.
func registersOut(v work.Snapshot, out *TodayView, x *work.Day, waiting map[ids.Student]bool, m work.Moment) {
	counted := map[ids.Student]bool{}
	for _, r := range x.Registers {
		if x.SaidNeverSent(r, m.Known) {
			continue
		}
		within := x.OfClass(r.Class.ID).Settings.RegisterWithin
		state := r.StateAt(m, within)
		if state == register.NotDue || state == register.Open {
			continue
		}
		out.Due++
		if state == register.Sent {
			continue
		}
		row := RegisterOut{Class: r.Class.ID, Slot: r.Slot.Name, Label: r.Slot.Label(), Title: r.Class.Title, Teacher: v.TakerNames(x, r.Class.ID, r.Slot.Name), Room: r.Meeting.Room,
			Overdue: register.Overdue(r.Slot, within, m.Minute)}
		for _, s := range r.Roll {
			if waiting[s.ID] {
				row.Waiting++
				counted[s.ID] = true
			}
		}
		row.Reminded, row.Answer = trace(x, r.Class.ID, r.Slot.Name, m.Known)
		out.Registers = append(out.Registers, row)
	}
	out.Waiting = len(counted)
	sort.SliceStable(out.Registers, func(a, b int) bool { return out.Registers[a].Overdue > out.Registers[b].Overdue })
}

// count counts the roll's states at a moment.
func count(v work.Snapshot, x *work.Day, m work.Moment) []CountPart {
	var count whereabouts.Count
	for _, s := range x.Roll {
		count[v.Position(x, s.ID, m).State]++
	}
	return countParts(count)
}

// countParts returns a count as pages show it.
func countParts(count whereabouts.Count) []CountPart {
	var out []CountPart
	for state := range whereabouts.States {
		out = append(out, CountPart{state.Slug(), state.String(), count[state]})
	}
	return out
}

package attention

import (
	"fmt"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// Indicator names what is looked at, with its parameters. What a kind of indicator does not take stays empty.
type Indicator struct {
	ID      string
	Policy  string
	Count   string // days, sessions, minutes, on_site
	Of      policy.Side
	Window  policy.Window
	Weekday int // 1 = Monday … 7; 0 is any
	Slot    string
	Per     string // lates: school, class
	Kinds   []string
	Roles   []string
	Places  []string
	Days    int    // calendar days; 0 is all
	Period  string // grading period; empty is the latest
	Class   string
	Item    string
	Source  string
	With    string // home, student; empty is any
	Field   string
}

// OnSite counts lessons missed while on site.
const OnSite = "on_site"

// Counts are what absence is counted in, and Pers by what lates are; the first is the usual one.
var (
	Counts = []string{"days", "sessions", "minutes", OnSite}
	Pers   = []string{"school", "class"}
)

// Unit is what a number of an indicator is in.
type Unit string

// The units.
const (
	UnitShare  Unit = "share"
	UnitCount  Unit = "count"
	UnitDays   Unit = "days ago" // in which never is as long ago as can be
	UnitPoints Unit = "points"
	UnitWord   Unit = "word"
)

// evaluator gives the value of one student on a school day.
type evaluator func(d int) Value

// Definition is a kind of indicator.
type Definition struct {
	ID     string
	Title  string
	Unit   Unit
	Less   bool     // less is worse
	Params []string // in the order in which they are asked for
	Whole  bool     // it counts whole things
	of     func(s *School, in Indicator) func(i int) evaluator
}

// Definitions are all kinds of indicators, in the order in which they are offered.
var Definitions = []Definition{
	{ID: "absence_rate", Title: "absence rate", Unit: UnitShare, Params: []string{"policy", "window"}, of: absenceRate},
	{ID: "absence", Title: "absence", Unit: UnitCount, Whole: true, Params: []string{"policy", "count", "of", "window", "weekday", "slot"}, of: absenceCount},
	{ID: "lates", Title: "lates", Unit: UnitCount, Whole: true, Params: []string{"policy", "per", "window"}, of: lates},
	{ID: "last_seen", Title: "school days since last seen", Unit: UnitDays, Whole: true, of: lastSeen},
	{ID: "incidents", Title: "incidents", Unit: UnitCount, Whole: true, Params: []string{"kinds", "roles", "places", "days"}, of: incidents},
	{ID: "failing", Title: "failing courses", Unit: UnitCount, Whole: true, Params: []string{"period"}, of: results(func(p PeriodResults) Value { return whole(int64(p.Failing)) })},
	{ID: "nearly_failing", Title: "nearly failing courses", Unit: UnitCount, Whole: true, Params: []string{"period"}, of: results(func(p PeriodResults) Value { return whole(int64(p.Nearly)) })},
	{ID: "mean_points", Title: "mean of the grades’ points", Unit: UnitPoints, Less: true, Params: []string{"period"}, of: results(mean)},
	{ID: "points_change", Title: "change of the mean of the grades’ points", Unit: UnitPoints, Less: true, Params: []string{"period"}, of: pointsChange},
	{ID: "courses_away", Title: "courses away", Unit: UnitCount, Whole: true, of: credits(func(r *Results) Value { return whole(int64(r.Away)) })},
	{ID: "credits_behind", Title: "credits behind", Unit: UnitCount, of: credits(func(r *Results) Value {
		if r.Behind == nil {
			return Value{}
		}
		return NumberOf(*r.Behind)
	})},
	{ID: "item_score", Title: "points of a piece of work", Unit: UnitShare, Less: true, Params: []string{"class", "item"}, of: itemScore},
	{ID: "activity_last", Title: "days since activity", Unit: UnitDays, Whole: true, Params: []string{"source"}, of: activity(0)},
	{ID: "activity_count", Title: "activity", Unit: UnitCount, Less: true, Whole: true, Params: []string{"source", "days"}, of: activity(1)},
	{ID: "outlook", Title: "outlook", Unit: UnitShare, of: outlook},
	{ID: "outlook_change", Title: "change of the outlook", Unit: UnitShare, of: outlookChange},
	{ID: "last_contact", Title: "days since a contact", Unit: UnitDays, Whole: true, Params: []string{"with"}, of: lastContact},
	{ID: "last_session", Title: "days since a support session", Unit: UnitDays, Whole: true, Params: []string{"kinds"}, of: lastSession},
	{ID: "school_changes", Title: "changes of school", Unit: UnitCount, Whole: true, of: func(s *School, _ Indicator) func(int) evaluator {
		return func(i int) evaluator { return func(int) Value { return s.Students[i].Changes } }
	}},
	{ID: "field", Title: "own field", Unit: UnitWord, Params: []string{"field"}, of: func(s *School, in Indicator) func(int) evaluator {
		return func(i int) evaluator {
			return func(d int) Value { return fieldOn(s.Students[i].Fields[in.Field], s.Date(d)) }
		}
	}},
}

// Area is what an indicator is about: absence, punctuality, conduct, courses; empty for anything else.
func (in Indicator) Area() string {
	switch in.ID {
	case "absence_rate", "absence", "last_seen":
		return "absence"
	case "lates":
		return "punctuality"
	case "incidents":
		return "conduct"
	case "failing", "nearly_failing", "mean_points", "points_change", "courses_away", "credits_behind", "item_score":
		return "courses"
	}
	return ""
}

// Define returns the definition of an indicator; nil where there is none.
func Define(id string) *Definition {
	i := slices.IndexFunc(Definitions, func(d Definition) bool { return d.ID == id })
	if i < 0 {
		return nil
	}
	return &Definitions[i]
}

// Check says what is wrong with an indicator's parameters.
func (in Indicator) Check(policies map[string]*policy.Policy) error {
	d := Define(in.ID)
	if d == nil {
		return fmt.Errorf("there is no indicator %q", in.ID)
	}
	if slices.Contains(d.Params, "policy") && policies[in.Policy] == nil {
		return fmt.Errorf("%s: there is no policy %q", in.ID, in.Policy)
	}
	switch {
	case in.ID == "absence" && in.Count != OnSite && in.Of == 0:
		return fmt.Errorf("absence: of whom is counted, excused or unexcused, is not said")
	case in.Window.Kind == policy.Run && (in.ID != "absence" || in.Count == OnSite || in.Weekday > 0):
		return fmt.Errorf("%s: a run is one of absence, on any weekday", in.ID)
	case (in.Window.Kind == policy.RollingDays || in.Window.Kind == policy.RollingWeeks) && in.Window.N < 1:
		return fmt.Errorf("%s: the window needs a number of 1 or more", in.ID)
	case in.Weekday < 0 || in.Weekday > 7:
		return fmt.Errorf("%s: weekday %d is not 1 to 7", in.ID, in.Weekday)
	case slices.Contains(d.Params, "days") && in.Days < 0:
		return fmt.Errorf("%s: days is below 0", in.ID)
	case in.ID == "item_score" && in.Item == "":
		return fmt.Errorf("item_score: which piece of work is not said")
	case in.ID == "field" && in.Field == "":
		return fmt.Errorf("field: which field is not said")
	}
	return nil
}

func absenceRate(s *School, in Indicator) func(int) evaluator {
	m, w := s.measure(in.Policy, ""), absence.NewWindow(s.Ledger.Calendar(), in.Window, 0)
	return func(i int) evaluator {
		possible, absent := m.Daily(i, s.Upto)
		possible, absent = w.Sums(possible), w.Sums(absent)
		return func(d int) Value { return share(int64(absent[d]), int64(possible[d])) }
	}
}

func absenceCount(s *School, in Indicator) func(int) evaluator {
	m := s.measure(in.Policy, in.Slot)
	if in.Window.Kind == policy.Run {
		return runOf(m, in)
	}
	w := absence.NewWindow(s.Ledger.Calendar(), in.Window, in.Weekday)
	return func(i int) evaluator {
		var daily []int32
		if in.Count == OnSite {
			daily = m.DailyOnSite(i, s.Upto)
		} else {
			daily = m.DailyCount(i, s.Upto, countOf(in.Count), in.Of)
		}
		sums := w.Sums(daily)
		return func(d int) Value { return whole(int64(sums[d])) }
	}
}

func countOf(count string) policy.Count {
	switch count {
	case "sessions":
		return policy.CountSessions
	case "minutes":
		return policy.CountMinutes
	}
	return policy.CountDays
}

// runOf is the unbroken run of absence that ends on a day, as a trigger counts it.
func runOf(m *absence.Measure, in Indicator) func(int) evaluator {
	p := *m.Policy()
	p.Triggers = []policy.Trigger{{ID: "run", Count: countOf(in.Count), Of: in.Of, Reach: 1, Window: in.Window}}
	run := absence.NewMeasure(m.Ledger(), &p)
	return func(i int) evaluator {
		return func(d int) Value { return whole(int64(run.Triggers(i, d)[0].Now)) }
	}
}

func lates(s *School, in Indicator) func(int) evaluator {
	m, w := s.measure(in.Policy, ""), absence.NewWindow(s.Ledger.Calendar(), in.Window, 0)
	return func(i int) evaluator {
		if in.Per != "class" {
			sums := w.Sums(m.DailyCount(i, s.Upto, policy.CountLates, 0))
			return func(d int) Value { return whole(int64(sums[d])) }
		}
		var most []int32
		for _, daily := range m.DailyLates(i, s.Upto) {
			sums := w.Sums(daily)
			if most == nil {
				most = sums
				continue
			}
			for d := range most {
				most[d] = max(most[d], sums[d])
			}
		}
		return func(d int) Value {
			if most == nil {
				return whole(0)
			}
			return whole(int64(most[d]))
		}
	}
}

func lastSeen(s *School, _ Indicator) func(int) evaluator {
	cal := s.Ledger.Calendar()
	return func(i int) evaluator {
		last := s.Ledger.LastAttended(i, s.Upto)
		arrivals := s.Students[i].Arrivals
		return func(d int) Value {
			seen := int(last[d])
			if n := upTo(arrivals, s.Date(d), func(x day.Date) day.Date { return x }); n > 0 {
				seen = max(seen, cal.UpTo(arrivals[n-1]))
			}
			if seen < 0 {
				return Value{Kind: Never}
			}
			return whole(int64(d - seen))
		}
	}
}

func incidents(s *School, in Indicator) func(int) evaluator {
	any := func(list []string, one string) bool { return len(list) == 0 || slices.Contains(list, one) }
	fits := func(x Incident) bool {
		return any(in.Kinds, x.Kind) && any(in.Roles, x.Role) && any(in.Places, x.Place)
	}
	return func(i int) evaluator {
		return func(d int) Value {
			on := s.Date(d)
			if !s.began(FromIncidents, on) {
				return Value{}
			}
			n, _, _ := within(s.Students[i].Incidents, on, in.Days, func(x Incident) day.Date { return x.Date }, fits)
			return whole(int64(n))
		}
	}
}

// results gives a value from the results of a period as they stood on a day; missing where the student has no
// grade in it.
func results(of func(PeriodResults) Value) func(*School, Indicator) func(int) evaluator {
	return func(s *School, in Indicator) func(int) evaluator {
		return func(i int) evaluator {
			return func(d int) Value {
				r := s.Students[i].resultsOn(s.Date(d))
				p, known := r.period(in.Period, 0)
				if !known {
					return Value{}
				}
				return of(p)
			}
		}
	}
}

// credits gives a value from all results as they stood on a day; missing where there are none.
func credits(of func(*Results) Value) func(*School, Indicator) func(int) evaluator {
	return func(s *School, _ Indicator) func(int) evaluator {
		return func(i int) evaluator {
			return func(d int) Value {
				r := s.Students[i].resultsOn(s.Date(d))
				if r == nil || r.None {
					return Value{}
				}
				return of(r)
			}
		}
	}
}

// period returns the results of a period, the latest where it has no name, or so many before it.
func (r *Results) period(name string, before int) (PeriodResults, bool) {
	if r == nil || len(r.Periods) == 0 {
		return PeriodResults{}, false
	}
	at := len(r.Periods) - 1
	if name != "" {
		at = slices.Index(r.Periods, name)
	}
	if at -= before; at < 0 {
		return PeriodResults{}, false
	}
	p, known := r.Of[r.Periods[at]]
	return p, known && p.Mean != nil
}

func mean(p PeriodResults) Value {
	if p.Mean == nil {
		return Value{}
	}
	return NumberOf(*p.Mean)
}

func pointsChange(s *School, in Indicator) func(int) evaluator {
	return func(i int) evaluator {
		return func(d int) Value {
			r := s.Students[i].resultsOn(s.Date(d))
			now, known := r.period(in.Period, 0)
			before, had := r.period(in.Period, 1)
			if !known || !had {
				return Value{}
			}
			return NumberOf(now.Mean.Minus(*before.Mean))
		}
	}
}

// itemScore is the share of a piece of work; of several that fit, the lowest, never before all.
func itemScore(s *School, in Indicator) func(int) evaluator {
	return func(i int) evaluator {
		return func(d int) Value {
			list := s.Students[i].Items
			stands := map[string]Value{}
			for _, x := range list[:upTo(list, s.Date(d), func(x Item) day.Date { return x.From })] {
				if x.Title == in.Item && (in.Class == "" || x.Class == in.Class) {
					stands[x.Class] = x.Share
				}
			}
			var out Value
			for _, v := range stands {
				switch {
				case v.Kind == Never, out.Kind == Missing:
					out = v
				case v.Kind == Number && out.Kind == Number && v.compare(out) < 0:
					out = v
				}
				if v.Kind == Never {
					break
				}
			}
			return out
		}
	}
}

// activity is the days since the last of a source, or how much there was; only of whom the source knows.
func activity(counts int) func(*School, Indicator) func(int) evaluator {
	return func(s *School, in Indicator) func(int) evaluator {
		fits := func(x Dated) bool { return in.Source == "" || x.What == in.Source }
		return func(i int) evaluator {
			f := &s.Students[i]
			known := slices.ContainsFunc(f.Known, func(x string) bool { return in.Source == "" || x == in.Source })
			return func(d int) Value {
				if !known {
					return Value{}
				}
				n, last, any := within(f.Activity, s.Date(d), in.Days, func(x Dated) day.Date { return x.Date }, fits)
				if counts == 1 && any {
					return whole(int64(n))
				}
				return since(last, any, s.Date(d))
			}
		}
	}
}

func since(last day.Date, any bool, on day.Date) Value {
	if !any {
		return Value{Kind: Never}
	}
	return whole(int64(on - last))
}

func outlook(s *School, _ Indicator) func(int) evaluator {
	return func(i int) evaluator {
		return func(d int) Value { return fieldOn(s.Students[i].Outlooks, s.Date(d)) }
	}
}

// outlookChange is the outlook at the last review less that at the one before.
func outlookChange(s *School, _ Indicator) func(int) evaluator {
	return func(i int) evaluator {
		return func(d int) Value {
			list := s.Students[i].Outlooks
			n := upTo(list, s.Date(d), func(f Field) day.Date { return f.From })
			if n < 2 || list[n-1].Value.Kind != Number || list[n-2].Value.Kind != Number {
				return Value{}
			}
			by := list[n-1].Value.Rat()
			return NumberOf(policy.FractionOf(by.Sub(by, list[n-2].Value.Rat())))
		}
	}
}

func lastContact(s *School, in Indicator) func(int) evaluator {
	return daysSince(s, FromContacts, func(f *Facts) []Dated { return f.Contacts }, func(x Dated) bool { return in.With == "" || x.What == in.With })
}

func lastSession(s *School, in Indicator) func(int) evaluator {
	return daysSince(s, FromSessions, func(f *Facts) []Dated { return f.Sessions }, func(x Dated) bool { return len(in.Kinds) == 0 || slices.Contains(in.Kinds, x.What) })
}

func daysSince(s *School, from Source, of func(*Facts) []Dated, fits func(Dated) bool) func(int) evaluator {
	return func(i int) evaluator {
		return func(d int) Value {
			on := s.Date(d)
			if !s.began(from, on) {
				return Value{}
			}
			_, last, any := within(of(&s.Students[i]), on, 1, func(x Dated) day.Date { return x.Date }, fits)
			return since(last, any, on)
		}
	}
}

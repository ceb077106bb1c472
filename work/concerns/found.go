package concerns

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"meldung/core/absence"
	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/outlook"
	"meldung/work"
	"meldung/work/outlooks"
)

// FoundRule is a rule that finds a student, in words, as it is kept with a review.
type FoundRule struct {
	Rule    string   `json:"rule"`
	Title   string   `json:"title"`
	Area    string   `json:"area"`
	Why     string   `json:"why"`
	Courses string   `json:"courses,omitempty"` // that fail: for those who may see them all
	Outlook bool     `json:"outlook,omitempty"` // it goes by what the outlook says, which no teacher learns
	Since   day.Date `json:"since"`
}

// Found is a student whom rules find, as it is kept with a review.
type Found struct {
	Student   ids.Student `json:"-"`
	Rules     []FoundRule `json:"rules"`
	Rate      string      `json:"rate,omitempty"` // per cent of the days missed; empty where nothing was possible
	Absent    int         `json:"absent"`
	Possible  int         `json:"possible"`
	Unexcused int         `json:"unexcused"`
	Lates     int         `json:"lates"`
	Outlook   *Foreseen   `json:"outlook,omitempty"` // nil where the school uses none
}

// Foreseen is what the outlook says of a student, as it is kept with a review.
type Foreseen struct {
	Probability float64          `json:"probability"`
	Low         float64          `json:"low"`
	High        float64          `json:"high"`
	Missing     []string         `json:"missing,omitempty"` // inputs that are not known
	Shares      []outlooks.Share `json:"shares"`
	Moved       int              `json:"moved,omitempty"` // since the review before, beyond noise: 1 up, −1 down
	Course      []float64        `json:"course"`          // at the last reviews and now; a move within noise is none
}

// Since is since when a rule has found the student longest.
func (f Found) Since() day.Date {
	out := day.NoEnd
	for _, r := range f.Rules {
		out = min(out, r.Since)
	}
	return out
}

// Stood are the rules with their dates.
func (f Found) Stood() []attention.Stood {
	out := make([]attention.Stood, len(f.Rules))
	for i, r := range f.Rules {
		out[i] = attention.Stood{Rule: r.Rule, Since: r.Since}
	}
	return out
}

// AbsenceRate is the share of the days that were missed.
func (f Found) AbsenceRate() attention.Value {
	if f.Possible == 0 {
		return attention.Value{}
	}
	return attention.Value{Kind: attention.Number, Num: int64(f.Absent), Den: int64(f.Possible)}
}

// Look is whom the rules find in a section.
type Look struct {
	*School
	AsAt  day.Date
	Found map[ids.Student]Found
}

// On returns the rules that are on and can be read.
func On(held []HeldRule) []HeldRule {
	return slices.DeleteFunc(slices.Clone(held), func(h HeldRule) bool { return !h.On || h.Problem != "" })
}

// Find returns whom the rules that are on find, in each section of a scope, and the rules.
func Find(ctx context.Context, v work.Snapshot, m work.Moment) ([]Look, []HeldRule, error) {
	schools, err := Read(ctx, v, m)
	if err != nil {
		return nil, nil, err
	}
	policies, err := Policies(v)
	if err != nil {
		return nil, nil, err
	}
	held, err := Rules(ctx, v.Store(), policies)
	if err != nil {
		return nil, nil, err
	}
	on := On(held)
	var out []Look
	for _, s := range schools {
		follows := append([]string{"attention_rule"}, s.Follows...)
		found, err := work.Remember(s.Section.Snapshot, fmt.Sprint("found ", s.Section.ID, m.Date, m.Live, s.Upto), follows, func() (map[ids.Student]Found, error) {
			return s.find(on, Names(policies))
		})
		if err != nil {
			return nil, nil, err
		}
		out = append(out, Look{School: s, AsAt: s.Date(s.Upto), Found: found})
	}
	return out, on, nil
}

func (s *School) find(on []HeldRule, names attention.Names) (map[ids.Student]Found, error) {
	measure, err := s.Section.EverySlot()
	if err != nil {
		return nil, err
	}
	rules := make([]*attention.Rule, len(on))
	for i := range on {
		rules[i] = &on[i].Rule.Rule
	}
	out := map[ids.Student]Found{}
	for _, st := range s.Standings(rules, s.Upto) {
		one := s.figures(measure, st.Student)
		one.Outlook = s.foreseen(st.Student)
		told := map[string]bool{}
		for _, m := range st.Rules {
			r := rules[m.Rule]
			x := FoundRule{Rule: r.ID, Title: r.Title, Area: AreaOf(r), Since: s.Date(m.Since), Outlook: GoesByOutlook(r)}
			x.Why, x.Courses = s.why(st.Student, r, m.Held, names, told)
			one.Rules = append(one.Rules, x)
		}
		out[one.Student] = one
	}
	return out, nil
}

func (s *School) figures(measure *absence.Measure, i int) Found {
	f := measure.Student(i, absence.Span{From: 0, To: s.Upto})
	return Found{Student: s.IDs[i], Rate: f.Rate(), Absent: f.Absent, Possible: f.Possible, Unexcused: f.Unexcused, Lates: f.Lates}
}

// FiguresOf are the figures of a student whom no rule finds.
func (s *School) FiguresOf(id ids.Student) (f Found, ok bool) {
	measure, err := s.Section.EverySlot()
	i := s.Section.Place(id)
	if err != nil || i < 0 {
		return f, false
	}
	f = s.figures(measure, i)
	f.Outlook = s.foreseen(i)
	return f, true
}

// courseLength is over how many reviews the course of an outlook goes.
const courseLength = 7

// foreseen is what the outlook says of a student now, and how it has moved; nil where the school uses none.
func (s *School) foreseen(i int) *Foreseen {
	m := s.Outlook
	if m == nil {
		return nil
	}
	at := s.inputs(i)
	days := s.ReviewDays[max(0, len(s.ReviewDays)-courseLength):]
	out := &Foreseen{}
	var level []outlook.Value // of the last move beyond noise
	for n, d := range days {
		values := at(d)
		o := m.Of(values)
		moved, up := true, false
		if n > 0 {
			moved = false
			if m.Noise != nil {
				moved, up = m.Noise.Moved(level, values)
			}
		}
		if moved {
			level = values
		}
		out.Course = append(out.Course, m.Of(level).Probability)
		if n == len(days)-1 {
			out.Probability, out.Low, out.High, out.Shares = o.Probability, o.Low, o.High, m.Shares(o)
			if n > 0 && moved {
				out.Moved = map[bool]int{true: 1, false: -1}[up]
			}
			for _, k := range o.Missing {
				out.Missing = append(out.Missing, m.History.Inputs[k].Name)
			}
		}
	}
	return out
}

// Value is the probability as rules and the order of a review take it.
func (f *Foreseen) Value() *attention.Value {
	if f == nil {
		return nil
	}
	return &attention.Value{Kind: attention.Number, Num: int64(math.Round(f.Probability * parts)), Den: parts}
}

// GoesByOutlook reports whether a rule looks at the outlook.
func GoesByOutlook(r *attention.Rule) bool {
	return slices.ContainsFunc(r.If.Conditions(), func(c *attention.Condition) bool {
		return c.Indicator.ID == "outlook" || c.Indicator.ID == "outlook_change"
	})
}

// WithoutOutlook is what was found by rules that do not go by the outlook.
func (f Found) WithoutOutlook() Found {
	f.Outlook = nil
	f.Rules = slices.DeleteFunc(slices.Clone(f.Rules), func(r FoundRule) bool { return r.Outlook })
	return f
}

// AreaOf is what a rule is about, by its first condition.
func AreaOf(r *attention.Rule) string { return r.If.Conditions()[0].Indicator.Area() }

// fewest is how many of a list are named before the rest is counted.
const fewest = 4

func few(list []string) string {
	if len(list) > fewest+1 {
		list = append(slices.Clone(list[:fewest]), fmt.Sprintf("%d more", len(list)-fewest))
	}
	return attention.Join(list, "and")
}

// why says which conditions of a rule hold, with their figures; by its title alone where a rule before has
// told them.
func (s *School) why(i int, r *attention.Rule, held []attention.Held, names attention.Names, told map[string]bool) (words, courses string) {
	var out []string
	fresh := false
	for _, h := range held {
		w := h.Told(names)
		if h.Condition.Indicator.ID == "failing" && h.Condition.Indicator.Period == "" {
			courses = few(s.Failing(i, s.Upto))
		}
		fresh = fresh || !told[w]
		told[w] = true
		if !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	if !fresh {
		return r.Title, ""
	}
	return strings.Join(out, "; "), courses
}

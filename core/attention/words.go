package attention

import (
	"fmt"
	"strings"

	"meldung/core/policy"
)

// Names give the words for what a rule names by an id.
type Names struct {
	Policy func(id string) string
}

// Sentence says a rule as a person would: absent unexcused on 3 or more of the last 10 school days, and
// failing 1 course or more, in years 9 and 10.
func (r *Rule) Sentence(n Names) string {
	words := r.If.words(n)
	if of := r.For.words(); of != "" {
		words += ", " + of
	}
	return words
}

func (g *Group) words(n Names) string {
	var parts []string
	for _, e := range g.Entries {
		if e.Group != nil {
			parts = append(parts, "either "+e.Group.inner(n))
			if !e.Group.Any {
				parts[len(parts)-1] = "both " + e.Group.inner(n)
			}
			continue
		}
		parts = append(parts, e.Condition.Words(n))
	}
	return strings.Join(parts, map[bool]string{true: ", or ", false: ", and "}[g.Any])
}

func (g *Group) inner(n Names) string {
	var parts []string
	for _, c := range g.Conditions() {
		parts = append(parts, c.Words(n))
	}
	return strings.Join(parts, map[bool]string{true: " or ", false: " and "}[g.Any])
}

func (s Scope) words() string {
	var parts []string
	for _, x := range []struct {
		one, many string
		list      []string
	}{{"in year", "in years", s.Years}, {"in", "in", s.Forms}, {"in", "in", s.Classes}, {"on the list", "on the lists", s.Lists}} {
		if len(x.list) > 0 {
			parts = append(parts, map[bool]string{true: x.one, false: x.many}[len(x.list) == 1]+" "+Join(x.list, "and"))
		}
	}
	if s.OnPlan {
		parts = append(parts, "part-time")
	}
	return strings.Join(parts, ", ")
}

// Join joins words with commas and a last word between: a, b and c.
func Join(list []string, last string) string {
	if n := len(list) - 1; n > 0 {
		return strings.Join(list[:n], ", ") + " " + last + " " + list[n]
	}
	return strings.Join(list, "")
}

// figure is no comparison: the words say the figure itself.
const figure Op = "figure"

// Told says a condition with its figure in the place of what it compares with: absent unexcused on 4 of the
// last 10 school days.
func (h Held) Told(n Names) string {
	c := *h.Condition
	c.Op, c.Value = figure, h.Value
	if c.Indicator.ID == "absence_rate" && h.Value.Kind == Number {
		return fmt.Sprintf("absent %s of the time %s, %d of %d", h.Value.Text(true), window(c.Indicator.Window, 0), h.Value.Num, h.Value.Den)
	}
	if h.Value.Kind == Never {
		c.Op, c.Value = Is, Value{Kind: Word, Word: neverWord}
	}
	return c.Words(n)
}

// Words says a condition.
func (c *Condition) Words(n Names) string {
	in := c.Indicator
	d := Define(in.ID)
	if c.Value.Kind == Word && c.Value.Word == neverWord {
		return in.subject(n) + map[Op]string{Is: " never", IsNot: " at some time"}[c.Op]
	}
	switch in.ID {
	case "absence":
		return in.absent() + " " + in.amount(c)
	case "lates":
		where := map[bool]string{true: "in one class "}[in.Per == "class"]
		return fmt.Sprintf("late %s %s%s", c.times("time"), where, window(in.Window, 0))
	case "incidents":
		return c.counted("incident") + in.incident()
	case "failing":
		return "failing " + c.counted("course") + in.period()
	case "nearly_failing":
		return "nearly failing " + c.counted("course") + in.period()
	case "courses_away":
		return c.counted("course") + " away from being on track"
	case "credits_behind":
		return c.number() + " credits behind"
	case "school_changes":
		return c.counted("change") + " of school"
	case "activity_count":
		return "active " + c.times("time") + in.source() + withinDays(in.Days)
	case "absence_rate":
		return fmt.Sprintf("absent %s of the time %s (%s)", c.percent(), window(in.Window, 0), n.Policy(in.Policy))
	case "last_seen":
		return "not seen for " + c.counted("school day") + c.orNever()
	case "points_change":
		return "mean of the grades’ points " + c.moved() + in.period()
	case "outlook_change":
		return "outlook " + c.moved()
	}
	switch d.Unit {
	case UnitDays:
		return in.subject(n) + " " + c.counted("day") + " ago" + c.orNever()
	case UnitShare:
		return in.subject(n) + " " + c.percent()
	case UnitWord:
		if c.Op == figure {
			return in.subject(n) + " is " + c.Value.Word
		}
		if c.Op.OfWords() {
			return in.subject(n) + map[Op]string{Is: " is ", IsNot: " is not "}[c.Op] + c.Value.Word
		}
	}
	return in.subject(n) + " " + c.number()
}

// subject is what an indicator is about, before its figure.
func (in Indicator) subject(Names) string {
	switch in.ID {
	case "last_seen":
		return "seen"
	case "activity_last", "activity_count":
		return "active" + in.source()
	case "last_contact":
		return map[string]string{"": "spoken with the home or the student", WithHome: "spoken with the home", WithStudent: "spoken with the student"}[in.With]
	case "last_session":
		if len(in.Kinds) > 0 {
			return "supported (" + Join(in.Kinds, "or") + ")"
		}
		return "supported"
	case "item_score":
		if in.Class != "" {
			return fmt.Sprintf("“%s” of %s", in.Item, in.Class)
		}
		return fmt.Sprintf("“%s”", in.Item)
	case "field":
		return in.Field
	case "mean_points":
		return "mean of the grades’ points" + in.period()
	}
	return Define(in.ID).Title
}

func (in Indicator) source() string {
	if in.Source == "" {
		return ""
	}
	return " in " + in.Source
}

func (in Indicator) period() string {
	if in.Period == "" {
		return ""
	}
	return " in " + in.Period
}

func (in Indicator) incident() string {
	var out string
	if len(in.Kinds) > 0 {
		out += " of " + Join(in.Kinds, "or")
	}
	if len(in.Places) > 0 {
		out += " at " + Join(in.Places, "or")
	}
	out += withinDays(in.Days)
	if len(in.Roles) > 0 {
		out += " in which the student " + Join(in.Roles, "or")
	}
	return out
}

func withinDays(days int) string {
	if days == 0 {
		return ""
	}
	return fmt.Sprintf(" within %s", plural(days, "day"))
}

// absent says which absence is counted.
func (in Indicator) absent() string {
	if in.Count == OnSite {
		return "missed lessons while on site:"
	}
	switch in.Of {
	case policy.SideUnexcused:
		return "absent unexcused"
	case policy.SideMedical:
		return "absent for medical reasons"
	case policy.SideExcusedNonmedical:
		return "absent excused, not for medical reasons,"
	case policy.SideMedical | policy.SideExcusedNonmedical:
		return "absent excused"
	}
	return "absent"
}

// amount says how much is counted over which days.
func (in Indicator) amount(c *Condition) string {
	slot := ""
	if in.Slot != "" {
		slot = " in " + in.Slot
	}
	over := window(in.Window, in.Weekday)
	if in.Window.Kind == policy.RollingDays && in.Weekday == 0 && in.Count == "days" {
		return fmt.Sprintf("on %s of the last %s", c.number(), plural(in.Window.N, "school day")) + slot
	}
	what := map[string]string{"sessions": "session", "minutes": "minute", OnSite: "lesson"}[in.Count]
	if what == "" {
		what = "day"
	}
	if in.Window.Kind == policy.Run {
		return c.counted(what) + slot + " in a row"
	}
	if in.Count == OnSite {
		return c.counted(what) + slot + " " + over
	}
	return "for " + c.counted(what) + slot + " " + over
}

var weekdays = []string{"", "Mondays", "Tuesdays", "Wednesdays", "Thursdays", "Fridays", "Saturdays", "Sundays"}

func window(w policy.Window, weekday int) string {
	days := ""
	if weekday > 0 {
		days = " on " + weekdays[weekday]
	}
	switch w.Kind {
	case policy.Term:
		return "this term" + days
	case policy.GradingPeriod:
		return "this grading period" + days
	case policy.Month:
		return "this month" + days
	case policy.FourWeeks:
		return "in these four school weeks" + days
	case policy.RollingWeeks:
		return "in the last " + plural(w.N, "school week") + days
	case policy.RollingDays:
		if weekday > 0 {
			return fmt.Sprintf("on the last %d %s", w.N, weekdays[weekday])
		}
		return "in the last " + plural(w.N, "school day")
	case policy.Run:
		return "in a row"
	}
	return "this year" + days
}

func plural(n int, of string) string {
	if n == 1 {
		return fmt.Sprintf("1 %s", of)
	}
	return fmt.Sprintf("%d %ss", n, of)
}

// number says a comparison with a number: 3 or more, less than 2.
func (c *Condition) number() string { return c.saying(c.Value.Text(false)) }

func (c *Condition) percent() string { return c.saying(c.Value.Text(true)) }

func (c *Condition) saying(x string) string {
	switch c.Op {
	case figure:
		return x
	case AtLeast:
		return x + " or more"
	case Above:
		return "more than " + x
	case AtMost:
		return x + " or less"
	case Below:
		return "less than " + x
	}
	return "exactly " + x
}

// counted says a comparison with a number of things: 2 incidents or more.
func (c *Condition) counted(thing string) string {
	x := c.Value.Text(false)
	if x != "1" {
		thing += "s"
	}
	return c.saying(x + " " + thing)
}

func (c *Condition) times(thing string) string { return c.counted(thing) }

// moved says a comparison with a change: fallen by 0.5 or more.
func (c *Condition) moved() string {
	by := *c
	if c.Op == figure {
		if by.Value.Num = max(c.Value.Num, -c.Value.Num); c.Value.Num < 0 {
			return "fallen by " + by.number()
		}
		return "risen by " + by.number()
	}
	if c.Value.Num <= 0 && (c.Op == AtMost || c.Op == Below) {
		by.Value.Num = -c.Value.Num
		by.Op = map[Op]Op{AtMost: AtLeast, Below: Above}[c.Op]
		return "fallen by " + by.number()
	}
	if c.Value.Num >= 0 && (c.Op == AtLeast || c.Op == Above) {
		return "risen by " + c.number()
	}
	return "changed by " + c.number()
}

func (c *Condition) orNever() string {
	switch {
	case c.Op != AtLeast && c.Op != Above:
		return ""
	case c.NeverOut:
		return " (never left out)"
	}
	return ", or never"
}

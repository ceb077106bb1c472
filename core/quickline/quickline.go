// Package quickline reads what is typed into the quick line: who, what they do, and when.
// "tolv both ill until wed" is a name, everyone of that home, ill, until next Wednesday. It
// must not know whom a name fits.
package quickline

import (
	"fmt"
	"strconv"
	"strings"

	"meldung/core/day"
)

// Verb is what somebody does.
type Verb string

// The verbs. None stands where a line only names somebody.
const (
	None Verb = ""
	In   Verb = "in"
	Out  Verb = "out"
	Late Verb = "late"
	Ill  Verb = "ill"
	Away Verb = "away"
)

// Door reports whether the verb says who comes or goes, not what a home says.
func (v Verb) Door() bool { return v == In || v == Out || v == Late }

// Line is a quick line taken apart.
type Line struct {
	Name []string
	All  bool // everyone of that home
	Verb Verb
	rest []string // what follows the verb
}

// Parse takes a line apart. What does not belong to the verb is the name.
func Parse(text string) Line {
	var l Line
	words := strings.Fields(text)
	for i, w := range words {
		switch lower := strings.ToLower(w); {
		case lower == "both" || lower == "all":
			l.All = true
		case i > 0 && isVerb(Verb(lower)):
			l.Verb, l.rest = Verb(lower), words[i+1:]
			return l
		default:
			l.Name = append(l.Name, w)
		}
	}
	return l
}

func isVerb(v Verb) bool { return v.Door() || v == Ill || v == Away }

// Details are when and why.
type Details struct {
	Minutes  int        // late; 0 for not said
	At       day.Minute // none for not said
	Until    day.Minute // when back or expected; none for not said
	From, To day.Date   // today where nothing is said
	Reason   string     // the words that are none of these
}

// Details reads what follows the verb: a time, minutes, from, until or back with a time or
// a day, and the rest as the reason. The error says which word is neither.
func (l Line) Details(today day.Date) (Details, error) {
	d := Details{From: today, To: today}
	var reason []string
	for i := 0; i < len(l.rest); i++ {
		w := strings.ToLower(l.rest[i])
		next := ""
		if i+1 < len(l.rest) {
			next = strings.ToLower(l.rest[i+1])
		}
		switch {
		case (w == "until" || w == "back" || w == "till") && next != "":
			i++
			on, at, err := dayOrTime(next, today)
			if err != nil {
				return d, err
			}
			if !at.IsZero() {
				d.Until = at
			} else {
				d.To = on
			}
		case w == "from" && next != "":
			i++
			on, at, err := dayOrTime(next, today)
			if err != nil {
				return d, err
			}
			if !at.IsZero() {
				d.At = at
			} else {
				d.From, d.To = on, max(d.To, on)
			}
		case w == "tomorrow":
			d.From, d.To = today+1, max(d.To, today+1)
		case len(w) <= 2 && digits(w) == len(w):
			d.Minutes, _ = strconv.Atoi(w) // digits alone
		case looksLikeTime(w):
			at, err := day.ParseTyped(w)
			if err != nil {
				return d, err
			}
			d.At = at
		default:
			reason = append(reason, l.rest[i])
		}
	}
	d.Reason = strings.Join(reason, " ")
	return d, nil
}

// dayOrTime reads a day, with no time, or a time.
func dayOrTime(word string, today day.Date) (on day.Date, at day.Minute, err error) {
	if d, ok := day.ParseSpoken(word, today); ok {
		return d, day.Minute{}, nil
	}
	if t, err := day.ParseTyped(word); err == nil {
		return 0, t, nil
	}
	return 0, day.Minute{}, fmt.Errorf("%q is neither a day nor a time", word)
}

func digits(s string) int {
	n := 0
	for i := range len(s) {
		if s[i] >= '0' && s[i] <= '9' {
			n++
		}
	}
	return n
}

// looksLikeTime reports whether a word is three digits or more, with points and colons.
func looksLikeTime(w string) bool {
	d := digits(w)
	return d >= 3 && d == len(strings.NewReplacer(":", "", ".", "").Replace(w))
}

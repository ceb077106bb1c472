// Package quickline reads what is typed into the quick line: who, what they do, and when.
// "tolv both ill until wed" is a name, everyone of that home, ill, until next Wednesday. It
// must not know whom a name fits.
package quickline

import (
	"fmt"
	"slices"
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
	Span *Stretch // a time to a time, where nothing is done: 845-925
	rest []string // what follows the verb
}

// asking are words with which a question begins, and no name.
var asking = []string{"who", "whom", "whose", "what", "which", "how", "where", "when", "why", "is", "are", "was", "did", "does", "do", "can", "print", "list", "export", "change", "add", "make", "plan"}

// anybody are words for somebody who is not named.
var anybody = []string{"student", "students", "child", "children", "pupil", "pupils", "somebody", "someone", "anybody", "anyone", "everybody", "everyone", "teacher", "teachers"}

// Asks reports whether a line can be a question: it says nothing of what happened to somebody, begins as questions do,
// or speaks of somebody who is not named, as "a student comes late". "valle ill" is a name that was not found, and no question.
func (l Line) Asks() bool {
	return len(l.Name) > 0 && (l.Verb == None || slices.Contains(asking, l.Name[0]) || slices.ContainsFunc(l.Name, func(w string) bool { return slices.Contains(anybody, w) }) || strings.HasSuffix(strings.Join(l.rest, " "), "?"))
}

// Stretch is from one minute of a day to another.
type Stretch struct{ From, To day.Minute }

// Minutes returns how long it is.
func (s Stretch) Minutes() int { return s.To.SinceMidnight() - s.From.SinceMidnight() }

// Words says how long it is, in time and in decimal hours: "08:45 to 09:25: 40 min, 0.67 h".
func (s Stretch) Words() string {
	hundredths := (s.Minutes()*100 + 30) / 60
	return fmt.Sprintf("%s to %s: %s, %d.%02d h", s.From, s.To, day.Duration(s.Minutes()), hundredths/100, hundredths%100)
}

// parseStretch reads 845-925 or 8:45–9:25; ok is false for anything else, and where it does not end
// after it began.
func parseStretch(word string) (s Stretch, ok bool) {
	from, to, split := strings.Cut(strings.ReplaceAll(word, "–", "-"), "-")
	if !split || len(strings.Trim(from, "0123456789:.")) > 0 || len(strings.Trim(to, "0123456789:.")) > 0 || len(from) < 3 || len(to) < 3 {
		return s, false
	}
	var err error
	if s.From, err = day.ParseTyped(from); err != nil {
		return s, false
	}
	if s.To, err = day.ParseTyped(to); err != nil {
		return s, false
	}
	return s, s.To.After(s.From)
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
			if span, ok := parseStretch(w); ok && l.Span == nil {
				l.Span = &span
				continue
			}
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

package support

import "meldung/core/day"

// Place says where sessions of a kind belong.
type Place string

// The places.
const (
	InSchoolTime Place = "in"
	OutsideIt    Place = "outside"
	Either       Place = "either"
)

// Time is when a session was: on a date, from a minute on, for some minutes. From may be none, where only its
// length is known.
type Time struct {
	Date    day.Date
	From    day.Minute
	Minutes int
}

// Until returns when the session ended; none where only its length is known.
func (t Time) Until() day.Minute { return t.From.Add(day.Minutes(t.Minutes)) }

// Question says why a time does not fit a place, to be asked and not to be refused; empty where it fits. School
// time is from the first slot of a school day to the end of its last; a day without school has none.
func (p Place) Question(cal *day.Calendar, t Time) string {
	i, school := cal.Index(t.Date)
	switch {
	case p != InSchoolTime && p != OutsideIt:
		return ""
	case !school && p == InSchoolTime:
		return "there is no school on " + t.Date.Spoken()
	case !school || t.From.IsZero():
		return ""
	}
	slots := cal.Day(i).Pattern.Slots
	first, last := slots[0].Start, slots[0].End
	for _, s := range slots {
		last = day.Latest(last, s.End)
	}
	inside := day.Overlap(t.From, t.Until(), first, last)
	switch {
	case p == InSchoolTime && inside < t.Minutes:
		return "it is not wholly in school time, " + first.String() + " to " + last.String()
	case p == OutsideIt && inside > 0:
		return "it is in school time, " + first.String() + " to " + last.String()
	}
	return ""
}

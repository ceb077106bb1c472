// Package day holds the school's time: dates, minutes of the day, instants,
// slots, day patterns and the calendar of a school year. All times are the
// school's local wall time to the minute. It knows nothing of students, marks
// or clocks.
package day

import (
	"cmp"
	"database/sql/driver"
	"fmt"
	"strconv"
	"strings"
	"time"
)

// Date is a civil date, counted in days from 1 January 1970.
type Date int32

// DateOf returns the civil date with the given year, month and day.
func DateOf(year int, month time.Month, dayOfMonth int) Date {
	return Date(time.Date(year, month, dayOfMonth, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// ParseDate reads a date written exactly as YYYY-MM-DD.
func ParseDate(s string) (Date, error) {
	if len(s) != 10 {
		return 0, fmt.Errorf("%q is not a date", s)
	}
	t, err := time.Parse("2006-01-02", s)
	if err != nil || t.Year() < 1 {
		return 0, fmt.Errorf("%q is not a date", s)
	}
	secs := t.Unix()
	return Date((secs - mod(secs, 86400)) / 86400), nil
}

// MustDate is ParseDate for dates written in the program; it panics on others.
func MustDate(s string) Date {
	d, err := ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

func mod(a, b int64) int64 { return ((a % b) + b) % b }

// Time returns midnight UTC of the date, for formatting.
func (d Date) Time() time.Time { return time.Unix(int64(d)*86400, 0).UTC() }

// String returns the date as YYYY-MM-DD.
func (d Date) String() string { return d.Time().Format("2006-01-02") }

// Weekday returns 1 for Monday to 7 for Sunday.
func (d Date) Weekday() int { return int(mod(int64(d)+3, 7)) + 1 }

// Monday returns the Monday of the date's week.
func (d Date) Monday() Date { return d - Date(d.Weekday()-1) }

// ParseSpoken reads a date as people say it: today, tomorrow, a weekday, which is the next
// one to come, or YYYY-MM-DD. ok is false for anything else.
func ParseSpoken(word string, today Date) (d Date, ok bool) {
	switch word {
	case "today":
		return today, true
	case "tomorrow":
		return today + 1, true
	}
	for i, name := range []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"} {
		if len(word) >= 3 && strings.HasPrefix(name, word) {
			ahead := (i + 1 - today.Weekday() + 7) % 7
			if ahead == 0 {
				ahead = 7
			}
			return today + Date(ahead), true
		}
	}
	d, err := ParseDate(word)
	return d, err == nil
}

// YearsBy returns how many whole years have passed from the date to another: somebody born on
// 29 February is a year older on 1 March of other years.
func (d Date) YearsBy(at Date) int {
	from, to := d.Time(), at.Time()
	years := to.Year() - from.Year()
	if to.Month() < from.Month() || to.Month() == from.Month() && to.Day() < from.Day() {
		years--
	}
	return years
}

// Spoken returns the date as people say it: "Tue 10 March".
func (d Date) Spoken() string { return d.Time().Format("Mon 2 January") }

// ListDates says dates of about one year in their order as a sentence does, each month once: "4, 11
// and 12 February and 9 March".
func ListDates(dates []Date) string {
	var months []string
	for i := 0; i < len(dates); {
		first := dates[i].Time()
		var days []string
		for ; i < len(dates) && dates[i].Time().Year() == first.Year() && dates[i].Time().Month() == first.Month(); i++ {
			days = append(days, fmt.Sprint(dates[i].Time().Day()))
		}
		months = append(months, and(days)+" "+first.Month().String())
	}
	return and(months)
}

// and joins parts with commas, and the last with "and".
func and(parts []string) string {
	if len(parts) < 2 {
		return strings.Join(parts, "")
	}
	return strings.Join(parts[:len(parts)-1], ", ") + " and " + parts[len(parts)-1]
}

// Minute is a minute of the day: 00:00 to 23:59, or EndOfDay, the first after it. It can't
// be any other. The zero Minute is none: not written, not known, or not at all; it comes
// before every other.
type Minute struct {
	n int16 // 1 + minutes since midnight; 0 for none
}

// Minutes is a length of time.
type Minutes int16

const dayLength = 1440

// The ends of a day.
var (
	Midnight = Minute{1}             // 00:00, the first minute of a day
	EndOfDay = Minute{1 + dayLength} // the first minute after a day
)

// AtMinute returns the minute that is so many after midnight, 0 to 1440; the error says that
// it is none.
func AtMinute(sinceMidnight int) (Minute, error) {
	if sinceMidnight < 0 || sinceMidnight > dayLength {
		return Minute{}, fmt.Errorf("%d is no minute of a day", sinceMidnight)
	}
	return Minute{int16(sinceMidnight) + 1}, nil
}

// IsZero reports whether it is no minute at all.
func (m Minute) IsZero() bool { return m.n == 0 }

// SinceMidnight returns how many minutes after midnight it is; −1 for none.
func (m Minute) SinceMidnight() int { return int(m.n) - 1 }

// Compare returns −1 where m comes before o, 0 where they are the same, else 1.
func (m Minute) Compare(o Minute) int { return cmp.Compare(m.n, o.n) }

// Before reports whether m comes before o.
func (m Minute) Before(o Minute) bool { return m.n < o.n }

// After reports whether m comes after o.
func (m Minute) After(o Minute) bool { return m.n > o.n }

// Add returns the minute so much later, or earlier, kept within the day. None stays none.
func (m Minute) Add(d Minutes) Minute {
	if m.IsZero() {
		return m
	}
	return Minute{int16(max(0, min(m.SinceMidnight()+int(d), dayLength))) + 1}
}

// Sub returns how long after o it is; 0 where either is none.
func (m Minute) Sub(o Minute) Minutes {
	if m.IsZero() || o.IsZero() {
		return 0
	}
	return Minutes(m.n - o.n)
}

// Earliest returns the first of some minutes; none where one of them is.
func Earliest(first Minute, others ...Minute) Minute {
	for _, m := range others {
		if m.Before(first) {
			first = m
		}
	}
	return first
}

// Latest returns the last of some minutes.
func Latest(first Minute, others ...Minute) Minute {
	for _, m := range others {
		if m.After(first) {
			first = m
		}
	}
	return first
}

// Scan reads a minute from a database's whole number or NULL.
func (m *Minute) Scan(value any) (err error) {
	switch v := value.(type) {
	case nil:
		*m = Minute{}
	case int64:
		if v < 0 || v > dayLength {
			return fmt.Errorf("%d is no minute of a day", v)
		}
		*m, err = AtMinute(int(v))
	default:
		err = fmt.Errorf("%v is no minute of a day", value)
	}
	return err
}

// Value returns the minutes since midnight for a database; NULL for none.
func (m Minute) Value() (driver.Value, error) {
	if m.IsZero() {
		return nil, nil
	}
	return int64(m.SinceMidnight()), nil
}

// ParseMinute reads a time written exactly as HH:MM, 00:00 to 23:59.
func ParseMinute(s string) (Minute, error) {
	if len(s) != 5 || s[2] != ':' || !digits(s[:2]) || !digits(s[3:]) {
		return Minute{}, fmt.Errorf("%q is not a time", s)
	}
	h, m := int(s[0]-'0')*10+int(s[1]-'0'), int(s[3]-'0')*10+int(s[4]-'0')
	if h > 23 || m > 59 {
		return Minute{}, fmt.Errorf("%q is not a time", s)
	}
	return AtMinute(h*60 + m)
}

// MustMinute is ParseMinute for times written in the program.
func MustMinute(s string) Minute {
	m, err := ParseMinute(s)
	if err != nil {
		panic(err)
	}
	return m
}

// ParseTyped reads a time as people type it: 925, 0925, 9:25, 9.25 and 09:25
// are all 09:25; one or two digits alone are an hour.
func ParseTyped(s string) (Minute, error) {
	t := strings.NewReplacer(".", ":", " ", "").Replace(strings.TrimSpace(s))
	h, m, split := strings.Cut(t, ":")
	if !split {
		switch len(t) {
		case 1, 2:
			h, m = t, "00"
		case 3, 4:
			h, m = t[:len(t)-2], t[len(t)-2:]
		}
	}
	if !digits(h) || !digits(m) || len(h) > 2 || len(m) != 2 {
		return Minute{}, fmt.Errorf("%q is not a time: type 925 or 9:25 for 09:25", s)
	}
	hour, _ := strconv.Atoi(h)
	minute, _ := strconv.Atoi(m)
	if hour > 23 || minute > 59 {
		return Minute{}, fmt.Errorf("%q is not a time: hours go to 23, minutes to 59", s)
	}
	return AtMinute(hour*60 + minute)
}

func digits(s string) bool {
	if s == "" {
		return false
	}
	for i := range len(s) {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return true
}

// String returns the minute as HH:MM; empty for none.
func (m Minute) String() string {
	if m.IsZero() {
		return ""
	}
	return fmt.Sprintf("%02d:%02d", m.SinceMidnight()/60, m.SinceMidnight()%60)
}

// Duration writes a number of minutes as people say it: "5 h 25 min", never in
// decimal hours.
func Duration(minutes int) string {
	h, m := minutes/60, minutes%60
	switch {
	case h == 0:
		return fmt.Sprintf("%d min", m)
	case m == 0:
		return fmt.Sprintf("%d h", h)
	default:
		return fmt.Sprintf("%d h %d min", h, m)
	}
}

// ParseDuration reads what Duration writes, and a number of minutes: "31 h 15 min", "30 h",
// "90 min", "90".
func ParseDuration(s string) (minutes int, err error) {
	wrong := fmt.Errorf("%q is not a time such as 1 h 30 min", s)
	words := strings.Fields(s)
	if len(words) == 1 {
		words = append(words, "min")
	}
	if len(words) != 2 && len(words) != 4 {
		return 0, wrong
	}
	for i := 0; i < len(words); i += 2 {
		n, err := strconv.Atoi(words[i])
		switch {
		case err != nil || n < 0 || n > mostMinutes || strings.Trim(words[i], "0123456789") != "":
			return 0, wrong
		case words[i+1] == "h" && i == 0:
			minutes += 60 * n
		case words[i+1] == "min" && i == len(words)-2:
			minutes += n
		default:
			return 0, wrong
		}
	}
	return minutes, nil
}

// mostMinutes bounds a time that somebody writes.
const mostMinutes = 1 << 42

// Instant is a minute of a date in local wall time: date × 1440 + minute.
type Instant int64

// At returns the instant of a date and a minute; midnight where that is none.
func At(d Date, m Minute) Instant {
	return Instant(d)*dayLength + Instant(Latest(m, Midnight).SinceMidnight())
}

// Date returns the instant's date.
func (i Instant) Date() Date { return Date((int64(i) - mod(int64(i), dayLength)) / dayLength) }

// Minute returns the instant's minute of the day.
func (i Instant) Minute() Minute { return Minute{int16(mod(int64(i), dayLength)) + 1} }

// String returns the instant as YYYY-MM-DDTHH:MM.
func (i Instant) String() string { return i.Date().String() + "T" + i.Minute().String() }

// ParseInstant reads an instant written as YYYY-MM-DDTHH:MM.
func ParseInstant(s string) (Instant, error) {
	d, m, ok := strings.Cut(s, "T")
	if !ok {
		return 0, fmt.Errorf("%q is not a date and a time such as 2026-03-10T09:12", s)
	}
	date, err := ParseDate(d)
	if err != nil {
		return 0, err
	}
	minute, err := ParseMinute(m)
	if err != nil {
		return 0, err
	}
	return At(date, minute), nil
}

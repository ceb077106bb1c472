package work

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"meldung/core/day"
)

// QuickView is what a quick line would do.
type QuickView struct {
	Students []FoundStudent `json:"students" doc:"Who fits the name, best first"`
	Chosen   []int64        `json:"chosen" doc:"Whom it is about"`
	Siblings []StudentRef   `json:"siblings" doc:"Offered beside the chosen one"`
	Action   string         `json:"action" enum:",arrived,departed,notice"`
	Words    string         `json:"words" doc:"What Enter does"`
	Error    string         `json:"error" doc:"Why Enter does nothing"`
}

// quick is a quick line taken apart.
type quick struct {
	name     []string
	all      bool
	verb     string
	movement *Movement
	notice   *Notice
	words    string
}

var quickVerbs = map[string]bool{"in": true, "out": true, "late": true, "ill": true, "away": true}

// ReadQuick says what a quick line would do, without doing it. A student chosen
// from the list stands in for the name.
func (o *Office) ReadQuick(ctx context.Context, p Person, text string, chosen []int64) (QuickView, error) {
	out := QuickView{Students: []FoundStudent{}, Chosen: []int64{}, Siblings: []StudentRef{}}
	m, err := o.moment("")
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		_, err = v.readQuick(p, x, m, text, chosen, &out)
		return err
	})
	return out, err
}

// DoQuick does what a quick line says.
func (o *Office) DoQuick(ctx context.Context, p Person, key, text string, chosen []int64) (Receipt, error) {
	m, err := o.moment("")
	if err != nil {
		return Receipt{}, err
	}
	var q *quick
	var out QuickView
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		q, err = v.readQuick(p, x, m, text, chosen, &out)
		return err
	})
	switch {
	case err != nil:
		return Receipt{}, err
	case out.Error != "":
		return Receipt{}, wrong("%s; nothing was stored", out.Error)
	case q.movement != nil:
		return o.Move(ctx, p, key, *q.movement)
	case q.notice != nil:
		return o.Notify(ctx, p, key, *q.notice)
	}
	return Receipt{}, wrong("%q says nothing to do; after a name come in, out, late, ill or away", text)
}

func (v view) readQuick(p Person, x *Day, m Moment, text string, chosen []int64, out *QuickView) (*quick, error) {
	q := splitQuick(text)
	found := v.matches(p, q.name, m.Date)
	for i, f := range found {
		if i == 8 {
			break
		}
		out.Students = append(out.Students, v.found(x, f, m))
	}
	if len(chosen) == 0 && (len(found) == 1 || (len(found) > 1 && (found[0].rank == 0 || (found[0].rank < found[1].rank && found[0].rank < 3)))) {
		chosen = []int64{found[0].student.ID}
	}
	if len(chosen) == 0 && len(found) > 1 && q.all && sameHome(v, found) {
		for _, f := range found {
			chosen = append(chosen, f.student.ID)
		}
	}
	if len(chosen) == 1 {
		for _, s := range v.school.Siblings(chosen[0], m.Date) {
			out.Siblings = append(out.Siblings, v.ref(s, m.Date))
			if q.all {
				chosen = append(chosen, s.ID)
			}
		}
	}
	out.Chosen = append(out.Chosen, chosen...)
	switch {
	case len(q.name) > 0 && len(found) == 0 && len(chosen) == 0:
		out.Error = fmt.Sprintf("nobody is called %q, and no contact or number fits", strings.Join(q.name, " "))
	case q.verb != "" && len(chosen) == 0 && len(found) > 1:
		out.Error = fmt.Sprintf("%d students fit: choose one with the arrows", len(found))
	}
	if q.verb == "" || out.Error != "" || len(chosen) == 0 {
		return &q, nil
	}
	if err := v.actQuick(&q, x, m, chosen); err != nil {
		out.Error = err.Error()
		return &q, nil
	}
	var names []string
	for _, id := range chosen {
		s, err := v.school.Student(id)
		if err != nil {
			return nil, err
		}
		names = append(names, s.Name())
	}
	out.Words = strings.Join(names, " and ") + " " + q.words
	out.Action = "notice"
	if q.movement != nil {
		out.Action = q.movement.Kind
	}
	return &q, nil
}

// sameHome reports whether all found are siblings of the first.
func sameHome(v view, found []match) bool {
	home := map[int64]bool{found[0].student.ID: true}
	for _, s := range v.school.Siblings(found[0].student.ID, v.o.clock.Now().Date()) {
		home[s.ID] = true
	}
	for _, f := range found {
		if !home[f.student.ID] {
			return false
		}
	}
	return true
}

func splitQuick(text string) quick {
	q := quick{}
	words := strings.Fields(text)
	for i, w := range words {
		lower := strings.ToLower(w)
		if lower == "both" || lower == "all" {
			q.all = true
			continue
		}
		if i > 0 && quickVerbs[lower] {
			q.verb = lower
			q.words = strings.Join(words[i+1:], " ")
			return q
		}
		q.name = append(q.name, w)
	}
	return q
}

// actQuick reads what follows the verb: a time, until, back, from, tomorrow, and
// the rest as the reason.
func (v view) actQuick(q *quick, x *Day, m Moment, chosen []int64) error {
	rest, err := readRest(strings.Fields(q.words), m.Date)
	if err != nil {
		return err
	}
	today := m.Date
	switch q.verb {
	case "in", "late", "out":
		if rest.from != today || rest.to != today {
			return wrong("%s is for today; a notice from home can be for another day", q.verb)
		}
		mv := Movement{Students: chosen, Kind: "arrived", Reason: rest.reason, Time: rest.time}
		if q.verb == "late" && rest.minutes > 0 {
			first, ok := firstDue(x, chosen[0])
			if !ok {
				return wrong("no slot today to be late for")
			}
			mv.Time = (first + day.Minute(rest.minutes)).String()
		} else if rest.minutes > 0 {
			return wrong("%d is no time: type 925 for 09:25", rest.minutes)
		}
		if q.verb == "out" {
			mv.Kind, mv.Returns = "departed", rest.until
		}
		pm, err := mv.parse(m.Minute)
		if err != nil {
			return err
		}
		q.movement, q.words = &mv, movementWords(pm)
	default:
		n := Notice{Students: chosen, Reason: "ill", From: rest.from.String(), To: rest.to.String(), FromTime: rest.time, ToTime: rest.until}
		if q.verb == "away" {
			n.Reason = "away"
		}
		if rest.reason != "" {
			n.Reason = rest.reason
		}
		pn, err := n.parse(today)
		if err != nil {
			return err
		}
		q.notice, q.words = &n, pn.words(today)+" · code "+v.settings.reason(n.Reason).Absent
	}
	return nil
}

func firstDue(x *Day, student int64) (day.Minute, bool) {
	e := x.Evidence[student]
	if e == nil || len(e.Due) == 0 {
		return 0, false
	}
	return e.Due[0].Slot.Start, true
}

type quickRest struct {
	minutes     int
	time, until string
	from, to    day.Date
	reason      string
}

func readRest(words []string, today day.Date) (quickRest, error) {
	r := quickRest{from: today, to: today}
	var reason []string
	for i := 0; i < len(words); i++ {
		w := strings.ToLower(words[i])
		next := ""
		if i+1 < len(words) {
			next = strings.ToLower(words[i+1])
		}
		switch {
		case (w == "until" || w == "back" || w == "till") && next != "":
			i++
			if d, ok := dayWord(next, today); ok {
				r.to = d
			} else if t, err := day.ParseTyped(next); err == nil {
				r.until = t.String()
			} else {
				return r, wrong("%q is neither a day nor a time", next)
			}
		case w == "from" && next != "":
			i++
			if d, ok := dayWord(next, today); ok {
				r.from, r.to = d, max(r.to, d)
			} else if t, err := day.ParseTyped(next); err == nil {
				r.time = t.String()
			} else {
				return r, wrong("%q is neither a day nor a time", next)
			}
		case w == "tomorrow":
			r.from, r.to = today+1, max(r.to, today+1)
		case onlyDigits(w) == w && len(w) <= 2:
			r.minutes, _ = strconv.Atoi(w)
		case looksLikeTime(w):
			t, err := day.ParseTyped(w)
			if err != nil {
				return r, wrong("%v", err)
			}
			r.time = t.String()
		default:
			reason = append(reason, words[i])
		}
	}
	r.reason = strings.Join(reason, " ")
	return r, nil
}

func looksLikeTime(w string) bool {
	d := onlyDigits(w)
	return len(d) >= 3 && len(d) == len(strings.NewReplacer(":", "", ".", "").Replace(w))
}

// dayWord reads a weekday as the next one to come, "tomorrow", or a date.
func dayWord(w string, today day.Date) (day.Date, bool) {
	if w == "today" {
		return today, true
	}
	if w == "tomorrow" {
		return today + 1, true
	}
	for i, name := range []string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"} {
		if len(w) >= 3 && strings.HasPrefix(name, w) {
			ahead := (i + 1 - today.Weekday() + 7) % 7
			if ahead == 0 {
				ahead = 7
			}
			return today + day.Date(ahead), true
		}
	}
	d, err := day.ParseDate(w)
	return d, err == nil
}

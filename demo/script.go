package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"sort"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages/registerpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/registers"
	"meldung/work/trips"
)

// script writes what the school's people do on a date.
func (p *Player) script(d day.Date) []act {
	if s, ok := p.scripts[d]; ok {
		return s
	}
	n := sort.Search(len(p.school.days), func(i int) bool { return p.school.days[i] >= d })
	w := &scriptWriter{player: p, school: p.school, d: d, n: n, r: rand.New(rand.NewPCG(seed, uint64(d)))}
	if n < len(p.school.days) && p.school.days[n] == d {
		w.write()
	}
	sort.SliceStable(w.acts, func(a, b int) bool { return w.acts[a].at < w.acts[b].at })
	p.scripts[d] = w.acts
	return w.acts
}

type scriptWriter struct {
	player *Player
	school *School
	d      day.Date
	n      int
	r      *rand.Rand
	acts   []act
	plans  []dayPlan
}

func (w *scriptWriter) add(at day.Minute, who, key string, do func(ctx context.Context, p work.Person, key string) error) {
	w.acts = append(w.acts, act{day.At(w.d, at), "demo " + w.d.String() + " " + key, who, do})
}

func (w *scriptWriter) id(name string) ids.Student { return w.school.people.named(name).ID }

func (w *scriptWriter) move(at day.Minute, key string, m desk.Movement) {
	m.Time = at.String()
	w.add(at, "kersey", key, func(ctx context.Context, p work.Person, key string) error {
		_, err := desk.Move(ctx, w.player.office, p, key, m)
		return err
	})
}

func (w *scriptWriter) notice(at day.Minute, key string, n home.Notice) {
	w.add(at, "kersey", key, func(ctx context.Context, p work.Person, key string) error {
		_, err := home.Notify(ctx, w.player.office, p, key, n)
		return err
	})
}

func (w *scriptWriter) write() {
	w.plans = make([]dayPlan, w.school.people.present)
	for i := range w.plans {
		w.plans[i] = w.school.plans[i][w.n]
	}
	if w.d == Today {
		w.today()
	}
	w.homes()
	w.doors()
	w.registers()
}

func (w *scriptWriter) allIn(name string) *dayPlan {
	plan := &w.plans[w.id(name)-1]
	*plan = dayPlan{}
	for k := range plan.slots {
		plan.slots[k] = present
	}
	return plan
}

func (w *scriptWriter) away(name, code string) {
	plan := &w.plans[w.id(name)-1]
	*plan = dayPlan{}
	plan.whole(code, "")
}

// today plants what the demonstration's day tells.
func (w *scriptWriter) today() {
	for _, name := range []string{"Corin Vale", "Pip Garrow", "Eskil Dray", "Jory Marr", "Perran Hask", "Tavi Lund", "Tora Ulvar", "Maren Holt", "Finn Calloway"} {
		w.allIn(name)
	}
	for _, name := range []string{"Elis Merrow", "Ansa Merrow", "Mika Ulvar", "Della Fairhurst", "Cato Vane", "Juno Sandal", "Bram Ollerton", "Idris Quell"} {
		w.away(name, "N")
	}
	oona := w.allIn("Oona Harle")
	oona.slots[0] = mark{code: "N"}
	w.move(day.MustMinute("08:41"), "oona in", desk.Movement{Students: []ids.Student{w.id("Oona Harle")}, Kind: "arrived"})

	w.move(day.MustMinute("08:58"), "corin out", desk.Movement{Students: []ids.Student{w.id("Corin Vale")}, Kind: "departed", Reason: "family", Returns: "10:30"})
	w.move(day.MustMinute("09:05"), "pip out", desk.Movement{Students: []ids.Student{w.id("Pip Garrow")}, Kind: "departed", Reason: "appointment", Note: "physiotherapy", Returns: "11:15"})
	w.move(day.MustMinute("11:12"), "pip back", desk.Movement{Students: []ids.Student{w.id("Pip Garrow")}, Kind: "arrived", Reason: "appointment"})
	w.notice(day.MustMinute("08:22"), "jory ill", home.Notice{Students: []ids.Student{w.id("Jory Marr")}, Reason: "ill", ToldBy: "a neighbour"})
	eskil := w.allIn("Eskil Dray")
	for k := range 5 {
		eskil.slots[k] = mark{code: "X"}
	}
	w.notice(day.MustMinute("08:25"), "eskil clinic", home.Notice{Students: []ids.Student{w.id("Eskil Dray")}, Reason: "appointment", ToTime: "13:45", ToldBy: "mother"})
	w.trip()
	w.petrel()
}

// trip takes nine of year 9 to the harbour for the day.
func (w *scriptWriter) trip() {
	var going []ids.Student
	for i, s := range w.school.people.school.Students {
		if s.Year == "9" && len(going) < 9 && !w.school.people.isPlanted(&w.school.people.school.Students[i]) && i%3 == 0 && w.plans[i].slots[0].code == "P" {
			going = append(going, s.ID)
		}
	}
	w.add(day.MustMinute("08:00"), "tolvan", "trip", func(ctx context.Context, p work.Person, key string) error {
		_, err := trips.Plan(ctx, w.player.office, p, key, trips.Activity{Title: "harbour survey", Place: "the harbour office", Leader: "S. Aune", Phone: "01632 960 417", From: "08:30", To: "15:00", Students: going})
		return err
	})
	w.add(day.MustMinute("08:41"), "tolvan", "trip register", func(ctx context.Context, p work.Person, key string) error {
		id, err := w.harbour(ctx)
		if err == nil {
			_, err = trips.Mark(ctx, w.player.office, p, key, id, trips.Said{Here: going, Missing: []ids.Student{}})
		}
		return err
	})
	w.add(day.MustMinute("14:54"), "tolvan", "trip back", func(ctx context.Context, p work.Person, key string) error {
		id, err := w.harbour(ctx)
		if err == nil {
			_, err = trips.Back(ctx, w.player.office, p, key, id, trips.Return{})
		}
		return err
	})
}

// harbour finds the day's trip.
func (w *scriptWriter) harbour(ctx context.Context) (ids.Activity, error) {
	today, err := store.ActivitiesOn(ctx, w.player.office.Store().Read(), w.player.office.Now().Date())
	for _, a := range today {
		if a.Title == "harbour survey" {
			return a.ID, err
		}
	}
	return 0, err
}

// petrel has the first boat of the Petrel run 35 minutes late, with thirteen
// students on it whom nobody has spoken for.
func (w *scriptWriter) petrel() {
	var aboard []ids.Student
	for i, s := range w.school.people.school.Students {
		if s.Travels == "Petrel" && len(aboard) < 13 && i%4 == 1 && w.plans[i].slots[0].code == "P" && s.Year != "8" && s.Year != "11" {
			w.plans[i].lateBy(dayShape, 56, "N", "N")
			w.plans[i].comes = day.Minute{}
			aboard = append(aboard, s.ID)
		}
	}
	w.move(day.MustMinute("09:41"), "petrel", desk.Movement{Students: aboard, Kind: "arrived", Reason: "ferry", Note: "the Petrel, 35 minutes late"})
}

// silent is how many homes of the day's absent say nothing, beside the planted.
const silent = 3

// homes has the homes of the absent ring in before registration; a few do not.
func (w *scriptWriter) homes() {
	quiet := 0
	for i := range w.plans {
		plan := &w.plans[i]
		code := plan.slots[0].code
		if !plan.comes.IsZero() || plan.slots[7].code != code || (code != "M" && code != "X" && code != "U") {
			continue
		}
		if quiet < silent && (code == "U" || w.r.IntN(6) == 0) {
			plan.whole("N", "")
			quiet++
			continue
		}
		reason := map[string]string{"M": "ill", "X": "family", "U": "family"}[code]
		w.notice(day.MustMinute("08:00").Add(day.Minutes(w.r.IntN(44))), "home "+strconv.Itoa(i), home.Notice{Students: []ids.Student{ids.Student(i + 1)}, Reason: reason, ToldBy: "mother"})
	}
}

// doors has latecomers sign in at the desk and early leavers sign out.
func (w *scriptWriter) doors() {
	for i := range w.plans {
		plan := &w.plans[i]
		if !plan.comes.IsZero() {
			w.move(plan.comes, "in "+strconv.Itoa(i), desk.Movement{Students: []ids.Student{ids.Student(i + 1)}, Kind: "arrived", Reason: plan.lateReason(false)})
		}
		for k, m := range plan.slots {
			if m.code == "D" && !m.from.IsZero() && k < 8 {
				w.move(m.from, "out "+strconv.Itoa(i), desk.Movement{Students: []ids.Student{ids.Student(i + 1)}, Kind: "departed", Reason: "appointment", Note: "mother waits outside"})
			}
		}
	}
}

// registers has every teacher take theirs; two forget the first one.
func (w *scriptWriter) registers() {
	people := w.school.people
	username := map[ids.Class]string{}
	for _, t := range people.school.Teachers {
		username[t.ClassID] = strings.ToLower(people.school.Staff[t.StaffID-1].Family)
	}
	type meeting struct {
		class ids.Class
		slot  int
	}
	meets := map[meeting]bool{}
	for i := range people.school.Students {
		for k, class := range w.school.classes[i][w.d.Weekday()-1] {
			if class != 0 && w.open(class) && !meets[meeting{class, k}] {
				meets[meeting{class, k}] = true
				w.register(class, k, username[class])
			}
		}
	}
}

// open reports whether a class's section has school on the day.
func (w *scriptWriter) open(class ids.Class) bool {
	return w.d != upperClosed || w.school.people.school.Classes[class-1].Section == lower
}

func (w *scriptWriter) register(class ids.Class, k int, who string) {
	slot := shapeOf(w.school.people.school.Classes[class-1].Section)[k]
	at := slot.Start.Add(takenAfter(class))
	title := w.school.people.school.Classes[class-1].Title
	if w.d == Today && k == 0 {
		at = slot.Start.Add(4 + takenAfter(class)*2/3)
		if title == "8 Halyard" || title == "11 Cleat" {
			at = day.MustMinute("09:33").Add(day.Minutes(class % 4))
		}
	}
	if w.d == Today && k == 1 && strings.HasPrefix(title, "9") {
		at = slot.Start.Add(4 + takenAfter(class)/6) // the year nine teachers are quick
	} else if w.d == Today && k == 1 {
		at = slot.Start.Add(9 + takenAfter(class)/2)
	}
	w.add(at, who, fmt.Sprintf("register %d %s", class, slot.Slot), func(ctx context.Context, p work.Person, key string) error {
		return w.take(ctx, p, key, class, k, at)
	})
}

// take fills a register as a teacher would: what is known first, then their eyes.
func (w *scriptWriter) take(ctx context.Context, p work.Person, key string, class ids.Class, k int, at day.Minute) error {
	slot := dayShape[k].Slot
	view, err := registerpage.Show(ctx, w.player.office, p, class, slot, day.At(w.d, at).String())
	if err != nil {
		return err
	}
	var marks []registers.SentMark
	for _, row := range view.Rows {
		m := w.plans[row.Student.ID-1].slots[k]
		sent := registers.SentMark{Student: row.Student.ID, Code: m.code, Made: at.Add(-1).String()}
		if m.code == "L" || m.code == "LX" || m.code == "D" || m.code == "M" || m.code == "X" || m.code == "U" {
			sent.Code = "N" // the teacher sees an empty chair
		}
		if known := row.Known; known != nil && w.believes(row.Student.Name, k) {
			sent.Code, sent.Time, sent.Source = known.Code, known.From+known.To, known.Source
		} else if row.Place.State == "in" || row.Place.State == "late" {
			if sent.Code == "N" && m.code != "N" && m.code != "U" {
				sent.Code = "P"
			}
		}
		marks = append(marks, sent)
	}
	_, err = registers.Send(ctx, w.player.office, p, key, registers.SentRegister{Date: w.d.String(), Class: class, Slot: slot, Marks: marks})
	return err
}

// believes is false where a story needs a teacher to mark what the books deny.
func (w *scriptWriter) believes(name string, k int) bool {
	if w.d != Today {
		return true
	}
	return !(name == "Jory Marr" && k == 0) && !(name == "Corin Vale" && k == 1)
}

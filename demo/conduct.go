package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"

	"github.com/jmoiron/sqlx"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// The lists of conduct, in their order.
var (
	kinds     = []string{"rough play", "unkind words", "left a lesson", "disruption", "phone in lesson", "damage", "refused to follow a request"}
	spots     = []string{"pier", "canteen", "lab row", "sports hall", "sound studio", "boat shed", "corridors"}
	responses = []string{"spoken to", "home told", "moved seat", "year lead told", "sent to the office"}
	breaks    = [][3]string{{"2", "3", "break"}, {"4", "PM", "lunch"}}
)

// queue is when the queue for the ferry came to be supervised.
var queue = day.MustDate("2026-01-12")

// scene is where and when incidents happen, and what.
type scene struct {
	place, from, to string
	often           int // among all scenes
	kinds           []string
}

var scenes = []scene{
	{"pier", "08:18", "08:44", 34, []string{"rough play", "rough play", "unkind words", "damage"}},
	{"pier", "15:46", "16:04", 9, []string{"rough play", "unkind words"}},
	{"canteen", "12:56", "13:42", 12, []string{"unkind words", "rough play", "damage"}},
	{"canteen", "10:51", "11:08", 6, []string{"unkind words", "rough play"}},
	{"corridors", "10:51", "11:09", 5, []string{"rough play", "unkind words"}},
	{"corridors", "08:46", "08:58", 2, []string{"refused to follow a request"}},
	{"corridors", "14:51", "14:54", 1, []string{"rough play"}},
	{"lab row", "09:10", "15:40", 14, []string{"disruption", "phone in lesson", "left a lesson", "damage"}},
	{"sports hall", "09:10", "15:40", 9, []string{"rough play", "refused to follow a request", "disruption"}},
	{"sound studio", "11:12", "14:45", 4, []string{"disruption", "phone in lesson"}},
	{"boat shed", "12:10", "15:40", 10, []string{"left a lesson", "rough play", "damage"}},
}

// queued is by how much less often something happens on the pier before school under supervision.
const queued = 4

// incidents are made up one by one.
type incidents struct {
	p      *people
	r      *rand.Rand
	words  map[string]ids.ConductWord // by list and name
	staff  map[string]ids.Account     // accounts by short name
	rows   []store.Incident
	who    []store.IncidentPerson
	done   []store.IncidentAction
	number ids.Entry
}

func (p *people) addIncidents(ctx context.Context, tx *sqlx.Tx, days []day.Date, accounts map[string]ids.Account, journal ids.Entry) error {
	x := &incidents{p: p, r: rand.New(rand.NewPCG(seed, 3)), words: map[string]ids.ConductWord{}, staff: map[string]ids.Account{}, number: journal}
	if err := x.lists(ctx, tx, journal); err != nil {
		return err
	}
	for _, username := range []string{"osk", "rask", "jahn"} {
		for _, s := range p.school.Staff {
			if id, ok := accounts[username]; ok && s.Short() == map[string]string{"osk": "P. Osk", "rask": "T. Rask", "jahn": "M. Jahn"}[username] {
				x.staff[s.Short()] = id
			}
		}
	}
	for _, y := range slices.Backward(p.past) {
		x.year(y.days, 380)
	}
	x.year(days[:len(days)-1], 340)
	for _, f := range []struct{ on, at, kind, place, who string }{
		{"2026-02-26", "11:25", "left a lesson", "lab row", "Oona Harle"}, {"2026-03-05", "14:20", "left a lesson", "boat shed", "Oona Harle"},
		{"2026-02-24", "13:05", "unkind words", "canteen", "Maren Holt"}, {"2026-03-06", "08:37", "rough play", "pier", "Maren Holt"},
	} {
		x.add(day.MustDate(f.on), day.MustMinute(f.at), f.kind, f.place, p.named(f.who).ID)
	}
	if _, err := store.AddConductChange(ctx, tx, store.ConductChange{Date: queue, Name: "Supervised ferry queue", Journal: journal}); err != nil {
		return err
	}
	return store.AddIncidents(ctx, tx, x.rows, x.who, x.done)
}

// lists writes the school's kinds, places, actions and names of breaks.
func (x *incidents) lists(ctx context.Context, tx *sqlx.Tx, journal ids.Entry) error {
	for list, names := range map[string][]string{"kind": kinds, "place": spots, "action": responses} {
		for n, name := range names {
			id, err := store.SaveConductWord(ctx, tx, store.ConductWord{List: list, Name: name, Place: n + 1, Journal: journal})
			if err != nil {
				return err
			}
			x.words[list+name] = id
		}
	}
	for n, b := range breaks {
		if _, err := store.SaveConductWord(ctx, tx, store.ConductWord{List: "break", Name: b[2], OfTime: string(conduct.Between(b[0], b[1])), Place: n + 1, Journal: journal}); err != nil {
			return err
		}
	}
	return nil
}

// year makes up a school year's incidents. A few students are in many of them.
func (x *incidents) year(days []day.Date, many int) {
	if len(days) == 0 {
		return
	}
	var there []ids.Student
	for _, s := range x.p.school.Students {
		if s.EnrolledOn(days[0]) && s.EnrolledOn(days[len(days)-1]) {
			there = append(there, s.ID)
		}
	}
	restless := make([]ids.Student, 40)
	for i := range restless {
		restless[i] = there[x.r.IntN(len(there))]
	}
	often := 0
	for _, s := range scenes {
		often += s.often
	}
	for range many {
		who := restless[x.r.IntN(len(restless))]
		if x.r.IntN(3) == 0 {
			who = there[x.r.IntN(len(there))]
		}
		on := days[x.r.IntN(len(days))]
		n := x.r.IntN(often)
		at := 0
		for n >= scenes[at].often {
			n -= scenes[at].often
			at++
		}
		if on == upperClosed {
			continue // half the school is at home
		}
		if at == 0 && on >= queue && x.r.IntN(queued) > 0 {
			continue // somebody stood there
		}
		s := scenes[at]
		from, to := day.MustMinute(s.from), day.MustMinute(s.to)
		minute := from.Add(day.Minutes(x.r.IntN(int(to.Sub(from)) + 1)))
		x.add(on, minute, s.kinds[x.r.IntN(len(s.kinds))], s.place, who)
		x.roughly(there)
	}
}

// roughly adds who else was there, and leaves out what nobody has said yet of a few.
func (x *incidents) roughly(there []ids.Student) {
	last := &x.rows[len(x.rows)-1]
	for _, other := range []struct {
		role  conduct.Role
		share int
	}{{conduct.Harmed, 3}, {conduct.Saw, 8}} {
		who := there[x.r.IntN(len(there))]
		if x.r.IntN(other.share) == 0 && !slices.ContainsFunc(x.who, func(p store.IncidentPerson) bool { return p.Version == last.Version && p.StudentID == who }) {
			x.who = append(x.who, store.IncidentPerson{Version: last.Version, StudentID: who, Role: string(other.role)})
		}
	}
	switch x.r.IntN(40) {
	case 0:
		last.Minute = day.Minute{}
	case 1:
		last.Place = nil
	case 2:
		if i := slices.IndexFunc(x.who, func(p store.IncidentPerson) bool { return p.Version == last.Version }); i == len(x.who)-1 {
			x.who = x.who[:i] // nobody knows who did it
		}
	}
}

func (x *incidents) add(on day.Date, at day.Minute, kind, place string, did ids.Student) {
	id := ids.Incident(len(x.rows) + 1)
	k, p := x.words["kind"+kind], x.words["place"+place]
	by := x.p.school.Staff[x.r.IntN(40)].Short()
	row := store.Incident{ID: id, SourcedID: fmt.Sprintf("incident-%04d", id), Version: ids.IncidentVersion(id), Date: on, Minute: at, Kind: &k, Place: &p, RecordedBy: by, Origin: store.Origin{Journal: x.number}}
	if account, ok := x.staff[by]; ok {
		row.Account = &account
	}
	x.rows = append(x.rows, row)
	x.who = append(x.who, store.IncidentPerson{Version: row.Version, StudentID: did, Role: string(conduct.Did)})
	if n := x.r.IntN(len(responses) + 2); n < len(responses) {
		x.done = append(x.done, store.IncidentAction{Version: row.Version, Action: x.words["action"+responses[n]]})
	}
}

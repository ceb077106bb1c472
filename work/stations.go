package work

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"fmt"
	"math/big"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/whereabouts"
	"meldung/store"
)

const (
	stationCodeDigits  = 8
	stationCodeMinutes = 30 // for which a code may be typed
)

// NewStation is a device that students are to sign in and out on.
type NewStation struct {
	Name string `json:"name" minLength:"1" maxLength:"60" doc:"Where it stands"`
}

// StationCode is what ties a device to a station, once.
type StationCode struct {
	ID    int64  `json:"id"`
	Name  string `json:"name"`
	Code  string `json:"code"`
	Until string `json:"until" doc:"When the code is no longer taken"`
}

func hashed(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// AddStation names a new station and returns the code to type on its device. The code is
// shown this once and kept nowhere: a repeat is refused, since the name is taken.
func (o *Office) AddStation(ctx context.Context, p Person, n NewStation) (StationCode, error) {
	out := StationCode{Name: strings.TrimSpace(n.Name)}
	if out.Name == "" {
		return out, wrong("say where the station stands; nothing was stored")
	}
	limit := new(big.Int).Exp(big.NewInt(10), big.NewInt(stationCodeDigits), nil)
	number, err := rand.Int(rand.Reader, limit)
	if err != nil {
		return out, fmt.Errorf("drawing a code: %w", err)
	}
	err = o.write(ctx, p, "", "station", nil, func(w *writing) error {
		w.aside = true
		all, err := store.Stations(ctx, w.tx)
		if err != nil {
			return err
		}
		for _, s := range all {
			waits := s.Bound == nil && s.CodeUntil > w.now
			if s.EndedBy == nil && strings.EqualFold(s.Name, out.Name) && (waits || s.Bound != nil) {
				return conflict("there is a station at %s: take it out of use first", s.Name)
			}
		}
		out.Code = fmt.Sprintf("%0*d", stationCodeDigits, number)
		until := w.now + stationCodeMinutes
		out.Until = until.Minute().String()
		out.ID, err = store.AddStation(ctx, w.tx, store.Station{Name: out.Name, Code: hashed(out.Code), CodeUntil: until, Origin: store.Origin{Journal: w.journal.ID}})
		return err
	})
	if err != nil {
		return StationCode{}, err
	}
	return out, nil
}

// EndStation takes a station out of use; its device shows so.
func (o *Office) EndStation(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.write(ctx, p, key, "station ended", &out, func(w *writing) error {
		w.aside = true
		done, err := store.EndStation(ctx, w.tx, id, w.journal.ID)
		if err == nil && !done {
			err = conflict("there is no such station in use")
		}
		out = Receipt{Seq: w.journal.ID, Words: "The station is out of use", IDs: []int64{id}}
		return err
	})
	return out, err
}

// StationView is a station on the administrator's list.
type StationView struct {
	ID    int64  `json:"id"`
	Name  string `json:"name"`
	State string `json:"state" enum:"waiting,in use,code passed"`
	Since string `json:"since" doc:"When its device was bound, or until when its code is taken"`
	Wrong int    `json:"wrong" doc:"Wrong numbers typed there"`
	By    string `json:"by"`
}

// Stations lists the stations that are not out of use.
func (o *Office) Stations(ctx context.Context) ([]StationView, error) {
	out := []StationView{}
	now := o.clock.Now()
	all, err := store.Stations(ctx, o.store.Read())
	for _, s := range all {
		if s.EndedBy != nil {
			continue
		}
		row := StationView{ID: s.ID, Name: s.Name, State: "waiting", Since: instantWords(s.CodeUntil, now.Date()), Wrong: s.Wrong, By: s.By}
		switch {
		case s.Bound != nil:
			row.State, row.Since = "in use", instantWords(*s.Bound, now.Date())
		case s.CodeUntil <= now:
			row.State = "code passed"
		}
		out = append(out, row)
	}
	return out, err
}

// BindStation ties the device that shows a code to its station, once, and returns the
// token by which the device is known from then on.
func (o *Office) BindStation(ctx context.Context, code string) (token string, err error) {
	code = onlyDigits(code)
	err = o.write(ctx, Person{}, "", "station bound", nil, func(w *writing) error {
		w.aside = true
		all, err := store.Stations(ctx, w.tx)
		if err != nil {
			return err
		}
		for _, s := range all {
			if s.EndedBy != nil || s.Token != nil || s.CodeUntil <= w.now || subtle.ConstantTimeCompare([]byte(s.Code), []byte(hashed(code))) != 1 {
				continue
			}
			token = rand.Text()
			done, err := store.BindStation(ctx, w.tx, s.ID, hashed(token), w.now)
			if err == nil && !done {
				err = conflict("that code was used already")
			}
			return err
		}
		return refused("that code is wrong, was used, or its time has passed: ask an administrator for another")
	})
	return token, err
}

// station returns the station in use that a device's token belongs to.
func (o *Office) station(ctx context.Context, token string) (store.Station, error) {
	all, err := store.Stations(ctx, o.store.Read())
	if err != nil {
		return store.Station{}, err
	}
	if token != "" {
		for _, s := range all {
			if s.Token != nil && s.EndedBy == nil && *s.Token == hashed(token) {
				return s, nil
			}
		}
	}
	return store.Station{}, refused("this device is no station")
}

// StationPage is what a station shows while nobody stands before it.
type StationPage struct {
	ID     int64    `json:"id"`
	Name   string   `json:"name"`
	School string   `json:"school"`
	Arrive []string `json:"arrive" doc:"Reasons offered to those who arrive"`
	Leave  []string `json:"leave" doc:"Reasons offered to those who leave"`
	Now    string   `json:"now" doc:"The school's present minute"`
}

// StationPage returns what a station shows.
func (o *Office) StationPage(ctx context.Context, token string) (StationPage, error) {
	s, err := o.station(ctx, token)
	if err != nil {
		return StationPage{}, err
	}
	settings := o.Settings()
	out := StationPage{ID: s.ID, Name: s.Name, School: settings.Name, Arrive: []string{}, Leave: []string{}, Now: o.clock.Now().String()}
	for _, r := range settings.Reasons {
		if r.Arrive {
			out.Arrive = append(out.Arrive, r.Word)
		}
		if r.Leave && r.Word != noReason {
			out.Leave = append(out.Leave, r.Word)
		}
	}
	return out, nil
}

// StationStudent is all that a station shows of who stands before it.
type StationStudent struct {
	Given   string `json:"given"`
	Initial string `json:"initial"`
	Kind    string `json:"kind" enum:"arrived,departed" doc:"What is likely, from where the student is"`
	Late    bool   `json:"late" doc:"An arrival now is late: a reason is asked for"`
	Since   string `json:"since" doc:"Since when the student is in; empty for not in"`
}

// ByNumber finds who has a number or a card, written whole; no name and no part will do.
func (v view) byNumber(typed string, d day.Date) (store.Student, bool) {
	typed = strings.TrimSpace(typed)
	for _, s := range v.school.Students {
		if s.EnrolledOn(d) && typed != "" && (s.Number == typed || (s.Card != "" && strings.EqualFold(s.Card, typed))) {
			return s, true
		}
	}
	return store.Student{}, false
}

// wrongNumber counts a wrong number at a station and says so.
func (o *Office) wrongNumber(ctx context.Context, s store.Station) error {
	err := o.write(ctx, Person{}, "", "wrong number", nil, func(w *writing) error {
		w.aside, w.quiet = true, true
		return store.CountWrong(ctx, w.tx, s.ID)
	})
	if err != nil {
		return err
	}
	return notFound("nobody here has that number")
}

// AtStation says who stands before a station, by number or card.
func (o *Office) AtStation(ctx context.Context, token, typed string) (StationStudent, error) {
	var out StationStudent
	station, err := o.station(ctx, token)
	if err != nil {
		return out, err
	}
	found := false
	m, err := o.moment("")
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		var s store.Student
		if s, found = v.byNumber(typed, m.Date); found {
			out = v.stationStudent(x, s, m)
		}
		return nil
	})
	if err == nil && !found {
		err = o.wrongNumber(ctx, station)
	}
	return out, err
}

func (v view) stationStudent(x *Day, s store.Student, m Moment) StationStudent {
	out := StationStudent{Given: s.Given, Kind: "arrived"}
	for _, r := range s.Family {
		out.Initial = string(r)
		break
	}
	switch p := v.position(x, s.ID, m); p.State {
	case whereabouts.In, whereabouts.InLate:
		out.Kind, out.Since = "departed", p.Since.String()
	}
	if first, ok := firstDue(x, s.ID); ok {
		out.Late = m.Minute > first+v.settings.LateGrace
	}
	return out
}

// StationMove is a student signing in or out at a station.
type StationMove struct {
	Number string `json:"number" maxLength:"60" doc:"Number or card"`
	Kind   string `json:"kind" enum:"arrived,departed"`
	Reason string `json:"reason,omitempty" maxLength:"60" doc:"One of those offered"`
}

// StationReceipt thanks a student.
type StationReceipt struct {
	Given   string `json:"given"`
	Initial string `json:"initial"`
	Kind    string `json:"kind" enum:"arrived,departed"`
	At      string `json:"at"`
	Already bool   `json:"already" doc:"It was stored before: nothing was stored again"`
}

// stationAgain is within how many minutes the same student doing the same at a station is
// taken for a second touch.
const stationAgain = 5

// MoveAtStation signs a student in or out. A second touch stores nothing again; who
// leaves gives one of the school's reasons.
func (o *Office) MoveAtStation(ctx context.Context, token, key string, mv StationMove) (StationReceipt, error) {
	var out StationReceipt
	station, err := o.station(ctx, token)
	if err != nil {
		return out, err
	}
	unknown := false
	err = o.writeToday(ctx, Person{}, key, "movement", &out, func(w *writing, v view, x *Day) error {
		m := Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true}
		s, ok := v.byNumber(mv.Number, x.Date)
		if !ok {
			unknown = true
			return notFound("nobody here has that number")
		}
		who := v.stationStudent(x, s, m)
		out = StationReceipt{Given: who.Given, Initial: who.Initial, Kind: mv.Kind, At: w.now.Minute().String()}
		for _, done := range slices.Backward(x.movements) {
			if done.StudentID != s.ID || done.UndoneAt != nil {
				continue
			}
			if done.Kind == mv.Kind && w.now.Minute()-done.Minute <= stationAgain {
				out.At, out.Already = done.Minute.String(), true
				w.aside, w.quiet = true, true
				return nil
			}
			break
		}
		reason := v.settings.reason(mv.Reason)
		offered := slices.ContainsFunc(v.settings.Reasons, func(r Reason) bool {
			return r.Word == mv.Reason && (mv.Kind == "arrived" && r.Arrive || mv.Kind == "departed" && r.Leave)
		})
		switch {
		case mv.Kind == "departed" && who.Kind == "arrived":
			return refused("you are not signed in: see the office")
		case mv.Reason != "" && !offered, mv.Kind == "departed" && (mv.Reason == "" || reason.Word == noReason):
			return wrong("choose a reason")
		}
		_, err := w.move(v, x, s, parsedMovement{Movement: Movement{Kind: mv.Kind, Reason: mv.Reason, station: station.ID}, at: w.now.Minute(), returns: -1})
		return err
	})
	if unknown {
		return out, o.wrongNumber(ctx, station)
	}
	return out, err
}

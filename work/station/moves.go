package station

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// StationStudent is all that a station shows of who stands before it.
type StationStudent struct {
	Given   string `json:"given"`
	Initial string `json:"initial"`
	Kind    string `json:"kind" enum:"arrived,departed" doc:"What is likely, from where the student is"`
	Late    bool   `json:"late" doc:"An arrival now is late: a reason is asked for"`
	Since   string `json:"since" doc:"Since when the student is in; empty for not in"`
}

// byNumber finds who has a number or a card, written whole; no name and no part will do.
func byNumber(v work.Snapshot, typed string, d day.Date) (store.Student, bool) {
	typed = strings.TrimSpace(typed)
	for _, s := range v.School.Students {
		if s.EnrolledOn(d) && typed != "" && (s.Number == typed || (s.Card != "" && strings.EqualFold(s.Card, typed))) {
			return s, true
		}
	}
	return store.Student{}, false
}

// wrongNumber counts a wrong number at a station and says so.
func wrongNumber(ctx context.Context, o *work.Office, s store.Station) error {
	err := o.Write(ctx, work.Job{Kind: "wrong number"}, func(tx *work.Tx, _ work.Snapshot) error {
		tx.Untold = true
		return store.CountWrong(ctx, tx.Tx, s.ID)
	})
	if err != nil {
		return err
	}
	return work.NotFoundf("nobody here has that number")
}

// Ask says who stands before a station, by number or card.
func Ask(ctx context.Context, o *work.Office, token, typed string) (StationStudent, error) {
	var out StationStudent
	station, err := InUse(ctx, o, token)
	if err != nil {
		return out, err
	}
	found := false
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		var s store.Student
		if s, found = byNumber(v, typed, m.Date); found {
			out = stationStudent(v, x, s, m)
		}
		return nil
	})
	if err == nil && !found {
		err = wrongNumber(ctx, o, station)
	}
	return out, err
}

func stationStudent(v work.Snapshot, x *work.Day, s store.Student, m work.Moment) StationStudent {
	out := StationStudent{Given: s.Given, Kind: work.Arrived}
	for _, r := range s.Family {
		out.Initial = string(r)
		break
	}
	switch p := v.Position(x, s.ID, m); p.State {
	case whereabouts.In, whereabouts.InLate:
		out.Kind, out.Since = work.Departed, p.Since.String()
	}
	if first, ok := x.FirstDue(s.ID); ok {
		out.Late = m.Minute.After(first.Add(x.Of(s.ID).Settings.LateGrace))
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
	Already bool   `json:"already" doc:"It was stored before: nothing was saved again"`
}

// stationAgain is within how many minutes the same student doing the same at a station is
// taken for a second touch.
const stationAgain = 5

// Move signs a student in or out. A second touch stores nothing again; who
// leaves gives one of the school's reasons.
func Move(ctx context.Context, o *work.Office, token, key string, mv StationMove) (StationReceipt, error) {
	var out StationReceipt
	station, err := InUse(ctx, o, token)
	if err != nil {
		return out, err
	}
	unknown := false
	err = o.WriteToday(ctx, work.Job{Key: key, Kind: "movement", In: mv, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		m := tx.Moment()
		s, ok := byNumber(v, mv.Number, x.Date)
		if !ok {
			unknown = true
			return work.NotFoundf("nobody here has that number")
		}
		who := stationStudent(v, x, s, m)
		out = StationReceipt{Given: who.Given, Initial: who.Initial, Kind: mv.Kind, At: tx.Now.Minute().String()}
		for _, done := range slices.Backward(x.Movements) {
			if done.StudentID != s.ID || done.UndoneAt != nil {
				continue
			}
			if done.Kind == mv.Kind && tx.Now.Minute().Sub(done.Minute) <= stationAgain {
				out.At, out.Already = done.Minute.String(), true
				tx.Untold = true
				return nil
			}
			break
		}
		settings := x.Of(s.ID).Settings
		reason := settings.Reason(mv.Reason)
		offered := slices.ContainsFunc(settings.Offered(), func(r held.Reason) bool {
			return r.Word == mv.Reason && (mv.Kind == work.Arrived && r.Arrive || mv.Kind == work.Departed && r.Leave)
		})
		switch {
		case mv.Kind == work.Departed && who.Kind == work.Arrived:
			return work.Refusedf("you are not signed in: see the office")
		case mv.Reason != "" && !offered, mv.Kind == work.Departed && (mv.Reason == "" || reason.Word == held.NoReason):
			return work.Wrongf("choose a reason")
		}
		_, err := tx.Move(ctx, v, x, s, work.Movement{Kind: mv.Kind, At: tx.Now.Minute(), Reason: mv.Reason, Station: station.ID})
		return err
	})
	if unknown {
		return out, wrongNumber(ctx, o, station)
	}
	return out, err
}

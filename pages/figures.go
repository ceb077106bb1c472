package pages

import (
	"fmt"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/store"
	"meldung/work"
)

// RoomView is how many units more may be missed, or must be attended.
type RoomView struct {
	Known bool `json:"known"`
	None  bool `json:"none"`
	Units int  `json:"units"`
}

// AbsenceFigures are a student's figures by a policy.
type AbsenceFigures struct {
	Policy                                    string   `json:"policy" doc:"The policy by which it is measured"`
	Unit                                      string   `json:"unit" enum:"day,session,minute" doc:"What possible, absent, excused and unexcused count"`
	Possible                                  int      `json:"possible"`
	Absent                                    int      `json:"absent"`
	Excused                                   int      `json:"excused"`
	Unexcused                                 int      `json:"unexcused"`
	Unexplained                               int      `json:"unexplained"`
	Unmarked                                  int      `json:"unmarked"`
	Void                                      int      `json:"void"`
	Lates                                     int      `json:"lates"`
	Rate                                      string   `json:"rate" doc:"Per cent with one decimal; empty where nothing was possible"`
	Band                                      string   `json:"band"`
	BandPlace                                 int      `json:"bandPlace" doc:"-1 for none"`
	Headroom                                  RoomView `json:"headroom"`
	WayBack                                   RoomView `json:"wayBack"`
	ToCome                                    int      `json:"toCome"`
	BackInTime                                bool     `json:"backInTime" doc:"Whether the way back fits into what is left of the year"`
	Line                                      string   `json:"line" doc:"The policy's threshold in per cent"`
	Due                                       string   `json:"due" doc:"Time with a mark, in words"`
	Missed                                    string   `json:"missed" doc:"Time missed, in words"`
	DueMinutes, MissedMinutes, ChargedMinutes int      `json:"-"`
	Charged                                   string   `json:"charged" doc:"Time charged on the policy's basis, in words"`
}

// Figures returns a student's figures as pages show them.
func Figures(m *absence.Measure, f absence.Figures) AbsenceFigures {
	out := AbsenceFigures{Policy: m.Policy().ID, DueMinutes: f.DueMinutes, MissedMinutes: f.MissedMinutes, ChargedMinutes: f.ChargedMinutes, Unit: m.Policy().Unit.String(), Void: f.Void, Due: day.Duration(f.DueMinutes), Charged: day.Duration(f.ChargedMinutes), Possible: f.Possible, Absent: f.Absent, Excused: f.Excused, Unexcused: f.Unexcused, Unexplained: f.Unexplained,
		Unmarked: f.Unmarked, Lates: f.Lates, Rate: f.Rate(), BandPlace: f.Band, Headroom: RoomView(f.Headroom), WayBack: RoomView(f.WayBack),
		ToCome: f.ToCome, BackInTime: f.BackInTime(), Line: PercentOf(m.Policy().Threshold), Missed: day.Duration(f.MissedMinutes)}
	if f.Band >= 0 {
		out.Band = m.Policy().Bands[f.Band].Name
	}
	return out
}

// WhyBases are missed minutes on both bases, for those whose full time is not all here.
type WhyBases struct {
	Due       string `json:"due"`
	Scheduled string `json:"scheduled" doc:"Missed of the own schedule"`
	FullDay   string `json:"fullDay" doc:"Charged where whole days count as full ones"`
	FullDays  int    `json:"fullDays" doc:"Days charged as full ones"`
	FullOf    string `json:"fullOf" doc:"What these are charged"`
	FullSeen  string `json:"fullSeen" doc:"What the school saw of these"`
	Here      string `json:"here" doc:"Share of full time here"`
	Elsewhere string `json:"elsewhere"`
}

// Bases compares both bases for a student whose full time is not all here; nil
// for others.
func Bases(v work.Section, measure *absence.Measure, s store.Student, span absence.Span) *WhyBases {
	place := v.Place(s.ID)
	if place < 0 || (v.School.ScheduleOf(s.ID, v.On) == nil && s.ShareHere == "1") {
		return nil
	}
	b := measure.Bases(place, span)
	return &WhyBases{Due: day.Duration(b.Due), Scheduled: day.Duration(b.Scheduled), FullDay: day.Duration(b.FullDay), FullDays: b.FullDays,
		FullOf: day.Duration(b.FullOf), FullSeen: day.Duration(b.FullSeen), Here: s.ShareHere, Elsewhere: s.ShareElsewhere}
}

// PercentOf says a fraction in per cent, without a decimal that is 0.
func PercentOf(f policy.Fraction) string {
	r := f.Rat()
	if !r.Num().IsInt64() || !r.Denom().IsInt64() || r.Denom().Int64() > 1_000_000 {
		return f.String()
	}
	text := policy.Percent(int(r.Num().Int64()), int(r.Denom().Int64()))
	if n := len(text); n > 2 && text[n-2:] == ".0" {
		return text[:n-2]
	}
	return text
}

// EndedBy is the section's last school day that was over at a moment; −1 for none.
func EndedBy(v work.Section, m work.Moment) int {
	return v.Calendar.EndedBy(m.Date, m.Minute)
}

// Kept says under which key figures up to a moment are kept, and what they follow from. A day is
// measured when it is over: until then nothing of it changes them.
func Kept(v work.Snapshot, m work.Moment, what string) (key string, follows []string) {
	key, follows = fmt.Sprint(what, m.Scope, m.Date), []string{work.PastMarks}
	for _, s := range v.In(m.Scope) {
		if s.Ledger == nil {
			continue
		}
		last := EndedBy(s, m)
		key += fmt.Sprint(" ", last)
		if last >= 0 && s.Calendar.Day(last).Date >= v.Now.Date() && len(follows) == 1 {
			follows = append(follows, "mark")
		}
	}
	return key, follows
}

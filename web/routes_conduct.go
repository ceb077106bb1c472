package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/conductpage"
	"meldung/work"
	"meldung/work/incidents"
)

// ConductAsked is which incidents are asked for.
type ConductAsked struct {
	LookedIn
	Grouped
	From       string   `query:"from" maxLength:"10" doc:"First date; empty is the first of the term"`
	To         string   `query:"to" maxLength:"10" doc:"Last date; empty is the date that is looked at"`
	Kinds      []int64  `query:"kinds" maxItems:"100" doc:"0 is not known"`
	Spots      []int64  `query:"spots" maxItems:"100" doc:"Places; 0 is not known"`
	Actions    []int64  `query:"actions" maxItems:"100" doc:"0 is none yet"`
	Times      []string `query:"times" maxItems:"60" doc:"Times of the day, as the page offers them"`
	Weekdays   []int    `query:"weekdays" maxItems:"7" doc:"1 is Monday"`
	Roles      []string `query:"roles" maxItems:"3" doc:"did it, was harmed, saw it"`
	By         []string `query:"by" maxItems:"60" doc:"Who recorded it"`
	Incomplete bool     `query:"incomplete"`
	Rows       string   `query:"rows" enum:"place,weekday,kind" default:"place"`
	CellRow    string   `query:"cellRow" maxLength:"60"`
	CellTime   string   `query:"cellTime" maxLength:"100"`
	Beside     string   `query:"beside" maxLength:"10" doc:"First date of the span beside this one; empty is the days before"`
}

func (a ConductAsked) ask() conductpage.Ask {
	return conductpage.Ask{From: a.From, To: a.To, Group: a.Group, Kinds: a.Kinds, Places: a.Spots, Actions: a.Actions, Times: a.Times, Weekdays: a.Weekdays, Roles: a.Roles, By: a.By,
		Incomplete: a.Incomplete, Rows: a.Rows, CellRow: a.CellRow, CellTime: a.CellTime, Beside: a.Beside}
}

// conductRoutes are incidents: found, counted, noted and corrected.
func (s *server) conductRoutes() {
	get(s, work.MaySeeConduct, "/conduct", "Incidents: where, when, what, how often", func(ctx context.Context, in *ConductAsked) (*body[conductpage.ConductView], error) {
		return answer(conductpage.Show(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepConduct, "/conduct/file", "Incidents as a file", func(ctx context.Context, in *struct {
		ConductAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := conductpage.Keep(ctx, s.office, person(ctx), in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MaySeeIncident, "/incidents/{incident}", "An incident, with what it was before it was corrected", func(ctx context.Context, in *struct {
		ID ids.Incident `path:"incident"`
	}) (*body[conductpage.IncidentView], error) {
		return answer(conductpage.ShowIncident(ctx, s.office, person(ctx), in.ID))
	})
	get(s, work.MaySeeConductLists, "/conduct/lists", "The school's kinds, places and actions", func(ctx context.Context, _ *struct{}) (*body[conductpage.ConductListsView], error) {
		return answer(conductpage.ShowLists(ctx, s.office, person(ctx)))
	})
	get(s, work.MayFindPeople, "/conduct/people", "Students by name and form, to note their part", func(ctx context.Context, in *struct {
		Text string `query:"q" maxLength:"60"`
	}) (*body[[]conductpage.PersonFound], error) {
		return answer(conductpage.FindPeople(ctx, s.office, in.Text))
	})
	post(s, work.MayNoteIncident, "/incidents", "Note an incident, or correct one", func(ctx context.Context, in *Keyed[incidents.IncidentNote]) (*body[work.Receipt], error) {
		return answer(incidents.SetNote(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayTakeIncidentBack, "/incidents/back", "Take back an incident that was entered by mistake", func(ctx context.Context, in *Keyed[incidents.IncidentBack]) (*body[work.Receipt], error) {
		return answer(incidents.TakeBack(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetConductLists, "/conduct/lists", "Change a list of kinds, places, actions or breaks", func(ctx context.Context, in *Keyed[incidents.ConductList]) (*body[work.Receipt], error) {
		return answer(incidents.SetList(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayMarkChange, "/conduct/changes", "Mark a change, before and after which incidents are counted", func(ctx context.Context, in *Keyed[incidents.ConductChange]) (*body[work.Receipt], error) {
		return answer(incidents.MarkChange(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayUnmarkChange, "/conduct/changes/{change}/back", "Take a marked change off", func(ctx context.Context, in *struct {
		Keyed[struct{}]
		Change ids.ConductChange `path:"change"`
	}) (*body[work.Receipt], error) {
		return answer(incidents.TakeChangeBack(ctx, s.office, person(ctx), in.Key, in.Change))
	})
}

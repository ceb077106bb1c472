package rollcallpage

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	core "meldung/core/rollcall"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/rollcall"
)

// RollCallRow is a roll call among others of the school year.
type RollCallRow struct {
	ID     ids.RollCall `json:"id"`
	Day    string       `json:"day" doc:"The date in words"`
	Kind   string       `json:"kind" enum:"drill,real"`
	Began  string       `json:"began" doc:"HH:MM"`
	By     string       `json:"by"`
	Ended  string       `json:"ended" doc:"HH:MM; empty while it runs"`
	People int          `json:"people"`
	Open   int          `json:"open" doc:"How many nobody had found"`
	Half   string       `json:"half" doc:"After how long half were ticked; empty for never"`
	Most   string       `json:"most" doc:"Nine of ten"`
	Whole  string       `json:"whole" doc:"All"`
	Note   string       `json:"note"`
}

func rowOf(r store.RollCall) RollCallRow {
	out := RollCallRow{ID: r.ID, Day: r.Date.Spoken(), Kind: r.Kind, Began: r.Minute.String(), By: r.By, People: r.People, Open: r.Open,
		Half: minutes(r.Half), Most: minutes(r.Most), Whole: minutes(r.Whole), Note: r.Note}
	if r.EndedAt != nil {
		out.Ended = work.When(*r.EndedAt, r.Date)
	}
	return out
}

// RollCallsView is the roll calls of a school year, side by side.
type RollCallsView struct {
	Year  string        `json:"year" doc:"From when to when, in words"`
	Calls []RollCallRow `json:"calls" doc:"Newest first"`
}

// ShowAll returns the roll calls of the school year of today.
func ShowAll(ctx context.Context, o *work.Office) (RollCallsView, error) {
	out := RollCallsView{Calls: []RollCallRow{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		from, to := v.On-365, v.On
		if y := v.Sections()[0].Year(); y != nil {
			from, _ = y.Calendar.Span()
		}
		out.Year = from.Spoken() + " to " + to.Spoken()
		list, err := store.RollCallsBetween(ctx, v.Store(), from, to)
		for _, r := range list {
			out.Calls = append(out.Calls, rowOf(r))
		}
		return err
	})
	return out, err
}

// RecordRow is somebody of a roll call, and how they were found.
type RecordRow struct {
	PersonView
	Tick *TickView `json:"tick,omitempty" doc:"The first that stands; none where nobody found them"`
}

// RecordView is what came of a roll call.
type RecordView struct {
	School string      `json:"school"`
	Call   RollCallRow `json:"call"`
	EndBy  string      `json:"endBy"`
	Rows   []RecordRow `json:"rows" doc:"Those not found first, then by meeting point"`
	Taken  []TickView  `json:"taken" doc:"Ticks that were taken back"`
}

// ShowRecord returns who ticked whom when in a roll call.
func ShowRecord(ctx context.Context, o *work.Office, id ids.RollCall) (RecordView, error) {
	out := RecordView{Rows: []RecordRow{}, Taken: []TickView{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		r, err := store.RollCallWith(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		if r == nil {
			return work.NotFoundf("there is no such roll call")
		}
		if v, err = v.At(ctx, r.Date); err != nil {
			return err
		}
		x, err := v.Day(ctx, r.Date)
		if err != nil {
			return err
		}
		out.School, out.Call, out.EndBy = v.SchoolName(), rowOf(*r), r.Ender
		return out.read(ctx, v, x, id)
	})
	return out, err
}

func (out *RecordView) read(ctx context.Context, v work.Snapshot, x *work.Day, id ids.RollCall) error {
	people, visits, err := peopleOf(ctx, v, id)
	if err != nil {
		return err
	}
	stored, err := store.RollTicks(ctx, v.Store(), id, 0)
	if err != nil {
		return err
	}
	byToken := map[string]TickView{}
	for _, t := range stored {
		byToken[t.Token] = tickView(t)
		if t.UndoneBy != nil {
			out.Taken = append(out.Taken, tickView(t))
		}
	}
	standing := core.Standing(rollcall.CoreTicks(stored))
	views := make([]PersonView, len(people))
	for i, one := range people {
		views[i] = person(v, x, visits, one)
	}
	sortPeople(views)
	var found []RecordRow
	for _, one := range views {
		t, ok := standing[core.Key{Kind: core.Kind(one.Kind), ID: one.Person}]
		if !ok {
			out.Rows = append(out.Rows, RecordRow{PersonView: one})
			continue
		}
		view := byToken[t.ID]
		found = append(found, RecordRow{one, &view})
	}
	out.Rows = append(out.Rows, found...)
	if out.Call.Ended == "" {
		out.Call.People, out.Call.Open = len(views), len(views)-len(found)
	}
	return nil
}

// RecordFile returns the record of a roll call as a file.
func RecordFile(ctx context.Context, o *work.Office, id ids.RollCall, format string) (pages.File, error) {
	r, err := ShowRecord(ctx, o, id)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: fmt.Sprintf("Roll call, %s, %s", r.Call.Kind, r.Call.Day),
		About: []string{r.School, work.Join(", ", "began "+r.Call.Began+work.By(r.Call.By), endedWords(r)), "This file holds data about students, staff and visitors."},
		Columns: []sheet.Column{{Heading: "meeting point", Width: 16}, {Heading: "kind", Width: 9}, {Heading: "name", Width: 24}, {Heading: "form", Width: 12}, {Heading: "why on the list", Width: 14}, {Heading: "should be", Width: 26},
			{Heading: "last seen", Width: 26}, {Heading: "ticked at", Width: 10}, {Heading: "by", Width: 16}, {Heading: "met", Width: 6}, {Heading: "where", Width: 24}}}
	for _, one := range r.Rows {
		row := []string{one.Point, one.Kind, one.Name, one.Form, one.Why, one.Place, one.Seen, "", "", "", ""}
		if t := one.Tick; t != nil {
			row[7], row[8], row[9], row[10] = t.At, t.By, map[bool]string{true: "yes", false: "no"}[t.Here], t.Place
		}
		list.Rows = append(list.Rows, row)
	}
	return pages.ListFile("student-data-roll-call-"+pages.Slug(r.Call.Day), list, format)
}

func endedWords(r RecordView) string {
	if r.Call.Ended == "" {
		return "still runs"
	}
	return "ended " + r.Call.Ended + work.By(r.EndBy)
}

// VisitView is somebody who signed in today.
type VisitView struct {
	ID    ids.Visit `json:"id"`
	Kind  string    `json:"kind" enum:"visitor,staff"`
	Name  string    `json:"name"`
	Firm  string    `json:"firm"`
	Host  string    `json:"host"`
	Badge string    `json:"badge"`
	From  string    `json:"from"`
	To    string    `json:"to" doc:"Empty while they are in"`
	By    string    `json:"by" doc:"Who wrote it down; empty for a station"`
}

// VisitsView is who of no roll is in, or was today.
type VisitsView struct {
	In    []VisitView      `json:"in" doc:"In the order in which they signed in"`
	Left  []VisitView      `json:"left"`
	Staff []pages.StaffRef `json:"staff" doc:"Who of the staff may be signed in"`
}

// ShowVisits returns who signed in on the present day.
func ShowVisits(ctx context.Context, o *work.Office) (VisitsView, error) {
	out := VisitsView{In: []VisitView{}, Left: []VisitView{}, Staff: []pages.StaffRef{}}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		in := map[ids.Staff]bool{}
		for _, one := range x.Visits {
			view := VisitView{ID: one.ID, Kind: one.Kind, Name: one.Name, Firm: one.Firm, Host: one.Host, Badge: one.Badge, From: one.From.String(), To: shown(one.To), By: one.By}
			if one.To.IsZero() {
				out.In = append(out.In, view)
				if one.StaffID != nil {
					in[*one.StaffID] = true
				}
			} else {
				out.Left = append(out.Left, view)
			}
		}
		for _, s := range v.School.Records().Rows.Staff {
			if !s.Ended && !in[s.ID] {
				out.Staff = append(out.Staff, pages.StaffRef{ID: s.ID, Name: s.Short()})
			}
		}
		return nil
	})
	return out, err
}

func shown(m day.Minute) string {
	if m.IsZero() {
		return ""
	}
	return m.String()
}

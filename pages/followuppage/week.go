package followuppage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/support"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
)

// weeksShown is how many school weeks are shown, the one looked at the last.
const weeksShown = 6

// WeekHead is a school week.
type WeekHead struct {
	Monday  string `json:"monday" doc:"YYYY-MM-DD"`
	Label   string `json:"label" doc:"9 Mar"`
	Title   string `json:"title" doc:"In words"`
	Now     bool   `json:"now"`
	Days    int    `json:"days" doc:"School days that it has"`
	On      int    `json:"on" doc:"Students on the caseload"`
	Met     int    `json:"met" doc:"Of these in a session or more"`
	Reasons int    `json:"reasons" doc:"Of these in none for a reason that was given"`
	Unmet   int    `json:"unmet" doc:"Of these in none, and nobody said why"`
	Minutes string `json:"minutes"`
}

// WeekCell is a student's week.
type WeekCell struct {
	Sessions int    `json:"sessions"`
	Minutes  int    `json:"minutes"`
	On       bool   `json:"on"`
	Unmet    bool   `json:"unmet"`
	Reason   string `json:"reason"`
	Kinds    string `json:"kinds" doc:"By kind, in words"`
}

// WeekRow is a student by weeks.
type WeekRow struct {
	Student pages.StudentRef `json:"student"`
	Case    ids.Case         `json:"case" doc:"0 for none"`
	Owner   string           `json:"owner"`
	Cells   []WeekCell       `json:"cells"`
}

// SessionPartView is a student in a session.
type SessionPartView struct {
	ID      ids.SupportSession `json:"id"`
	Student pages.StudentRef   `json:"student"`
	Note    string             `json:"note" doc:"For this one"`
}

// SessionView is a support session.
type SessionView struct {
	Group    ids.SupportSession `json:"group"`
	Day      string             `json:"day" doc:"YYYY-MM-DD"`
	Date     string             `json:"date" doc:"In words"`
	From     string             `json:"from" doc:"HH:MM; empty where only its length is known"`
	Minutes  int                `json:"minutes"`
	Kind     ids.SupportWord    `json:"kind"`
	KindName string             `json:"kindName"`
	Belongs  string             `json:"belongs" enum:"in,outside,either,"`
	LedBy    string             `json:"ledBy"`
	Leader   ids.Account        `json:"leader"`
	Note     string             `json:"note" doc:"For all of them"`
	Kept     string             `json:"kept" enum:"office,leads,owner"`
	Parts    []SessionPartView  `json:"parts"`
	Ahead    bool               `json:"ahead" doc:"Its day has not come"`
	Seq      ids.Entry          `json:"seq" doc:"The last entry that has changed it"`
}

// LeaderView is how much somebody leads.
type LeaderView struct {
	Name     string `json:"name"`
	Sessions int    `json:"sessions"`
	Minutes  string `json:"minutes"`
	Students int    `json:"students"`
}

// SupportKindCount is how often a kind was held.
type SupportKindCount struct {
	Name     string `json:"name"`
	Belongs  string `json:"belongs" enum:"in,outside,either,"`
	Sessions int    `json:"sessions" doc:"Parts of students"`
	Minutes  string `json:"minutes"`
}

// SupportWeek is support by week.
type SupportWeek struct {
	Scope    string             `json:"scope"`
	Group    string             `json:"group"`
	Groups   []pages.Choice     `json:"groups"`
	Week     string             `json:"week" doc:"Its Monday, YYYY-MM-DD"`
	Title    string             `json:"title" doc:"The week in words"`
	Now      bool               `json:"now"`
	Before   string             `json:"before" doc:"The school week before; empty for none"`
	After    string             `json:"after" doc:"The one after; empty for none"`
	Today    string             `json:"today"`
	Weeks    []WeekHead         `json:"weeks"`
	Rows     []WeekRow          `json:"rows"`
	Sessions []SessionView      `json:"sessions" doc:"Of the week looked at, in time"`
	Recent   []SessionView      `json:"recent" doc:"The last of other students or kinds, the person's own first, to be written again"`
	Leaders  []LeaderView       `json:"leaders" doc:"Of the weeks shown"`
	ByKind   []SupportKindCount `json:"byKind" doc:"Of the week looked at"`
	Kinds    []SupportChoice    `json:"kinds"`
	Owners   []pages.OwnerRef   `json:"owners"`
	Seen     string             `json:"seen" doc:"The stamp of the list of kinds"`
	May      bool               `json:"may"`
	MaySet   bool               `json:"maySet"`
}

// Week shows support by school week, the week of a date the last; of the present one without.
func Week(ctx context.Context, o *work.Office, p work.Person, asAt, week string, ask Ask, of ...ids.Section) (SupportWeek, error) {
	out := SupportWeek{Groups: []pages.Choice{}, Weeks: []WeekHead{}, Rows: []WeekRow{}, Sessions: []SessionView{}, Recent: []SessionView{}, Leaders: []LeaderView{}, ByKind: []SupportKindCount{}, Kinds: []SupportChoice{}, Owners: []pages.OwnerRef{}}
	err := reading(ctx, o, p, asAt, of, func(g *gathered) error {
		monday := g.m.Date.Monday()
		if week != "" {
			d, err := day.ParseDate(week)
			if err != nil {
				return work.Wrongf("%v", err)
			}
			monday = d.Monday()
		}
		on, words, err := g.asked(ask)
		if err != nil {
			return err
		}
		out.Scope, out.Group, out.Groups = g.v.ScopeText(g.m.Scope), words, pages.GroupChoices(g.v, g.m.Scope)
		out.Kinds, out.Seen, out.May, out.MaySet = g.offered(caseload.Kinds), g.words.Stamp(caseload.Kinds), g.m.Live && p.May(work.MayAddSession), p.May(work.MaySetSupport)
		out.Week, out.Title, out.Now, out.Today = monday.String(), "Week of "+pages.SpokenBy(monday, g.m.Date), monday == g.m.Date.Monday(), g.m.Date.String()
		if out.Owners, err = pages.Owners(ctx, g.v, p); err != nil {
			return err
		}
		return g.weeks(monday, on, ask, &out)
	})
	return out, err
}

// weeks fills in the weeks up to one. Several sections' calendars are laid over each other: a week of school in one
// is one.
func (g *gathered) weeks(monday day.Date, on map[ids.Student]bool, ask Ask, out *SupportWeek) error {
	owners := map[ids.Student]*caseload.Case{}
	for i := range g.cases {
		if c := &g.cases[i]; c.Open() {
			owners[c.StudentID] = c
		}
	}
	keep := func(id ids.Student) bool {
		return on[id] && (ask.Owner == 0 || owners[id] != nil && owners[id].Last().OwnerID == ask.Owner)
	}
	held := g.held(keep)
	var all []support.Week
	for _, s := range g.v.In(g.m.Scope) {
		if s.Calendar == nil {
			continue
		}
		first, last := s.Calendar.Span()
		for _, w := range support.Weeks(s.Calendar, first, max(last, monday), held) {
			if i := slices.IndexFunc(all, func(o support.Week) bool { return o.Monday == w.Monday }); i >= 0 {
				all[i].Days = max(all[i].Days, w.Days)
				continue
			}
			all = append(all, w)
		}
	}
	if all == nil {
		return work.NoCalendar()
	}
	slices.SortFunc(all, func(a, b support.Week) int { return cmp.Compare(a.Monday, b.Monday) })
	upto := 0
	for i, w := range all {
		if w.Monday < monday {
			out.Before, upto = w.Monday.String(), i+1
		} else if w.Monday > monday && out.After == "" {
			out.After = w.Monday.String()
		}
	}
	if upto < len(all) && all[upto].Monday == monday {
		upto++
	} else {
		all = slices.Insert(all, upto, support.Week{Monday: monday})
		upto++
	}
	shown := all[max(0, upto-weeksShown):upto]
	var stays []support.Stay
	for _, s := range g.stays() {
		if keep(ids.Student(s.Student)) && g.v.School.StudentOf(ids.Student(s.Student)).EnrolledOn(g.m.Date) {
			stays = append(stays, s)
		}
	}
	c := support.Cover(shown, held, stays, g.reasonsOf())
	g.table(c, owners, out)
	g.listed(shown, keep, out)
	g.recent(out)
	return nil
}

func (g *gathered) table(c support.Coverage, owners map[ids.Student]*caseload.Case, out *SupportWeek) {
	for i, w := range c.Weeks {
		t := c.Totals[i]
		out.Weeks = append(out.Weeks, WeekHead{Monday: w.Monday.String(), Label: w.Monday.Time().Format("2 Jan"), Title: "Week of " + pages.SpokenBy(w.Monday, g.m.Date), Now: w.Monday == g.m.Date.Monday(), Days: w.Days, On: t.On, Met: t.Met, Reasons: t.Reasons, Unmet: t.Unmet(w), Minutes: day.Duration(t.Minutes)})
	}
	for student, cells := range c.Cells {
		id := ids.Student(student)
		row := WeekRow{Student: pages.Student(g.v, g.v.School.StudentOf(id), g.m.Date), Cells: []WeekCell{}}
		if o := owners[id]; o != nil {
			row.Case, row.Owner = o.ID, o.Last().Owner
		}
		for i, x := range cells {
			row.Cells = append(row.Cells, WeekCell{Sessions: x.Sessions, Minutes: x.Minutes, On: x.On, Unmet: x.Unmet(c.Weeks[i]), Reason: x.Reason, Kinds: g.kindWords(x.ByKind)})
		}
		out.Rows = append(out.Rows, row)
	}
	slices.SortFunc(out.Rows, func(a, b WeekRow) int {
		last := func(r WeekRow) WeekCell { return r.Cells[len(r.Cells)-1] }
		return cmp.Or(rank(last(a))-rank(last(b)), cmp.Compare(a.Student.Sorted, b.Student.Sorted), cmp.Compare(a.Student.ID, b.Student.ID))
	})
	last := c.Totals[len(c.Totals)-1]
	for _, w := range g.words.List(caseload.Kinds) {
		if n := last.ByKind[int(w.ID)]; n.Sessions > 0 {
			out.ByKind = append(out.ByKind, SupportKindCount{w.Name, w.Belongs, n.Sessions, day.Duration(n.Minutes)})
		}
	}
}

// rank orders the rows: whom nobody met first.
func rank(c WeekCell) int {
	switch {
	case c.Unmet:
		return 0
	case c.On && c.Sessions == 0:
		return 1
	case c.On:
		return 2
	}
	return 3
}

func (g *gathered) kindWords(by map[int]support.Count) string {
	var out []string
	for _, w := range g.words.List(caseload.Kinds) {
		if n := by[int(w.ID)]; n.Sessions > 0 {
			out = append(out, fmt.Sprintf("%s %d, %s", w.Name, n.Sessions, day.Duration(n.Minutes)))
		}
	}
	return strings.Join(out, "; ")
}

// listed adds the sessions of the week looked at, and who leads how much in the weeks shown.
func (g *gathered) listed(shown []support.Week, keep func(ids.Student) bool, out *SupportWeek) {
	this := shown[len(shown)-1]
	place := map[ids.SupportSession]int{}
	type led struct {
		sessions map[ids.SupportSession]bool
		students map[ids.Student]bool
		minutes  int
	}
	leaders := map[string]*led{}
	for _, s := range g.sessions {
		if this.Has(s.Date) && keep(s.StudentID) {
			i, any := place[s.Group]
			if !any {
				i = len(out.Sessions)
				place[s.Group] = i
				out.Sessions = append(out.Sessions, g.sessionView(s))
			}
			v := &out.Sessions[i]
			v.Parts = append(v.Parts, SessionPartView{s.ID, pages.Student(g.v, g.v.School.StudentOf(s.StudentID), s.Date), caseload.Shown(s.Kept, s.OwnNote)})
			v.Seq = max(v.Seq, s.Journal)
		}
		if s.Date < shown[0].Monday || s.Date > g.m.Date || !this.Has(s.Date) && s.Date > this.Monday || !keep(s.StudentID) {
			continue
		}
		l := leaders[s.LedBy]
		if l == nil {
			l = &led{map[ids.SupportSession]bool{}, map[ids.Student]bool{}, 0}
			leaders[s.LedBy] = l
		}
		if !l.sessions[s.Group] {
			l.minutes += s.Minutes
		}
		l.sessions[s.Group], l.students[s.StudentID] = true, true
	}
	for name, l := range leaders {
		out.Leaders = append(out.Leaders, LeaderView{name, len(l.sessions), day.Duration(l.minutes), len(l.students)})
	}
	slices.SortFunc(out.Leaders, func(a, b LeaderView) int {
		return cmp.Or(cmp.Compare(b.Sessions, a.Sessions), cmp.Compare(a.Name, b.Name))
	})
	for i := range out.Sessions {
		slices.SortFunc(out.Sessions[i].Parts, func(a, b SessionPartView) int { return cmp.Compare(a.Student.Sorted, b.Student.Sorted) })
	}
}

// mostRecent bounds how many sessions are offered to be written again, of so many days.
const (
	mostRecent = 6
	recentDays = 60
)

// recent adds the last sessions, one for each company of students and kind, those that the person leads first.
func (g *gathered) recent(out *SupportWeek) {
	groups := map[ids.SupportSession]*SessionView{}
	var order []ids.SupportSession
	for _, s := range slices.Backward(g.sessions) {
		if s.Date < g.m.Date-recentDays || !g.v.School.StudentOf(s.StudentID).EnrolledOn(g.m.Date) {
			continue
		}
		if groups[s.Group] == nil {
			v := g.sessionView(s)
			groups[s.Group], order = &v, append(order, s.Group)
		}
		groups[s.Group].Parts = append(groups[s.Group].Parts, SessionPartView{ID: s.ID, Student: pages.Student(g.v, g.v.School.StudentOf(s.StudentID), g.m.Date)})
	}
	seen := map[string]bool{}
	for _, mine := range []bool{true, false} {
		for _, id := range order {
			v := groups[id]
			slices.SortFunc(v.Parts, func(a, b SessionPartView) int { return cmp.Compare(a.Student.Sorted, b.Student.Sorted) })
			company := fmt.Sprint(v.Kind, v.From, names(v.Parts))
			if (v.Leader == g.p.Account) != mine || seen[company] || len(out.Recent) >= mostRecent {
				continue
			}
			seen[company] = true
			out.Recent = append(out.Recent, *v)
		}
	}
}

func names(parts []SessionPartView) (out []string) {
	for _, p := range parts {
		out = append(out, p.Student.Number)
	}
	return out
}

func (g *gathered) sessionView(s store.SupportSession) SessionView {
	v := SessionView{Group: s.Group, Day: s.Date.String(), Date: s.Date.Spoken(), Minutes: s.Minutes, Kind: s.Kind, KindName: g.words.Name(&s.Kind), LedBy: s.LedBy, Note: caseload.Shown(s.Kept, s.Note), Kept: s.Kept, Parts: []SessionPartView{}, Ahead: s.Date > g.m.Date}
	if s.Minute != nil {
		v.From = s.Minute.String()
	}
	if s.LeaderID != nil {
		v.Leader = *s.LeaderID
	}
	if w := g.words.Of(caseload.Kinds, s.Kind); w != nil {
		v.Belongs = w.Belongs
	}
	return v
}

// KeepWeek writes support by week as a file.
func KeepWeek(ctx context.Context, o *work.Office, p work.Person, asAt, week string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Week(ctx, o, p, asAt, week, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Support by week", About: []string{fmt.Sprintf("Up to the %s, as at %s", strings.ToLower(v.Title[:1])+v.Title[1:], v.Today), work.Join(", ", v.Scope, v.Group), "n: sessions; –: none and no reason; words: the reason that was given", ofStudents, "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "In the hands of", Width: 18}}}
	for _, w := range v.Weeks {
		list.Columns = append(list.Columns, sheet.Column{Heading: w.Monday, Width: 14})
	}
	list.Columns = append(list.Columns, sheet.Column{Heading: "Sessions", Width: 9, Number: true}, sheet.Column{Heading: "Minutes", Width: 9, Number: true})
	for _, r := range v.Rows {
		row := []string{r.Student.Name, r.Student.Number, r.Student.Form, r.Owner}
		sessions, minutes := 0, 0
		for _, c := range r.Cells {
			sessions, minutes = sessions+c.Sessions, minutes+c.Minutes
			switch {
			case c.Sessions > 0:
				row = append(row, strconv.Itoa(c.Sessions))
			case c.Reason != "":
				row = append(row, c.Reason)
			case c.Unmet:
				row = append(row, "–")
			default:
				row = append(row, "")
			}
		}
		list.Rows = append(list.Rows, append(row, strconv.Itoa(sessions), strconv.Itoa(minutes)))
	}
	return pages.ListFile("support-"+v.Week, list, format)
}

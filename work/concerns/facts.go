package concerns

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/outlook"
	"meldung/core/policy"
	"meldung/core/results"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/coursework"
	"meldung/work/incidents"
	"meldung/work/outlooks"
)

// School is a section's school year with its facts.
type School struct {
	*attention.School
	Section work.Section
	IDs     []ids.Student // by place in the ledger
	Follows []string      // tables from which the facts follow

	Outlook     *outlooks.Model // nil where the school uses none
	OutlookRule outlooks.OutlookRule
	ReviewDays  []int // the school days of its reviews, and the last

	inputs func(i int) func(d int) []outlook.Value // of the outlook: of a student, as at a school day
}

// tables are those that facts are made of; today's are those that change all day, and are read of a day that
// is over.
var (
	tables = []string{work.PastMarks, "student_list", "student_list_member", "followup", "incident", "incident_version", "incident_person", "conduct_word",
		"result", "result_rule", "result_period", "graded_course", "line_item", "item_score", "own_field", "own_value", "learning_activity", "support_session", "session_version", "support_word", "outlook_history", "review", "setting"}
	today = []string{"mark", "movement", "call"}
)

// Read returns the facts of the sections of a scope as at a moment; those of which no school day is over yet
// are left out. While the day of the moment is not over, it is not judged; what is on record of today beside
// marks counts with the last that is.
func Read(ctx context.Context, v work.Snapshot, m work.Moment) ([]*School, error) {
	var out []*School
	calendars := false
	for _, section := range v.In(m.Scope) {
		if section.Ledger == nil {
			continue
		}
		calendars = true
		last := section.Calendar.EndedBy(m.Date, m.Minute)
		if last < 0 {
			continue
		}
		to := section.Calendar.Day(last).Date
		if m.Date == section.Now.Date() && m.Live {
			to = m.Date
		}
		follows := tables
		if to == section.Now.Date() {
			follows = append(slices.Clone(tables), today...)
		}
		one, err := work.Remember(section.Snapshot, fmt.Sprint("facts ", section.ID, m.Date, last, to), follows, func() (*School, error) {
			one, err := read(ctx, section, m.Date, to, last)
			if err == nil {
				one.Follows = follows
			}
			return one, err
		})
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	if !calendars {
		return nil, work.NoCalendar()
	}
	return out, nil
}

func read(ctx context.Context, v work.Section, on, to day.Date, last int) (*School, error) {
	from := v.Calendar.Day(0).Date
	list, err := v.PoliciesOn(on)
	if err != nil {
		return nil, err
	}
	policies := map[string]*policy.Policy{}
	for _, p := range list {
		policies[p.ID] = p
	}
	s := &School{Section: v}
	g := &gathering{v: v, on: on, from: from, to: to, facts: make([]attention.Facts, v.Ledger.Len()), first: map[attention.Source]day.Date{}}
	for i, st := range v.Students {
		s.IDs = append(s.IDs, st.ID)
		g.student(i, st)
	}
	for _, step := range []func(context.Context) error{g.lists, g.arrivals, g.incidents, g.contacts, g.sessions, g.results, g.items, g.fields, g.activity} {
		if err := step(ctx); err != nil {
			return nil, err
		}
	}
	for i := range g.facts {
		g.facts[i].CountWith(v.Calendar.Day(last).Date)
	}
	for source, first := range g.first {
		g.first[source] = min(first, v.Calendar.Day(last).Date)
	}
	s.School = attention.NewSchool(v.Ledger, policies, g.facts, g.first, last)
	return s, s.foresee(ctx, on)
}

// foresee adds what the outlook says of each student at each review, and now, where the school uses it.
func (s *School) foresee(ctx context.Context, on day.Date) error {
	m, rule, err := outlooks.Held(ctx, s.Section.Snapshot)
	if err != nil || m == nil {
		return err
	}
	if s.Outlook, err = m.For(ctx, s.Section, on); err != nil {
		return err
	}
	s.OutlookRule = rule
	rows, err := store.Reviews(ctx, s.Section.Store(), s.Section.Now)
	if err != nil {
		return err
	}
	for _, r := range rows {
		if d, ok := s.Section.Calendar.Index(r.AsAt); ok && r.SectionID == s.Section.ID && d < s.Upto {
			s.ReviewDays = append(s.ReviewDays, d)
		}
	}
	slices.Sort(s.ReviewDays)
	s.ReviewDays = append(s.ReviewDays, s.Upto)
	s.inputs = s.Outlook.Reader(s.School)
	for i := range s.Students {
		at := s.inputs(i)
		for _, d := range s.ReviewDays {
			p := s.Outlook.Of(at(d)).Probability
			s.Students[i].Outlooks = append(s.Students[i].Outlooks, attention.Field{From: s.Date(d), Value: attention.Value{Kind: attention.Number, Num: int64(math.Round(p * parts)), Den: parts}})
		}
	}
	return nil
}

// parts is to how many parts a probability is kept for rules.
const parts = 1_000_000

// gathering puts the facts of a section together, up to a date.
type gathering struct {
	v            work.Section
	on, from, to day.Date
	facts        []attention.Facts
	first        map[attention.Source]day.Date
}

// of returns the facts of a student of the section; nil for another's.
func (g *gathering) of(id ids.Student) *attention.Facts {
	if i := g.v.Place(id); i >= 0 {
		return &g.facts[i]
	}
	return nil
}

func (g *gathering) began(source attention.Source, on day.Date) {
	if first, any := g.first[source]; !any || on < first {
		g.first[source] = on
	}
}

func (g *gathering) student(i int, s store.Student) {
	f := &g.facts[i]
	f.Year, f.Form = s.Year, g.v.School.Form(s.ID, g.on)
	f.OnPlan = s.ShareHere != "1" || g.v.School.ScheduleOf(s.ID, g.on) != nil
	for _, e := range g.v.School.EnrollmentsOf(s.ID) {
		if class, ok := g.v.School.Class(e.ClassID); ok && e.On(g.on) && !class.Form() {
			f.Classes = append(f.Classes, class.Title)
		}
	}
}

// lists are those that are shared: a rule is everybody's.
func (g *gathering) lists(ctx context.Context) error {
	lists, err := store.StudentLists(ctx, g.v.Store())
	if err != nil {
		return err
	}
	name := map[ids.StudentList]string{}
	for _, l := range lists {
		if l.Shared {
			name[l.ID] = l.Name
		}
	}
	members, err := store.ListMembers(ctx, g.v.Store())
	for _, m := range members {
		if f := g.of(m.StudentID); f != nil && name[m.ListID] != "" {
			f.Lists = append(f.Lists, name[m.ListID])
		}
	}
	return err
}

func (g *gathering) arrivals(ctx context.Context) error {
	rows, err := store.Arrivals(ctx, g.v.Store(), g.from, g.to)
	for _, r := range rows {
		if f := g.of(r.StudentID); f != nil {
			f.Arrivals = append(f.Arrivals, r.Date)
		}
	}
	return err
}

func (g *gathering) incidents(ctx context.Context) error {
	told, err := incidents.Between(ctx, g.v.Snapshot, g.from, g.to)
	if err != nil {
		return err
	}
	lists, err := incidents.ReadLists(ctx, g.v.Store())
	for _, t := range told {
		g.began(attention.FromIncidents, t.Date)
		for _, p := range t.People {
			if f := g.of(p.Student); f != nil {
				f.Incidents = append(f.Incidents, attention.Incident{Date: t.Date, Kind: lists.Name(t.Kind), Place: lists.Name(t.Place), Role: string(p.Role)})
			}
		}
	}
	return err
}

func (g *gathering) contacts(ctx context.Context) error {
	rows, err := store.Reached(ctx, g.v.Store(), g.to)
	for _, r := range rows {
		g.began(attention.FromContacts, r.Date)
		if f := g.of(r.StudentID); f != nil {
			f.Contacts = append(f.Contacts, attention.Dated{Date: r.Date, What: r.With})
		}
	}
	return err
}

// sessions are those of support that were held.
func (g *gathering) sessions(ctx context.Context) error {
	words, err := caseload.Words(ctx, g.v.Store())
	if err != nil {
		return err
	}
	rows, err := store.SupportSessions(ctx, g.v.Store(), day.NoStart, g.v.Now)
	for _, r := range rows {
		if r.Date > g.to {
			continue
		}
		g.began(attention.FromSessions, r.Date)
		if f := g.of(r.StudentID); f != nil {
			f.Sessions = append(f.Sessions, attention.Dated{Date: r.Date, What: words.Name(&r.Kind)})
		}
	}
	return err
}

// fields are what own fields held from each date on.
func (g *gathering) fields(ctx context.Context) error {
	list, err := store.OwnFields(ctx, g.v.Store())
	if err != nil {
		return err
	}
	name := map[ids.OwnField]string{}
	for _, f := range list {
		name[f.ID] = f.Name
	}
	values, err := store.OwnValuesOver(ctx, g.v.Store())
	for _, x := range values {
		f := g.of(x.StudentID)
		if f == nil || x.Known.Date() > g.to {
			continue
		}
		if f.Fields == nil {
			f.Fields = map[string][]attention.Field{}
		}
		held := append(f.Fields[name[x.FieldID]], attention.Field{From: x.Known.Date(), Value: attention.WordOf(x.Value)})
		if x.EndedAt != nil && x.EndedAt.Date() <= g.to {
			held = append(held, attention.Field{From: x.EndedAt.Date()})
		}
		f.Fields[name[x.FieldID]] = held
		if n, wrong := attention.ParseValue(x.Value, attention.AtLeast); wrong == nil && strings.EqualFold(name[x.FieldID], changesField) {
			f.Changes = n
		}
	}
	return err
}

// The own fields that say how often a student has changed school, and how many years they have spent in this stage
// of it.
const (
	changesField = "changes of school"
	stageField   = "years in this stage"
)

// InStage is how many years a student has spent in this stage of school; empty where nobody knows.
func (s *School) InStage(id ids.Student) string {
	i := s.Section.Place(id)
	if i < 0 {
		return ""
	}
	for name, held := range s.Students[i].Fields {
		if strings.EqualFold(name, stageField) && len(held) > 0 {
			return held[len(held)-1].Value.Word
		}
	}
	return ""
}

// activity is what learning platforms and the library know.
func (g *gathering) activity(ctx context.Context) error {
	rows, err := store.LearningActivities(ctx, g.v.Store(), g.to)
	for _, r := range rows {
		f := g.of(r.StudentID)
		if f == nil {
			continue
		}
		if !slices.Contains(f.Known, r.Source) {
			f.Known = append(f.Known, r.Source)
		}
		if r.At != nil {
			f.Activity = append(f.Activity, attention.Dated{Date: r.At.Date(), What: r.Source})
		}
	}
	return err
}

// results take longest to put together and change seldom: they are kept apart from the rest.
func (g *gathering) results(ctx context.Context) error {
	history, err := work.Remember(g.v.Snapshot, fmt.Sprint("results from ", g.from, " to ", g.to), []string{"result", "result_rule", "result_period", "graded_course"}, func() (map[ids.Student][]attention.Results, error) {
		return coursework.History(ctx, g.v.Snapshot, g.from, g.to)
	})
	for id, list := range history {
		if f := g.of(id); f != nil {
			f.Results = slices.Clone(list)
		}
	}
	return err
}

func (g *gathering) items(ctx context.Context) error {
	all, err := work.Remember(g.v.Snapshot, fmt.Sprint("shares of pieces of work ", g.v.ID, " ", g.to), []string{"line_item", "item_score"}, func() ([][]attention.Item, error) {
		var out [][]attention.Item
		for _, s := range g.v.Students {
			list, err := coursework.Pieces(ctx, g.v.Snapshot, s.ID, g.to)
			if err != nil {
				return nil, err
			}
			out = append(out, g.sharesOf(list))
		}
		return out, nil
	})
	for i, list := range all {
		g.facts[i].Items = slices.Clone(list)
	}
	return err
}

// sharesOf are shares of pieces of work: never from the day on which one is due, the share from that on which
// it is known.
func (g *gathering) sharesOf(list []coursework.Piece) []attention.Item {
	var out []attention.Item
	for _, p := range list {
		class, _ := g.v.School.Class(p.Item.ClassID)
		one := attention.Item{Class: class.Title, Title: p.Item.Title}
		late := p.Item.Due != nil && *p.Item.Due <= g.to && (p.Score == nil || p.Score.Date > *p.Item.Due)
		if late && p.State != results.ItemExempt {
			one.From, one.Share = *p.Item.Due, attention.Value{Kind: attention.Never}
			out = append(out, one)
		}
		if p.Share != nil {
			one.From, one.Share = p.Score.Date, attention.NumberOf(*p.Share)
			out = append(out, one)
		}
	}
	slices.SortStableFunc(out, func(a, b attention.Item) int { return int(a.From - b.From) })
	return out
}

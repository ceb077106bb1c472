package paperpage

import (
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/files/paper"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/paperlists"
)

// FieldRef is something that a column can hold, or that rows are ordered or grouped by.
type FieldRef struct {
	ID      string    `json:"id"`
	Label   string    `json:"label"`
	Of      string    `json:"of" doc:"Under what it is found"`
	Heading string    `json:"heading"`
	Width   int       `json:"width"`
	Kind    FieldKind `json:"kind" enum:",number,share,date,write,tick,photo"`
}

// PaperRef is a list that somebody has.
type PaperRef struct {
	ID       ids.PaperList `json:"id"`
	Name     string        `json:"name"`
	Own      bool          `json:"own"`
	By       string        `json:"by" doc:"Who shaped it last, and when"`
	Versions int           `json:"versions"`
	With     []string      `json:"with" doc:"The colleagues it is shared with, by name"`
	Plans    []PaperPlan   `json:"plans" doc:"Of an own one: when it is made without being asked for"`
	Readers  []ids.Account `json:"readers" doc:"Of an own one: the colleagues it is shared with"`
}

// ReadyPaper is a list to start from.
type ReadyPaper struct {
	ID    string           `json:"id"`
	Name  string           `json:"name"`
	About string           `json:"about"`
	Setup paperlists.Setup `json:"setup"`
}

// LabelRef is a sheet of labels.
type LabelRef struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Count int    `json:"count" doc:"Labels on a sheet"`
}

// AccountRef is an account by name.
type AccountRef struct {
	ID   ids.Account `json:"id"`
	Name string      `json:"name"`
}

// PapersView is all that lists are shaped from.
type PapersView struct {
	Lists      []PaperRef     `json:"lists" doc:"The own, then those that others share"`
	Ready      []ReadyPaper   `json:"ready"`
	Fields     []FieldRef     `json:"fields"`
	Groups     []pages.Choice `json:"groups"`
	Labels     []LabelRef     `json:"labels"`
	Colleagues []AccountRef   `json:"colleagues" doc:"With whom a list can be shared"`
	Jobs       []PaperJobView `json:"jobs" doc:"What was put on its way to the printer or by e-mail lately, the last first"`
	Self       AccountRef     `json:"self" doc:"The person"`
	HandOut    bool           `json:"handOut" doc:"The person may print what tells a class how to check in"`
}

// Papers shows what lists a person has and can make.
func Papers(ctx context.Context, o *work.Office, p work.Person, printer Printer, asAt string, of ...ids.Section) (PapersView, error) {
	out := PapersView{Self: AccountRef{p.Account, p.Name}, HandOut: p.May(work.MaySeeHandOut), Jobs: []PaperJobView{}, Lists: []PaperRef{}, Ready: []ReadyPaper{}, Fields: []FieldRef{}, Groups: []pages.Choice{}, Labels: []LabelRef{}, Colleagues: []AccountRef{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		fields, err := fieldsFor(ctx, v, p)
		if err != nil {
			return err
		}
		for _, f := range fields {
			out.Fields = append(out.Fields, FieldRef{f.id, f.label, f.of, f.heading, f.width, f.kind})
		}
		trips, err := pages.TripGroups(ctx, v, p, m.Date)
		if err != nil {
			return err
		}
		found, err := pages.ConcernGroups(ctx, v, p)
		if err != nil {
			return err
		}
		out.Groups = slices.Concat(pages.GroupChoices(v, m.Scope), trips, found)
		for _, r := range ready {
			if !slices.ContainsFunc(r.Setup.Columns, func(c paperlists.PaperListColumn) bool {
				return !slices.ContainsFunc(fields, func(f field) bool { return f.id == c.Field })
			}) {
				out.Ready = append(out.Ready, r)
			}
		}
		lists, err := paperlists.Of(ctx, v.Store(), p)
		if err != nil {
			return err
		}
		plans, err := plansOf(ctx, v, p)
		if err != nil {
			return err
		}
		for _, l := range lists {
			one := paperRef(l, m)
			one.Plans = append(one.Plans, plans[l.ID]...)
			out.Lists = append(out.Lists, one)
		}
		if out.Jobs, err = jobsOf(ctx, v, p, printer); err != nil {
			return err
		}
		colleagues, err := paperlists.Colleagues(ctx, v.Store(), p)
		for _, a := range colleagues {
			out.Colleagues = append(out.Colleagues, AccountRef{a.ID, a.Name})
		}
		return err
	})
	for _, l := range paper.LabelSheets {
		out.Labels = append(out.Labels, LabelRef{l.ID, l.Title(), l.Across * l.Down})
	}
	return out, err
}

func paperRef(l paperlists.Offered, m work.Moment) PaperRef {
	one := PaperRef{ID: l.ID, Name: l.Name, Own: l.Own, By: work.Join(", ", l.By, pages.SpokenAt(l.Known, m.Date)), Versions: l.Versions, With: []string{}, Plans: []PaperPlan{}, Readers: []ids.Account{}}
	for _, r := range l.Readers {
		one.With = append(one.With, r.Name)
		if l.Own {
			one.Readers = append(one.Readers, r.AccountID)
		}
	}
	return one
}

// PaperPast is how a list was shaped at some time.
type PaperPast struct {
	By    string           `json:"by" doc:"Who saved it, and when"`
	Setup paperlists.Setup `json:"setup"`
}

// PaperView is one list with its versions.
type PaperView struct {
	PaperRef
	Setup    paperlists.Setup `json:"setup"`
	Seen     ids.Entry        `json:"seen" doc:"To send along with a further version"`
	Versions []PaperPast      `json:"past" doc:"Those before, the last first"`
}

// OnePaper shows a list to whom it belongs or is shared with.
func OnePaper(ctx context.Context, o *work.Office, p work.Person, id ids.PaperList) (PaperView, error) {
	out := PaperView{Versions: []PaperPast{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		l, setup, err := paperlists.One(ctx, v.Store(), p, id)
		if err != nil {
			return err
		}
		out.PaperRef, out.Setup, out.Seen = paperRef(l, v.Moment()), setup, l.Journal
		versions, err := store.PaperVersions(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		for n, x := range versions {
			was, err := paperlists.Read(x.Setup)
			if err != nil {
				return err
			}
			if n > 0 {
				out.Versions = append(out.Versions, PaperPast{work.Join(", ", x.By, pages.SpokenAt(x.Known, v.Now.Date())), was})
			}
		}
		return nil
	})
	return out, err
}

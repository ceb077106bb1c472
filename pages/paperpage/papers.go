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
}

// Papers shows what lists a person has and can make.
func Papers(ctx context.Context, o *work.Office, p work.Person, asAt string, of ...ids.Section) (PapersView, error) {
	out := PapersView{Lists: []PaperRef{}, Ready: []ReadyPaper{}, Fields: []FieldRef{}, Groups: []pages.Choice{}, Labels: []LabelRef{}, Colleagues: []AccountRef{}}
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
		out.Groups = append(pages.GroupChoices(v, m.Scope), trips...)
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
		for _, l := range lists {
			out.Lists = append(out.Lists, paperRef(l, m))
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
	one := PaperRef{ID: l.ID, Name: l.Name, Own: l.Own, By: work.Join(", ", l.By, pages.SpokenAt(l.Known, m.Date)), Versions: l.Versions, With: []string{}}
	for _, r := range l.Readers {
		one.With = append(one.With, r.Name)
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
	Readers  []ids.Account    `json:"readers"`
	Versions []PaperPast      `json:"past" doc:"Those before, the last first"`
}

// OnePaper shows a list to whom it belongs or is shared with.
func OnePaper(ctx context.Context, o *work.Office, p work.Person, id ids.PaperList) (PaperView, error) {
	out := PaperView{Readers: []ids.Account{}, Versions: []PaperPast{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		l, setup, err := paperlists.One(ctx, v.Store(), p, id)
		if err != nil {
			return err
		}
		out.PaperRef, out.Setup, out.Seen = paperRef(l, v.Moment()), setup, l.Journal
		for _, r := range l.Readers {
			out.Readers = append(out.Readers, r.AccountID)
		}
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

func columns(list ...paperlists.PaperListColumn) []paperlists.PaperListColumn { return list }

// ready are lists to start from.
var ready = []ReadyPaper{
	{"emergency", "Emergency call sheet", "Every student with all contacts in the order of calling, a form on a page", shaped(paperlists.Setup{
		Title: "Emergency call sheet", Shade: true, Points: 8, Group: "form", NewPage: true, Order: []paperlists.Order{{Field: "sorted"}},
		Columns: columns(paperlists.PaperListColumn{Field: "tick", Width: 8}, paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 40}, paperlists.PaperListColumn{Field: "number", Heading: "Number", Width: 16}, paperlists.PaperListColumn{Field: "contacts", Heading: "Contacts, in the order of calling", Width: 84}, paperlists.PaperListColumn{Field: "warnings", Heading: "To know", Width: 44})})},
	{"outing", "Outing", "Emergency contacts, what to know of each, who leads; boxes for out and back", shaped(paperlists.Setup{
		Title: "Outing to …", Above: "Leader: …   Phone: …\nLeaves at …, back at …", Order: []paperlists.Order{{Field: "sorted"}}, Sign: []string{"Leader", "Date"}, Points: 9,
		Columns: columns(paperlists.PaperListColumn{Field: "tick", Heading: "Out", Width: 11}, paperlists.PaperListColumn{Field: "tick", Heading: "Back", Width: 12}, paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 40}, paperlists.PaperListColumn{Field: "form", Heading: "Form", Width: 20}, paperlists.PaperListColumn{Field: "contact:1:name, relation and phone", Heading: "Contact", Width: 46}, paperlists.PaperListColumn{Field: "contact:2:name, relation and phone", Heading: "Next contact", Width: 46}, paperlists.PaperListColumn{Field: "warnings", Heading: "To know", Width: 40})})},
	{"cover", "Register for cover", "Boxes to tick, what is known already, lines to sign: entered afterwards under Registers", shaped(paperlists.Setup{
		Title: "Register of …", Above: "Slot: …   Room: …", Order: []paperlists.Order{{Field: "sorted"}}, Sign: []string{"Taken by", "Signature", "Date"}, Points: 10,
		Columns: columns(paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 48}, paperlists.PaperListColumn{Field: "number", Heading: "Number", Width: 18}, paperlists.PaperListColumn{Field: "tick", Heading: "Here", Width: 11}, paperlists.PaperListColumn{Field: "tick", Heading: "Absent", Width: 14}, paperlists.PaperListColumn{Field: "write", Heading: "Came at", Width: 22}, paperlists.PaperListColumn{Field: "where", Heading: "Known already", Width: 54})})},
	{"class", "Class list", "Names with empty columns", shaped(paperlists.Setup{
		Title: "Class list", Order: []paperlists.Order{{Field: "sorted"}}, Points: 10,
		Columns: columns(paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 52}, paperlists.PaperListColumn{Field: "form", Heading: "Form", Width: 24}, paperlists.PaperListColumn{Field: "write", Width: 26}, paperlists.PaperListColumn{Field: "write", Width: 26}, paperlists.PaperListColumn{Field: "write", Width: 26}, paperlists.PaperListColumn{Field: "write", Width: 26})})},
	{"birthdays", "Birthdays", "By month and day", shaped(paperlists.Setup{
		Title: "Birthdays", Order: []paperlists.Order{{Field: "birthday"}, {Field: "sorted"}}, Group: "month", Points: 9,
		Columns: columns(paperlists.PaperListColumn{Field: "birthday", Heading: "Birthday", Width: 30}, paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 54}, paperlists.PaperListColumn{Field: "form", Heading: "Form", Width: 26}, paperlists.PaperListColumn{Field: "born", Heading: "Born", Width: 36})})},
	{"photos", "Photo sheet", "Each student with the photo on file", shaped(paperlists.Setup{
		Title: "Photo sheet", Order: []paperlists.Order{{Field: "sorted"}}, Points: 11,
		Columns: columns(paperlists.PaperListColumn{Field: "photo", Width: 24}, paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 60}, paperlists.PaperListColumn{Field: "form", Heading: "Form", Width: 30}, paperlists.PaperListColumn{Field: "write", Width: 70})})},
	{"ferries", "By ferry", "Who comes with which, with a phone to ring", shaped(paperlists.Setup{
		Title: "By ferry", Order: []paperlists.Order{{Field: "sorted"}}, Group: "travels", NewPage: true, Shade: true, Points: 9,
		Columns: columns(paperlists.PaperListColumn{Field: "tick", Width: 8}, paperlists.PaperListColumn{Field: "sorted", Heading: "Name", Width: 50}, paperlists.PaperListColumn{Field: "form", Heading: "Form", Width: 24}, paperlists.PaperListColumn{Field: "year", Heading: "Year", Width: 12}, paperlists.PaperListColumn{Field: "contact:1:name, relation and phone", Heading: "Contact", Width: 70})})},
	{"labels", "Address labels", "One to each home", shaped(paperlists.Setup{
		Title: "Address labels", Kind: "labels", Labels: "3x8", Points: 9, Order: []paperlists.Order{{Field: "sorted"}},
		Columns: columns(paperlists.PaperListColumn{Field: "home-names", Heading: "To", Width: 46}, paperlists.PaperListColumn{Field: "home-address", Heading: "Address", Width: 46})})},
}

// shaped fills in what a list has where nothing is said.
func shaped(s paperlists.Setup) paperlists.Setup {
	if s.Kind == "" {
		s.Kind = "table"
	}
	if s.Sign == nil {
		s.Sign = []string{}
	}
	s.Extra, s.Without = []ids.Student{}, []ids.Student{}
	return s
}

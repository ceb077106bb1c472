package paperpage

import (
	"meldung/core/ids"
	"meldung/work/paperlists"
)

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

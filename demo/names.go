package demo

// All names are invented; a likeness to anyone is chance.

var givenNames = []string{
	"Abel", "Ada", "Aksel", "Alma", "Anders", "Anouk", "Arlo", "Asta", "Aud", "Bea", "Birk", "Bram", "Bree", "Britta", "Caspian", "Cato", "Cerys", "Cora",
	"Dag", "Dilys", "Doran", "Edda", "Eira", "Elin", "Elio", "Elsa", "Emrys", "Enna", "Esme", "Faye", "Fenja", "Finn", "Flora", "Freya", "Gale", "Greta",
	"Gwen", "Hale", "Hanna", "Hedda", "Hugo", "Ida", "Idris", "Inga", "Iris", "Isla", "Ivar", "Ivo", "Jago", "Jonas", "Jory", "Juno", "Kai", "Kari",
	"Kerra", "Kit", "Lars", "Leif", "Lior", "Liv", "Lowen", "Luca", "Maja", "Maren", "Mats", "Merryn", "Milo", "Mira", "Morwen", "Nell", "Nils", "Nora",
	"Odd", "Olin", "Orla", "Oscar", "Otis", "Pella", "Perran", "Pia", "Rafe", "Ragna", "Reva", "Rhys", "Roan", "Rowan", "Runa", "Sander", "Senna", "Signe",
	"Silas", "Sol", "Solveig", "Sunniva", "Sven", "Talia", "Tamsin", "Tarn", "Tavi", "Thea", "Tilda", "Tomas", "Tora", "Una", "Vera", "Vidar", "Wenna", "Wilf",
	"Wren", "Yara", "Ylva", "Zelda", "Zuri", "Åsa", "Øyvind", "Zoë", "Élise", "Jürgen", "Łucja", "Søren",
}

var familyNames = []string{
	"Abara", "Aldersey", "Arkady", "Aske", "Aune", "Bankfoot", "Barrowby", "Bellweather", "Birkhall", "Brandt", "Breck", "Brennick", "Brightwater", "Calloway",
	"Carrick", "Castell", "Chandler", "Clewline", "Corrie", "Coldharbour", "Crannock", "Crossby", "Dahl", "Danemark", "Dovetail", "Dray", "Drystone", "Ebbing", "Eddystone",
	"Ellingham", "Farrow", "Fenn", "Fairlie", "Fjeld", "Foss", "Garrick", "Garvock", "Gault", "Glendale", "Grane", "Greave", "Gunnarsen", "Haddock", "Hagarth", "Hallam",
	"Harbottle", "Hask", "Haugen", "Hawser", "Heddle", "Holm", "Holt", "Hythe", "Imrie", "Inchcape", "Isling", "Jarrow", "Jessop", "Keel", "Kelling", "Kestrin",
	"Kirkwall", "Kvale", "Lanyard", "Larksway", "Leck", "Lingard", "Lorne", "Lowther", "Mackrill", "Mallory", "Marrick", "Merganser", "Midship", "Moorhen", "Nærland", "Nairn",
	"Ness", "Norrey", "Nwankwo", "Okoro", "Olin", "Orrery", "Osmund", "Oxley", "Pardoe", "Pell", "Penhallow", "Pesk", "Pinder", "Plover", "Quayle", "Quarrie",
	"Raith", "Ramsden", "Ravn", "Redshank", "Reeve", "Roanoke", "Rook", "Rowse", "Sallow", "Sandvik", "Scarth", "Selkirk", "Shore", "Skerry", "Solheim", "Spindrift",
	"Stell", "Storr", "Strand", "Swale", "Tarbet", "Teasel", "Thorne", "Tideswell", "Tolland", "Torvald", "Tressel", "Tweddle", "Ullock", "Unsworth", "Vangen", "Verrill",
	"Voe", "Wader", "Wake", "Warrick", "Whimbrel", "Wick", "Winch", "Wrack", "Yarrow", "Ythan", "Zeal", "Ågren", "Östman", "Szabłowski", "D’Arcole", "Van der Meulen",
}

var subjects = []struct{ code, title string }{
	{"En", "English"}, {"Ma", "Mathematics"}, {"Sc", "Science"}, {"Ge", "Geography"}, {"Hi", "History"},
	{"La", "Languages"}, {"Ar", "Art"}, {"Mu", "Music"}, {"PE", "Physical education"}, {"Co", "Computing"},
}

// week is the order in which a year group meets its subjects: the six lessons of a Monday,
// of a Tuesday and so on. A year group begins five lessons after the one below, so that six
// of them never need the same teachers at the same time; whichever begins, no subject
// comes twice on a day.
var week = [30]string{
	"Ma", "En", "Sc", "PE", "Hi", "Ge",
	"Ma", "En", "Sc", "La", "Ar", "Ge",
	"Hi", "Co", "Mu", "La", "Sc", "Ma",
	"En", "PE", "Hi", "Ar", "Mu", "Ma",
	"En", "Sc", "La", "PE", "Ge", "Co",
}

var (
	ferries    = []string{"Petrel", "Dunlin", "Skua"}
	formNames  = []string{"Reef", "Bowline", "Cleat", "Halyard"}
	moreForms  = []string{"Sheet", "Shroud", "Hawser", "Fender", "Rudder", "Tiller", "Anchor", "Capstan", "Mast", "Keel", "Spar", "Stay", "Jib", "Boom", "Stern", "Bow"}
	teacherSet = []struct{ given, family string }{
		{"Pirkko", "Osk"}, {"Mads", "Jahn"}, {"Tove", "Rask"}, {"Jarle", "Aune"}, {"Hester", "Quill"}, {"Anselm", "Brook"}, {"Ingrid", "Tarn"}, {"Rufus", "Pike"},
		{"Marit", "Lund"}, {"Cormac", "Hale"}, {"Sanna", "Vik"}, {"Edwin", "Marsh"}, {"Bodil", "Krag"}, {"Tobias", "Fell"}, {"Nessa", "Roe"}, {"Gorm", "Stave"},
		{"Wilma", "Ash"}, {"Petra", "Sund"}, {"Callum", "Rigg"}, {"Dagny", "Moe"}, {"Hector", "Plumb"}, {"Asa", "Lind"}, {"Julian", "Crane"}, {"Rika", "Bolt"},
		{"Osric", "Vane"}, {"Selma", "Dyer"}, {"Magnus", "Thole"}, {"Una", "Weir"}, {"Piers", "Kell"}, {"Tessa", "Hurn"}, {"Ludo", "Sparre"}, {"Nina", "Foyle"},
		{"Bertil", "Ek"}, {"Carys", "Lamb"}, {"Jens", "Bro"}, {"Mabel", "Stoke"}, {"Arne", "Falk"}, {"Sybil", "Grove"}, {"Matthis", "Dorn"}, {"Hilda", "Wray"},
	}
	// upperSet teach in the upper school, with Mads Jahn, and nowhere else: nobody can be on
	// both sides of the harbour within five minutes.
	upperSet = []struct{ given, family string }{
		{"Alva", "Trane"}, {"Corbin", "Steele"}, {"Ylva", "Norr"}, {"Dermot", "Cass"}, {"Signe", "Holme"}, {"Ansel", "Reeve"}, {"Maija", "Kulp"}, {"Tancred", "Bay"},
		{"Effie", "Strang"}, {"Lars", "Ottar"}, {"Greta", "Pole"}, {"Ivo", "Sten"}, {"Noor", "Vesper"}, {"Hal", "Brim"}, {"Runa", "Eide"}, {"Clem", "Ottery"},
	}
	officeSet = []struct{ given, family, role, account string }{
		{"Ruth", "Tolvan", "administrator", "officer"}, {"Disa", "Ase", "administrator", "pastoral"}, {"Lorcan", "Brix", "administrator", "pastoral"},
		{"Maud", "Kersey", "administrator", "desk"}, {"Halvard", "Strom", "administrator", "leader"},
	}
)

package coursespage

import "meldung/pages"

// Ask is what is asked for. What is empty is the last period with grades, everyone, by course.
type Ask struct {
	Period string
	Group  string
	By     string // course, class, area, year, form or leaving
	Column string // of a cell: a period or a half-year
	Name   string // of a cell: its line; empty is everyone
}

// Frame is what stands around every view of the place Courses.
type Frame struct {
	Any     bool           `json:"any" doc:"There are grades"`
	Period  string         `json:"period"`
	Half    string         `json:"half"`
	Periods []pages.Choice `json:"periods"`
	Groups  []pages.Choice `json:"groups"`
	Group   string         `json:"group" doc:"In words; empty for everyone"`
	Own     bool           `json:"own" doc:"Only one's own classes"`
	Rule    string         `json:"rule" doc:"The school's rule by its title"`
	Grades  []string       `json:"grades" doc:"The scale, the best first"`
}

// CoursesView shows who is not on track, and what fails most.
type CoursesView struct {
	Frame
	Of      int           `json:"of" doc:"Students with a course in this half-year"`
	Not     int           `json:"not" doc:"Of them not on track"`
	Before  *int          `json:"before,omitempty" doc:"How many were not, at the end of the period before"`
	Since   string        `json:"since" doc:"The period before"`
	Tracks  []TrackView   `json:"tracks" doc:"One course away first"`
	By      string        `json:"by"`
	Failing []FailingLine `json:"failing" doc:"The largest share first"`
	Ninth   *NinthView    `json:"ninth,omitempty" doc:"The ninth-year rule, where there is somebody of that year"`
}

// TablesView shows what fails in each quarter of a school year, and which credits its half-years lost.
type TablesView struct {
	Frame
	By      string        `json:"by"`
	Columns []TableColumn `json:"columns" doc:"The quarters up to the period, each half-year after its own"`
	Lines   []TableLine   `json:"lines"`
	Whole   TableLine     `json:"whole" doc:"Everyone"`
	Not     []NotCell     `json:"not" doc:"Students not on track at the end of each quarter; nothing under a half-year"`
	Most    float64       `json:"most" doc:"The largest share of a cell, 0 to 1"`
	Note    string        `json:"note" doc:"What is to be known about the lines"`
}

// TableColumn is a quarter or a half-year.
type TableColumn struct {
	Name string `json:"name"`
	Half bool   `json:"half"`
}

// TableLine is a course, a class or a group of students.
type TableLine struct {
	Name  string      `json:"name"`
	Cells []TableCell `json:"cells" doc:"One for each column"`
}

// TableCell counts grades of a quarter, or credits of a half-year.
type TableCell struct {
	Failing int     `json:"failing" doc:"Credits: lost"`
	Nearly  int     `json:"nearly" doc:"Nearly failing; credits: standing lost"`
	Of      int     `json:"of"`
	Part    float64 `json:"part" doc:"Failing or lost of all, 0 to 1"`
	Share   string  `json:"share" doc:"The same in per cent; empty of none"`
	Change  *int    `json:"change,omitempty" doc:"Failing since the period before"`
}

// NotCell counts students not on track.
type NotCell struct {
	Not int `json:"not"`
	Of  int `json:"of"`
}

// CellView shows whose grades or credits a cell counts.
type CellView struct {
	Title    string        `json:"title"`
	Students []CellStudent `json:"students" doc:"Failing or lost first"`
}

// CellStudent is a student's grade or credit in a cell.
type CellStudent struct {
	Student pages.StudentRef `json:"student"`
	Course  string           `json:"course"`
	Grade   string           `json:"grade" doc:"Empty for a credit"`
	Words   string           `json:"words" doc:"How its credit stands"`
	Failing bool             `json:"failing" doc:"Or lost; else nearly, or standing lost"`
}

// CreditsView shows who lost credit, where, and how it can be regained.
type CreditsView struct {
	Frame
	Of     int           `json:"of" doc:"Students on record"`
	Behind int           `json:"behind" doc:"Of them behind what is expected"`
	Lost   int           `json:"lost" doc:"Credits of half-years lost in all, each one"`
	By     []CreditGroup `json:"by" doc:"The fewest credits behind first, then who is on pace in spite of a loss"`
}

// CreditGroup is who is behind by one amount.
type CreditGroup struct {
	Title    string       `json:"title"`
	Students []CreditLine `json:"students"`
}

// CreditLine is a student's credits.
type CreditLine struct {
	Student  pages.StudentRef `json:"student"`
	Earned   string           `json:"earned" doc:"Empty for a teacher, who sees a part"`
	Expected string           `json:"expected" doc:"Empty where nothing is expected"`
	Behind   string           `json:"behind"`
	Lost     []LostCredit     `json:"lost"`
}

// LostCredit is a half-year of a course whose credit is lost.
type LostCredit struct {
	Course string   `json:"course"`
	Half   string   `json:"half"`
	Why    string   `json:"why"`
	Ways   []string `json:"ways" doc:"How it can be regained, what is nearest first"`
}

// OneView shows all of a student's results that a person may see.
type OneView struct {
	Any      bool        `json:"any"`
	Periods  []string    `json:"periods" doc:"Of the school years on record of the student"`
	Courses  []OneCourse `json:"courses"`
	Means    []OneMean   `json:"means" doc:"Mean of the grades' points, one for each period"`
	Change   string      `json:"change" doc:"Of the mean since the period before, with its sign; empty where there is none"`
	Earned   string      `json:"earned" doc:"Credits"`
	Expected string      `json:"expected"`
	Behind   string      `json:"behind"`
	Track    string      `json:"track" doc:"Where the student stands, in words"`
	Ninth    string      `json:"ninth" doc:"The ninth-year rule in words; empty where it does not apply"`
	Own      bool        `json:"own" doc:"Only the courses that one teaches"`
	Pieces   []PieceView `json:"pieces" doc:"Pieces of work by now, what was due last first"`
}

// PieceView is a piece of work as the student stands with it.
type PieceView struct {
	Title    string `json:"title"`
	Class    string `json:"class"`
	Category string `json:"category"`
	Due      string `json:"due" doc:"Empty where nothing says"`
	Points   string `json:"points" doc:"12 of 20; empty while there are none"`
	Share    string `json:"share" doc:"Of the maximum, in per cent"`
	State    string `json:"state" enum:"scored,handed in,never,open,exempt"`
	Comment  string `json:"comment"`
}

// OneCourse is a course with its grades over the periods.
type OneCourse struct {
	Title  string    `json:"title"`
	Grades []OneMark `json:"grades" doc:"One for each period"`
	Halves []OneHalf `json:"halves" doc:"How each half-year's credit stands"`
}

// OneMark is a grade of a period, or its place.
type OneMark struct {
	Grade   string `json:"grade" doc:"Empty where there is none"`
	Failing bool   `json:"failing"`
	Nearly  bool   `json:"nearly"`
}

// OneHalf is how a half-year's credit stands.
type OneHalf struct {
	Half  string `json:"half"`
	State string `json:"state" enum:"earned,recovered,lost,stands_lost,open"`
	Exam  string `json:"exam" doc:"The examination's grade; empty where there is none"`
	Words string `json:"words"`
}

// OneMean is the mean of a period.
type OneMean struct {
	Mean  string  `json:"mean" doc:"With two decimals; empty where there is no grade"`
	Share float64 `json:"share" doc:"Of the most that the scale gives; 0 to 1"`
}

// TrackView is a group of those who are not on track.
type TrackView struct {
	Title    string        `json:"title"`
	Students []StudentLine `json:"students"`
}

// StudentLine is a student who is not on track.
type StudentLine struct {
	Student pages.StudentRef `json:"student"`
	Courses []CourseStrip    `json:"courses"`
	Behind  string           `json:"behind" doc:"Credits behind: on pace, 0.5 behind; empty where nothing is expected"`
	Still   []StillLine      `json:"still" doc:"What would still do it, a course each"`
	Lost    []string         `json:"lost" doc:"Half-years whose credit is lost"`
}

// CourseStrip is a course with its grades of a half-year.
type CourseStrip struct {
	Course int        `json:"course" doc:"Its place in the book"`
	Title  string     `json:"title"`
	Short  string     `json:"short"`
	Parts  []PartMark `json:"parts"`
	State  string     `json:"state" enum:"earned,recovered,lost,stands_lost,open"`
}

// PartMark is a grade of a part, or its place.
type PartMark struct {
	Part    int    `json:"part" doc:"0 and 1 are the quarters, 2 the examination"`
	Name    string `json:"name"`
	Grade   string `json:"grade" doc:"Empty while there is none"`
	Failing bool   `json:"failing"`
	Nearly  bool   `json:"nearly"`
}

// StillLine is what would still earn a credit.
type StillLine struct {
	Course string `json:"course"`
	Words  string `json:"words"`
}

// FailingLine is how many grades of a period fail.
type FailingLine struct {
	Name    string `json:"name"`
	Failing int    `json:"failing"`
	Nearly  int    `json:"nearly"`
	Of      int    `json:"of"`
	Change  *int   `json:"change,omitempty" doc:"Failing since the period before"`
}

// NinthView is how many of the ninth year are on track by the rule.
type NinthView struct {
	OnTrack int            `json:"onTrack"`
	Of      int            `json:"of"`
	Not     []NinthStudent `json:"not"`
	Source  string         `json:"source"`
}

// NinthStudent is who is not on track by the ninth-year rule.
type NinthStudent struct {
	Student pages.StudentRef `json:"student"`
	Words   string           `json:"words"`
}

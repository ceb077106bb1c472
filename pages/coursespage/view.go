package coursespage

import "meldung/pages"

// Ask is what is asked for. What is empty is the last period with grades, everyone, by course.
type Ask struct {
	Period string
	Group  string
	By     string // course, class or area
}

// CoursesView is the place Courses.
type CoursesView struct {
	Any     bool           `json:"any" doc:"There are grades"`
	Period  string         `json:"period"`
	Half    string         `json:"half"`
	Periods []pages.Choice `json:"periods"`
	Groups  []pages.Choice `json:"groups"`
	Group   string         `json:"group" doc:"In words; empty for everyone"`
	Own     bool           `json:"own" doc:"Only one's own classes"`
	Of      int            `json:"of" doc:"Students with a course in this half-year"`
	Not     int            `json:"not" doc:"Of them not on track"`
	Before  *int           `json:"before,omitempty" doc:"How many were not, at the end of the period before"`
	Since   string         `json:"since" doc:"The period before"`
	Tracks  []TrackView    `json:"tracks" doc:"One course away first"`
	By      string         `json:"by" enum:"course,class,area"`
	Failing []FailingLine  `json:"failing" doc:"The largest share first"`
	Ninth   *NinthView     `json:"ninth,omitempty" doc:"The ninth-year rule, where there is somebody of that year"`
	Rule    string         `json:"rule" doc:"The school's rule by its title"`
	Grades  []string       `json:"grades" doc:"The scale, the best first"`
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
	OnTrack int    `json:"onTrack"`
	Of      int    `json:"of"`
	Source  string `json:"source"`
}

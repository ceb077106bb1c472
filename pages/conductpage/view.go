package conductpage

import (
	"meldung/core/ids"
	"meldung/pages"
)

// Ask is which incidents are asked for. What is empty leaves everything in.
type Ask struct {
	From, To   string
	Group      string
	Kinds      []int64 // 0 is not known
	Places     []int64
	Actions    []int64 // 0 is none yet
	Times      []string
	Weekdays   []int
	Roles      []string
	By         []string
	Incomplete bool

	Rows     string // place, weekday or kind
	CellRow  string // of the grid: which incidents are listed
	CellTime string
	Beside   string // the first date of the span beside this one; empty is the days before
}

// ConductView is the place Conduct.
type ConductView struct {
	From     string              `json:"from"`
	To       string              `json:"to"`
	Label    string              `json:"label" doc:"The dates in words"`
	Spans    []pages.Choice      `json:"spans"`
	Groups   []pages.Choice      `json:"groups"`
	Group    string              `json:"group" doc:"The group in words; empty for everyone"`
	Kinds    []ConductWordRef    `json:"kinds" doc:"That can be asked for, in the school's order"`
	Places   []ConductWordRef    `json:"places"`
	Actions  []ConductWordRef    `json:"actions"`
	Times    []pages.Choice      `json:"times"`
	By       []string            `json:"by" doc:"Who has recorded incidents"`
	Grid     ConductGrid         `json:"grid"`
	Rate     ConductRate         `json:"rate"`
	Before   ConductRate         `json:"before" doc:"As many school days beside it"`
	LastYear *ConductRate        `json:"lastYear,omitempty" doc:"The same school days of the year before"`
	Ratio    ConductRatio        `json:"ratio" doc:"This span to the one beside it"`
	Listed   string              `json:"listed" doc:"Which incidents are listed, in words"`
	Found    []IncidentLine      `json:"found" doc:"Newest first, the first 200"`
	Count    int                 `json:"count" doc:"How many are listed in all"`
	ByKind   []ConductBar        `json:"byKind"`
	ByAction []ConductBar        `json:"byAction"`
	Weeks    []ConductWeek       `json:"weeks"`
	Changes  []ConductChangeView `json:"changes" doc:"What the school has changed, the newest first"`
	Open     []IncidentLine      `json:"open" doc:"Incomplete ones of the school year, one's own first"`
	People   []ConductTally      `json:"people" doc:"Who had a part, the most first"`
}

// ConductWordRef is a word of the school's lists.
type ConductWordRef struct {
	ID      ids.ConductWord `json:"id"`
	Name    string          `json:"name"`
	Retired bool            `json:"retired"`
}

// ConductGrid is places, weekdays or kinds × times.
type ConductGrid struct {
	By      string          `json:"by" enum:"place,weekday,kind"`
	Columns []ConductColumn `json:"columns"`
	Rows    []ConductRow    `json:"rows"`
	Sums    []int           `json:"sums"`
	All     int             `json:"all"`
	Most    int             `json:"most" doc:"The largest cell"`
}

// ConductColumn is a time of the day.
type ConductColumn struct {
	Time  string `json:"time"`
	Name  string `json:"name"`
	Short string `json:"short"`
}

// ConductRow is a row of the grid.
type ConductRow struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Cells []int  `json:"cells"`
	Sum   int    `json:"sum"`
}

// ConductRate is how often something happened in a span.
type ConductRate struct {
	From       string `json:"from"`
	To         string `json:"to"`
	Label      string `json:"label"`
	Days       int    `json:"days" doc:"School days"`
	Incidents  int    `json:"incidents"`
	PerHundred string `json:"perHundred" doc:"For 100 student-days; empty where there are none"`
}

// ConductRatio is how many times as often something happened.
type ConductRatio struct {
	Known   bool    `json:"known"`
	Value   float64 `json:"value" doc:"0 where there was none before"`
	Low     float64 `json:"low"`
	High    float64 `json:"high" doc:"0 where nothing bounds it"`
	Verdict string  `json:"verdict"`
	Words   string  `json:"words"`
}

// ConductBar is how many there were of a kind or action, in both spans.
type ConductBar struct {
	ID       ids.ConductWord `json:"id"`
	Name     string          `json:"name"`
	Count    int             `json:"count"`
	Before   int             `json:"before"`
	LastYear *int            `json:"lastYear,omitempty"`
}

// ConductWeek is a school week of the span.
type ConductWeek struct {
	Monday string `json:"monday"`
	Label  string `json:"label"`
	Days   int    `json:"days"`
	Count  int    `json:"count"`
}

// ConductChangeView is a change with what was found before and after it.
type ConductChangeView struct {
	ID     ids.ConductChange `json:"id"`
	Name   string            `json:"name"`
	Date   string            `json:"date"`
	Label  string            `json:"label"`
	Before ConductRate       `json:"before"`
	After  ConductRate       `json:"after"`
	Ratio  ConductRatio      `json:"ratio"`
}

// IncidentLine is an incident as it is listed.
type IncidentLine struct {
	ID         ids.Incident        `json:"id"`
	Version    ids.IncidentVersion `json:"version"`
	Date       string              `json:"date"`
	Label      string              `json:"label"`
	Time       string              `json:"time" doc:"Empty where it is not known"`
	When       string              `json:"when" doc:"The time of the day by its name"`
	KindID     ids.ConductWord     `json:"kindId"`
	Kind       string              `json:"kind"`
	PlaceID    ids.ConductWord     `json:"placeId"`
	Place      string              `json:"place"`
	People     []IncidentPartView  `json:"people"`
	Text       string              `json:"text"`
	Actions    []ActionView        `json:"actions"`
	RecordedBy string              `json:"recordedBy"`
	Open       []string            `json:"open" doc:"What is not known yet"`
	Own        bool                `json:"own" doc:"Recorded by whoever asks"`
	MayCorrect bool                `json:"mayCorrect"`
}

// IncidentPartView is somebody's part.
type IncidentPartView struct {
	Student ids.Student `json:"student"`
	Name    string      `json:"name"`
	Form    string      `json:"form"`
	Role    string      `json:"role"`
	Sees    bool        `json:"sees" doc:"Whoever asks may open the student's sheet"`
}

// ActionView is something that was done.
type ActionView struct {
	ID   ids.ConductWord `json:"id"`
	Name string          `json:"name"`
	By   string          `json:"by"`
}

// ConductTally is how many incidents a student had a part in.
type ConductTally struct {
	Student pages.StudentRef `json:"student"`
	Count   int              `json:"count"`
	Last    string           `json:"last"`
}

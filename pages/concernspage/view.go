// Package concernspage holds the place Concerns: whom the school's rules find, in the order of the decision to
// be made, what was decided, the reviews there were, and the cases that came of them.
package concernspage

import (
	"meldung/core/ids"
	"meldung/pages"
	"meldung/work/concerns"
)

// ConcernCount is a rule with how many students it finds.
type ConcernCount struct {
	Kind  string `json:"kind" doc:"The rule by its id"`
	Title string `json:"title"`
	Area  string `json:"area" doc:"absence, punctuality, conduct, courses; empty for anything else"`
	N     int    `json:"n"`
}

// FollowupView is the last follow-up of a student.
type FollowupView struct {
	Date    string `json:"date"`
	Outcome string `json:"outcome"`
	Note    string `json:"note"`
	By      string `json:"by"`
	Next    string `json:"next" doc:"Date in words; empty for none"`
	NextDay string `json:"nextDay"`
	Overdue bool   `json:"overdue"`
}

// CaseRef is an open case on a student's row.
type CaseRef struct {
	ID      ids.Case    `json:"id"`
	Owner   string      `json:"owner"`
	OwnerID ids.Account `json:"ownerId"`
	Mine    bool        `json:"mine"`
	Next    string      `json:"next" doc:"Date in words"`
	NextDay string      `json:"nextDay"`
	Overdue bool        `json:"overdue"`
	Text    string      `json:"text" doc:"What was said last; empty for those who may not read it"`
}

// DecisionView is the last decision about a student.
type DecisionView struct {
	Kind  string `json:"kind" enum:"case,wait,none"`
	Words string `json:"words"`
	Text  string `json:"text" doc:"Why; empty for those who may not read it"`
	By    string `json:"by"`
	On    string `json:"on" doc:"Day and time in words"`
	Here  bool   `json:"here" doc:"Decided at the review that is held now"`
	Holds bool   `json:"holds" doc:"Nobody needs to decide again now"`
}

// WordView is what somebody had to say about a student.
type WordView struct {
	Text string `json:"text"`
	By   string `json:"by"`
	On   string `json:"on"`
}

// AreaCount is how many of the rules that find a student are about an area.
type AreaCount struct {
	Area string `json:"area"`
	N    int    `json:"n"`
}

// AreaShare is what an area gives to a chance.
type AreaShare struct {
	Area    string `json:"area"`
	Odds    string `json:"odds" doc:"The factor on the odds beside the mean student, in words"`
	Weight  int    `json:"weight" doc:"Of the strip, in hundredths of the log-odds; below 0 it makes the chance less"`
	Concern bool   `json:"concern" doc:"From here on the school calls an area a concern"`
}

// Chance is what the outlook says of a student.
type Chance struct {
	Text    string      `json:"text" doc:"31 %, or 18 to 39 % where an input is missing"`
	Percent float64     `json:"percent" doc:"0 to 100"`
	Low     float64     `json:"low"`
	High    float64     `json:"high"`
	Missing []string    `json:"missing"`
	Shares  []AreaShare `json:"shares"`
	Moved   string      `json:"moved" enum:"up,down," doc:"Since the review before, beyond noise"`
	Course  []float64   `json:"course" doc:"0 to 100, at the last reviews and now; moves within noise are left out"`
}

// ConcernRow is a student on the review.
type ConcernRow struct {
	Student   pages.StudentRef    `json:"student"`
	InStage   string              `json:"inStage" doc:"Years spent in this stage of school, of an own field of that name; empty where nobody knows, and for teachers"`
	Turn      string              `json:"turn" enum:"new,rising,holding,easing"`
	Due       bool                `json:"due" doc:"A decision is to be made"`
	Gone      bool                `json:"gone" doc:"No rule finds the student any more"`
	Late      bool                `json:"late" doc:"Came to be found after the review had begun"`
	Since     string              `json:"since" doc:"Since when a rule has found the student longest; empty for none"`
	Concerns  []pages.ConcernView `json:"concerns"`
	Areas     []AreaCount         `json:"areas"`
	Before    int                 `json:"before" doc:"How many rules found the student at the review before"`
	Course    []int               `json:"course" doc:"How many rules found the student at the last reviews, the oldest first, and now"`
	Rate      string              `json:"rate" doc:"Per cent of the days missed; empty where nothing was possible"`
	Absent    int                 `json:"absent"`
	Possible  int                 `json:"possible"`
	Unexcused int                 `json:"unexcused"`
	Chance    *Chance             `json:"chance,omitempty" doc:"None where the school uses no outlook, and for teachers"`
	Contacts  []pages.ContactRef  `json:"contacts"`
	Words     []WordView          `json:"words" doc:"Said since the review before"`
	Case      *CaseRef            `json:"case,omitempty"`
	Decision  *DecisionView       `json:"decision,omitempty"`
	Last      *FollowupView       `json:"last,omitempty"`
}

// ReviewNow is the review that is held now.
type ReviewNow struct {
	Date     string              `json:"date" doc:"In words"`
	Day      string              `json:"day" doc:"YYYY-MM-DD"`
	Begun    bool                `json:"begun"`
	Finished string              `json:"finished" doc:"By whom and when, in words; empty while it is not"`
	AsAt     string              `json:"asAt" doc:"The last school day that its figures hold, in words"`
	Before   string              `json:"before" doc:"The review before, in words; empty for none"`
	Next     string              `json:"next" doc:"When the next one is, in words; empty where nothing says so"`
	Of       int                 `json:"of" doc:"Students on it whom a rule finds, or of whom something was said"`
	Due      int                 `json:"due" doc:"Of these still to decide"`
	Deciders []Decider           `json:"deciders" doc:"Who has decided at it, the latest first"`
	Rule     concerns.ReviewRule `json:"rule"`
	RuleText string              `json:"ruleText"`
}

// Decider is somebody who has decided at a review.
type Decider struct {
	By   string `json:"by"`
	N    int    `json:"n"`
	Last string `json:"last" doc:"When last, in words"`
}

// ConcernsView is the Concerns page.
type ConcernsView struct {
	Scope     string           `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	AsAt      string           `json:"asAt"`
	Label     string           `json:"label"`
	Today     string           `json:"today" doc:"The day that is looked at"`
	Group     string           `json:"group" doc:"The group that is asked for, in words; empty for everyone"`
	Groups    []pages.Choice   `json:"groups"`
	Students  int              `json:"students" doc:"On the roll, of the group"`
	Any       int              `json:"any" doc:"Whom any rule finds now"`
	Kinds     []ConcernCount   `json:"kinds"`
	Review    ReviewNow        `json:"review"`
	Chances   string           `json:"chances" doc:"What a chance means; empty where the school uses no outlook, and for teachers"`
	Rows      []ConcernRow     `json:"rows"`
	Outcomes  []string         `json:"outcomes"`
	Owners    []pages.OwnerRef `json:"owners" doc:"In whose hands a case can be"`
	MayDecide bool             `json:"mayDecide"`
	MayTell   bool             `json:"mayTell"`
	MaySet    bool             `json:"maySet" doc:"May say when reviews are"`
}

// Ask is of whom the list is.
type Ask struct {
	Group     string // as pages.GroupOf takes it; empty for everyone
	Rule      string
	Owner     ids.Account // in whose hands
	Undecided bool
}

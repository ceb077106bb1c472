// Package rulespage holds the rules by which a school finds who needs attention: whom each finds now, what
// one would find that is being built, and how it would have done.
package rulespage

import (
	"meldung/pages"
	"meldung/work/concerns"
)

// RulesView is the rules of the school.
type RulesView struct {
	AsAt       string          `json:"asAt" doc:"The last school day that is judged, in words"`
	MayChange  bool            `json:"mayChange"`
	Rules      []RuleLine      `json:"rules"`
	Indicators []IndicatorView `json:"indicators"`
	Choices    RuleChoices     `json:"choices"`
}

// RuleLine is a rule with how many it finds.
type RuleLine struct {
	ID       string `json:"id"`
	Title    string `json:"title"`
	Source   string `json:"source"`
	On       bool   `json:"on"`
	Sentence string `json:"sentence"`
	Problem  string `json:"problem" doc:"Why it can't be judged any more; empty where it can"`
	By       string `json:"by" doc:"Who changed it last; empty for one that ships"`
	N        int    `json:"n"`
	Of       int    `json:"of"`
	Unknown  int    `json:"unknown" doc:"Students of whom it can't be judged"`
}

// IndicatorView is a kind of indicator with what it takes.
type IndicatorView struct {
	ID     string   `json:"id"`
	Title  string   `json:"title"`
	Unit   string   `json:"unit" enum:"share,count,days ago,points,word"`
	Less   bool     `json:"less" doc:"Less is worse"`
	Whole  bool     `json:"whole"`
	Params []string `json:"params"`
}

// RuleChoices are what the pieces of a rule may name.
type RuleChoices struct {
	Policies []pages.Choice `json:"policies"`
	Years    []string       `json:"years"`
	Forms    []string       `json:"forms"`
	Classes  []string       `json:"classes"`
	Lists    []string       `json:"lists"`
	Slots    []string       `json:"slots"`
	Kinds    []string       `json:"kinds"`
	Places   []string       `json:"places"`
	Roles    []string       `json:"roles"`
	Periods  []string       `json:"periods"`
	Items    []string       `json:"items"`
	Sources  []string       `json:"sources" doc:"Of activity on learning platforms"`
	Fields   []string       `json:"fields" doc:"Own fields"`
	Against  []pages.Choice `json:"against" doc:"What a rule can be tried against"`
	Terms    []pages.Choice `json:"terms" doc:"The spans on which it can be tried"`
}

// RuleView is a rule filled in, with its versions.
type RuleView struct {
	Form     concerns.RuleForm `json:"form"`
	Version  int64             `json:"version"`
	Sentence string            `json:"sentence"`
	Versions []RuleVersion     `json:"versions" doc:"The newest first"`
}

// RuleVersion is a version of a rule.
type RuleVersion struct {
	By       string `json:"by"`
	At       string `json:"at"`
	Sentence string `json:"sentence"`
	Until    string `json:"until" doc:"Empty for the one that holds"`

	Form *concerns.RuleForm `json:"form,omitempty" doc:"To begin from it again; none where it can't be read any more"`
}

// RuleFound is whom a rule finds now.
type RuleFound struct {
	Sentence string        `json:"sentence"`
	Problem  string        `json:"problem" doc:"Why it can't be judged; empty where it can"`
	AsAt     string        `json:"asAt"`
	Of       int           `json:"of" doc:"In scope"`
	Students []RuleStudent `json:"students" doc:"Whom it matches, who has stood longest first"`
	Unknown  []RuleStudent `json:"unknown" doc:"Of whom it can't be judged"`
}

// RuleStudent is a student whom a rule finds.
type RuleStudent struct {
	Student pages.StudentRef `json:"student"`
	Since   string           `json:"since" doc:"The first day of the unbroken stretch"`
	Why     string           `json:"why" doc:"The pieces that hold, with their figures"`
}

// RuleTrial is how a rule would have done over a span.
type RuleTrial struct {
	Problem string     `json:"problem"`
	Label   string     `json:"label"`
	Against string     `json:"against" doc:"The outcome, in words"`
	Days    []TrialDay `json:"days"`
	Rule    TrialSums  `json:"rule"`
	Before  *TrialSums `json:"before,omitempty" doc:"The same of the version that holds, where another is tried"`
}

// TrialDay is how many a rule matched on a day.
type TrialDay struct {
	Date   string `json:"date"`
	Label  string `json:"label"`
	N      int    `json:"n"`
	Before *int   `json:"before,omitempty" doc:"By the version that holds"`
}

// TrialSums are the numbers of a trial, each with its students.
type TrialSums struct {
	Of      int            `json:"of"`
	Matched int            `json:"matched" doc:"At some time"`
	Outcome int            `json:"outcome" doc:"Who had the outcome"`
	Found   []TrialStudent `json:"found" doc:"Of these, matched on an earlier day"`
	Missed  []TrialStudent `json:"missed" doc:"Of these, not matched on an earlier day"`
	Alarms  []TrialStudent `json:"alarms" doc:"Matched, and never had the outcome"`
	Back    []TrialStudent `json:"back" doc:"Came back without help"`
	Leads   string         `json:"leads" doc:"How many school days ahead, in words"`
}

// TrialStudent is a student of a trial.
type TrialStudent struct {
	Student pages.StudentRef `json:"student"`
	Words   string           `json:"words" doc:"When matched, when the outcome came"`
}

package policy

import "meldung/core/day"

// Unit is what a policy counts.
type Unit uint8

// The units.
const (
	Day Unit = iota
	Session
	Minutes
)

// String returns the word used in policy files.
func (u Unit) String() string { return []string{"day", "session", "minute"}[u] }

// Basis says what a wholly missed day is charged with.
type Basis uint8

// The bases.
const (
	Scheduled Basis = iota
	FullDay
)

// String returns the word used in policy files.
func (b Basis) String() string { return []string{"scheduled", "full_day"}[b] }

// Band is a named stretch of absence rates. Its lower bound is inclusive and is
// the Below of the band before it.
type Band struct {
	Name  string
	Below *Fraction // nil on the last
}

// Side is a set of the sides of absence that a trigger adds up.
type Side uint8

// The sides; Excused absence is Medical or ExcusedNonmedical.
const (
	SideMedical Side = 1 << iota
	SideExcusedNonmedical
	SideUnexcused
	SideExcused = SideMedical | SideExcusedNonmedical
)

// Count is what a trigger adds up.
type Count uint8

// What a trigger can add up.
const (
	CountMinutes Count = iota
	CountSessions
	CountDays
	CountLates
)

// String returns the word used in policy files.
func (c Count) String() string { return []string{"minutes", "sessions", "days", "lates"}[c] }

// WindowKind is the span over which a trigger adds up.
type WindowKind uint8

// The windows.
const (
	Year WindowKind = iota
	Term
	GradingPeriod
	Month
	FourWeeks
	RollingWeeks
	RollingDays
	Run
)

// Window is a kind with its length where it rolls.
type Window struct {
	Kind WindowKind
	N    int
}

// Trigger is a line that a count reaches.
type Trigger struct {
	ID     string
	Title  string
	Count  Count
	Of     Side
	Reach  int
	Window Window
}

// Scope says what a ladder counts lates by.
type Scope uint8

// The scopes.
const (
	PerClass Scope = iota
	PerSlot
	PerDay
	PerSchool
)

// Step is a rung of a ladder: From to To, inclusive; 0 where open.
type Step struct {
	From, To int
	Do       []string
}

// Ladder answers repeated lateness.
type Ladder struct {
	ID     string
	Title  string
	Per    Scope
	Within WindowKind // Year, Term or GradingPeriod
	Steps  []Step
}

// Policy is how a school measures absence.
type Policy struct {
	ID               string
	Title            string
	Source           string
	Version          string // tells one wording of the policy from another; empty where it was not read
	Codes            *CodeSet
	Unit             Unit
	Basis            Basis
	DayAbsentAt      Fraction
	RegistrationOnly bool
	MinPossible      int
	Threshold        Fraction
	Bands            []Band
	Triggers         []Trigger
	Ladders          []Ladder
	UnexplainedAfter int
}

// CountsSlot reports whether the slot takes part in the policy's figures.
func (p *Policy) CountsSlot(s day.Slot) bool {
	return !p.RegistrationOnly || s.Kind == day.Registration
}

// Band returns the band of a out of n; ok is false without bands, below
// MinPossible and with nothing possible.
func (p *Policy) Band(a, n int) (place int, ok bool) {
	if n == 0 || n < p.MinPossible || len(p.Bands) == 0 {
		return 0, false
	}
	for i, b := range p.Bands {
		if b.Below == nil || b.Below.Cmp(a, n) < 0 {
			return i, true
		}
	}
	return 0, false
}

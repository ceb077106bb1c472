// Package ids holds the numbers by which things are known, a type for each kind, so that one
// can't be taken for another. 0 is none.
package ids

// The kinds of number.
type (
	Section         int64
	Student         int64
	Staff           int64
	Contact         int64
	Class           int64
	Course          int64
	Account         int64
	Entry           int64 // of the journal
	Movement        int64
	Notice          int64
	Activity        int64
	Call            int64
	Search          int64
	Message         int64
	Closing         int64
	Hold            int64
	Fetch           int64
	Pass            int64
	Station         int64
	StandIn         int64
	CheckIn         int64
	Incident        int64
	GradedCourse    int64 // a course with what it counts for
	LineItem        int64 // a piece of work that a class was given
	AttentionRule   int64 // a version of a rule that finds who needs attention
	Review          int64 // of those whom the rules find
	Decision        int64 // at a review
	Case            int64 // a student who is in somebody’s hands
	CaseChange      int64
	ConcernWord     int64 // said for the next review
	OutlookHistory  int64 // a file of past students
	IncidentVersion int64
	ConductChange   int64
	ConductWord     int64 // of a list of kinds, places or actions of incidents
	Followup        int64
	Settled         int64 // a contradiction that stands
	Warning         int64
	Settling        int64 // that somebody knows where a student is
	Visit           int64
	RollCall        int64
	RollTick        int64
	Step            int64 // of a policy, about which something was done
	Template        int64 // of a letter
	LetterText      int64 // a wording of a template
	Letter          int64 // as it was printed
	Closure         int64 // of a date against the calendar
	SavedView       int64 // a page under a name
	OwnField        int64 // a field of the school's own on a student
	StudentList     int64 // students under a name
	SupportWord     int64 // a kind of support session, or how cases end
	CaseStep        int64 // of what is planned in a case
	CaseDocument    int64
	Meeting         int64
	SupportSession  int64 // a student's part in one
	WeekReason      int64
	PaperList       int64 // shaped as it is printed
	PaperPlan       int64 // when a list is made without being asked for
	PaperJob        int64 // a list on its way to the printer or by e-mail
	FormerRecord    int64 // what an earlier school has handed on
	Pin             int64 // a page that somebody has put first
)

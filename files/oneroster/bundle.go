// Package oneroster reads and writes rosters as OneRoster 1.1 CSV (IMS Global,
// "OneRoster Specification v1.1, CSV Tables"; headers from memory). What the
// standard has no field for stands in metadata. columns, which it allows. It knows
// files and references, not what is in the school already.
package oneroster

import "meldung/core/day"

// Org is an organisation.
type Org struct{ ID, Name, Type, Identifier, Parent string }

// Session is an academic session.
type Session struct {
	ID, Title, Type    string
	Start, End         day.Date
	Parent, SchoolYear string
}

// Course is a course.
type Course struct{ ID, Title, Code, Grades, Subject string }

// Class is a class; Type is homeroom or scheduled, School the organisation that it belongs to.
type Class struct {
	ID, Title, Grades, Course, Code, Type, Location, Terms, School string
	Line                                                           int // in classes.csv
}

// Tie is a student's contact, in call order.
type Tie struct {
	Contact                          string
	Relation                         string
	MayCollect, LivesWith, DoNotCall bool
}

// Warning is something to know when dealing with a student.
type Warning struct {
	Text      string
	CareFirst bool
}

// DueSlot is a slot in which a part-time student is due; weekday 0 is every day.
type DueSlot struct {
	Slot    string
	Weekday int
}

// Student is a user with the role student.
type Student struct {
	ID, Number, Given, Family, Middle, Email, Grades string
	Born, Card, Travels                              string
	From, To                                         *day.Date
	ShareHere, ShareElsewhere                        string
	Schedule                                         []DueSlot
	Line                                             int // in users.csv
	Orgs                                             []string
	Warnings                                         []Warning
	Ties                                             []Tie
}

// Contact is a user with the role guardian, parent or relative.
type Contact struct {
	ID, Given, Family, Phone, SMS, Email string
	Address                              string // lines
	Language                             string // empty for the school's own
}

// Staff is a user with the role teacher, administrator, aide or proctor.
type Staff struct {
	ID, Number, Given, Family, Role, Email, Phone string
	Orgs                                          []string
}

// Enrollment is a student's place in a class.
type Enrollment struct {
	ID, Class, Student string
	From, To           *day.Date
}

// Teaching is a teacher's place in a class.
type Teaching struct {
	ID, Class, Staff string
	Primary          bool
	From, To         *day.Date
}

// Bundle is a whole roster.
type Bundle struct {
	Orgs        []Org
	Sessions    []Session
	Courses     []Course
	Classes     []Class
	Students    []Student
	Contacts    []Contact
	Staff       []Staff
	Enrollments []Enrollment
	Teachings   []Teaching
}

// header columns of the standard's files.
var columns = map[string][]string{
	"manifest.csv":         {"propertyName", "value"},
	"orgs.csv":             {"sourcedId", "status", "dateLastModified", "name", "type", "identifier", "parentSourcedId"},
	"academicSessions.csv": {"sourcedId", "status", "dateLastModified", "title", "type", "startDate", "endDate", "parentSourcedId", "schoolYear"},
	"courses.csv":          {"sourcedId", "status", "dateLastModified", "schoolYearSourcedId", "title", "courseCode", "grades", "orgSourcedId", "subjects", "subjectCodes"},
	"classes.csv":          {"sourcedId", "status", "dateLastModified", "title", "grades", "courseSourcedId", "classCode", "classType", "location", "schoolSourcedId", "termSourcedIds", "subjects", "subjectCodes", "periods"},
	"users.csv":            {"sourcedId", "status", "dateLastModified", "enabledUser", "orgSourcedIds", "role", "username", "userIds", "givenName", "familyName", "middleName", "identifier", "email", "sms", "phone", "agentSourcedIds", "grades", "password"},
	"enrollments.csv":      {"sourcedId", "status", "dateLastModified", "classSourcedId", "schoolSourcedId", "userSourcedId", "role", "primary", "beginDate", "endDate"},
	"demographics.csv":     {"sourcedId", "status", "dateLastModified", "birthDate", "sex"},
}

// metadata are the columns of users.csv that the standard has no field for.
// Lists of ids are separated by commas, lists of texts by |.
var metadata = []string{"metadata.callOrder", "metadata.relations", "metadata.mayCollect", "metadata.livesWith", "metadata.doNotCall", "metadata.warnings",
	"metadata.card", "metadata.travels", "metadata.enrolledFrom", "metadata.enrolledTo", "metadata.shareHere", "metadata.shareElsewhere", "metadata.schedule", "metadata.address", "metadata.language"}

// careFirst marks a warning of a student who is rung about first.
const careFirst = "!"

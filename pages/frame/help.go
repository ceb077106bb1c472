package frame

import (
	"strings"
	"sync"

	"meldung/core/ask"
	"meldung/work"
)

// HelpAnswer is a page that answers a question.
type HelpAnswer struct {
	Title  string `json:"title"`
	Answer string `json:"answer" doc:"One sentence"`
	Path   string `json:"path"`
}

// A question is answered with so many pages at most, none of which shares less with it than one telling word.
const (
	mostAnswers = 4
	leastScore  = 1.0
)

// Help answers a question with the pages that do what is asked for, of those that the person sees.
func Help(p work.Person, question string) []HelpAnswer {
	out := []HelpAnswer{}
	for _, f := range helpIndex().Find(strings.TrimLeft(question, "? ")) {
		topic := helpTopics[f.Entry]
		if len(out) < mostAnswers && p.May(topic.needs) && f.Score >= leastScore {
			out = append(out, HelpAnswer{topic.Title, topic.Answer, topic.path})
		}
	}
	return out
}

type helpTopic struct {
	ask.Entry
	path  string
	needs work.Permission
}

var helpIndex = sync.OnceValue(func() *ask.Index {
	entries := make([]ask.Entry, len(helpTopics))
	for i, t := range helpTopics {
		entries[i] = t.Entry
	}
	return ask.New(entries, sameWords)
})

// sameWords mean the same to who asks, the word of the interface first.
var sameWords = []string{
	"student pupil child kid learner children kids",
	"home parent mother father guardian family mum dad carer parents households household",
	"absent absence away missing off attendance truant skipped missed",
	"late lateness tardy lates",
	"call ring phone telephone rung",
	"contact number numbers",
	"register registers",
	"form homeroom tutor class",
	"conduct behaviour incident behavior fight bullying misconduct",
	"grade result course grades results",
	"leave early depart departure leaving collected goes",
	"arrive arrival came come",
	"print paper printed sheet",
	"file export download csv excel spreadsheet",
	"trip outing excursion visit trips",
	"evacuation fire drill emergency alarm evacuate",
	"timetable lesson bell schedule period lessons",
	"calendar holiday closure closed term holidays",
	"account user login password sign",
	"email mail emails",
	"ferry bus boat transport",
	"medical allergy asthma health warning warnings",
	"substitute cover supply stand replacement",
	"case intervention caseload",
	"support mentoring session sessions counselling",
}

func topic(path string, needs work.Permission, title, answer string, asked ...string) helpTopic {
	return helpTopic{ask.Entry{Title: title, Answer: answer, Asked: asked}, path, needs}
}

// helpTopics are what can be asked for.
var helpTopics = []helpTopic{
	topic("/today", work.MaySeeToday, "Today", "The count says where everybody is, and who is unaccounted for.", "where is everybody now", "who is unaccounted for", "who is in school right now", "how many students are in", "is the morning closed"),
	topic("/today", work.MaySeeToday, "Call home", "The list under Today works one home after the other, with numbers in the order of calling.", "whom do I have to call", "homes to call", "call the parents of absent students", "which homes were not reached yet", "log a call"),
	topic("/calls", work.MaySeeCalls, "Call list", "All homes to call with every number, to print or to take along.", "print the list of calls", "phone numbers of everyone who is absent today", "call list of yesterday"),
	topic("/notices", work.MaySeeNotices, "Notices from home", "What homes have said, for today and the days to come.", "who has called in", "who has not called", "absences told in advance", "a home rings in that a child is ill", "students known to be ill"),
	topic("/reasons", work.MaySeeUnexplained, "Reasons overdue", "Absences of the last school days for which nobody has given a reason.", "absences without a reason", "missing notes", "excuse notes still out", "unexplained absence of last week"),
	topic("/contacts", work.MaySeeTasks, "Contacts to correct", "Numbers that were wrong when somebody rang, and students without a contact.", "wrong phone numbers", "students without a contact", "contacts without a number"),
	topic("/outbox", work.MaySeeOutbox, "Outbox", "Texts and e-mails that left, wait or failed.", "did the text message go out", "messages that failed", "failed e-mails", "e-mails sent to homes"),
	topic("/protocol", work.MaySeeProtocol, "Record of the morning", "Registers, calls, who closed safe arrival and when: a page to print and sign.", "who closed safe arrival", "record of what was done this morning", "prove that we rang"),
	topic("/registers", work.MaySeeRegisters, "Registers", "Each class with a slot today, and which registers are still out.", "which registers are still out", "which teacher has not taken the register", "take the register", "remind a teacher", "register of an earlier day", "correct a wrong mark", "fix a mark", "registers missing", "change a register that was sent"),
	topic("/registers", work.MaySeeStandIns, "Cover", "Under Registers: who takes a class today in place of its teacher.", "who covers a class", "a teacher is ill", "substitute teacher"),
	topic("/registers", work.MaySeeCheckIns, "Check-ins of a class", "What students answered when they checked in, by question and student.", "answers of students when they check in", "check in by phone", "all sessions of a course"),
	topic("/desk", work.MaySeeDesk, "Desk", "Who comes late or leaves early: name or card, reason, Enter.", "a student comes late", "a student leaves early", "sign a student out", "sign in at reception", "who left today", "print a pass", "movements of today"),
	topic("/desk", work.MaySeeVisits, "Visitors and staff", "Under Desk: who is in the house besides students.", "sign a visitor in", "visitors in the building", "staff signed in"),
	topic("/pass", work.MaySeePass, "Check a pass", "A pass by its number or code.", "is this pass real", "check a corridor pass"),
	topic("/trips", work.MaySeeTrips, "Trips and visits", "Lists with a leader, from, to, and a register of their own.", "plan a trip", "who is on a trip today", "a trip is late back", "students elsewhere"),
	topic("/roll-call", work.MaySeeRollCall, "Roll call", "Everyone on the premises at this minute, to be ticked by many phones, on paper too.", "evacuation", "fire drill", "who is in the building in an emergency", "tick everyone off"),
	topic("/roll-calls", work.MaySeeRollCalls, "Roll calls of the year", "Drills and real ones with who was found when.", "when was the last drill", "record of fire drills"),
	topic("/absence", work.MaySeeAbsence, "Absence", "Days missed by every student against a policy; each figure opens into its marks.", "how many times absent", "absence of a student", "attendance rate", "chronic absence", "who missed ten per cent", "how many days has a student missed", "excused and unexcused absence", "days until a line is reached"),
	topic("/absence/grid", work.MaySeeGrid, "Attendance grid", "Students by dates or slots with their codes, and what the codes mean.", "table of codes by date", "attendance grid", "marks of a form for a month", "what do the codes mean"),
	topic("/absence/lists", work.MaySeeLists, "Lists of students", "Students kept under a name, your own or shared.", "my own list of students", "keep some students as a group"),
	topic("/absence/steps", work.MaySeeSteps, "Steps due", "What a policy says is to be done now: letters, calls, referrals.", "what is due by policy", "letters to be sent", "who has reached five days", "detention due for lateness", "lates per course", "referral"),
	topic("/absence/letters", work.MaySeeLetters, "Letters", "The school’s letters, written beside a real student’s.", "change the wording of a letter", "letter template", "letter in another language"),
	topic("/absence/beside", work.MaySeeBeside, "Two side by side", "Two groups or two spans of absence beside each other.", "compare two forms", "this month against last month", "attendance compared with last year"),
	topic("/conduct", work.MaySeeConduct, "Conduct", "Incidents by place, time and kind; the ! key notes one.", "note an incident", "write down what happened", "a fight", "where do incidents happen", "incidents of a student", "fights at break"),
	topic("/courses", work.MaySeeCourses, "Courses", "Who is not on track, one course away first, and which courses fail most.", "who is failing", "failing grades", "one course away from being on track", "which courses fail most"),
	topic("/courses?view=credits", work.MaySeeCredits, "Credits", "Credits earned, expected and lost.", "credits lost", "who is behind in credits", "credits earned"),
	topic("/courses?view=tables", work.MaySeeTables, "Courses in tables", "Failing and nearly failing by subject, year and quarter.", "failure by subject", "results by year", "table of grades"),
	topic("/concerns", work.MaySeeConcerns, "Review of concerns", "Students whom rules find, in the order of the decision to be made.", "students at risk", "who needs attention", "next review meeting", "open a case at the review", "who may drop out"),
	topic("/concerns/rules", work.MaySeeRules, "Rules", "The school’s own rules: whom each finds, tried on last term.", "make a rule", "who is matched by a rule", "never logged in", "early warning thresholds"),
	topic("/concerns/reviews", work.MaySeeReviews, "Earlier reviews", "Reviews as they were then.", "what did we decide last time", "minutes of a review"),
	topic("/concerns/outlook", work.MaySeeOutlook, "Outlook", "How well the chance of leaving early has predicted here.", "how good is the prediction", "dropout model", "chance of finishing"),
	topic("/follow-up", work.MaySeeNext, "Next", "Whom to contact next, whom to ring, what was said last.", "whom to follow up", "follow-up calls", "who was not contacted for longest", "overdue contacts"),
	topic("/follow-up/cases", work.MaySeeCases, "Cases", "Students in somebody’s hands, with plan, papers and next date.", "open cases", "my cases", "hand a case over", "open a case", "arrange a meeting about a student"),
	topic("/follow-up/support", work.MaySeeWeek, "Support by week", "Support sessions of the week, and whom nobody met.", "who had no session this week", "write a support session down", "lunch group", "mentoring"),
	topic("/follow-up/came", work.MaySeeWhatCame, "What came of it", "Figures before and after support and cases.", "does support work or help", "effect of mentoring"),
	topic("/papers", work.MaySeePapers, "Lists on paper", "Lists shaped on the page they are printed on: emergency sheet, outing, class list, birthdays, labels.", "print a list of students", "emergency contact list", "class list", "birthday list", "address labels", "photo sheet", "list for an outing with medical notes", "sheet for a substitute teacher", "export students to a spreadsheet", "phone list", "who comes by ferry"),
	topic("/papers", work.MayPlanPaper, "A list at its time", "Under Papers, At a time …: a list is printed or goes by e-mail every school day.", "print a list every morning", "send a list by email every day", "printer", "scheduled list"),
	topic("/papers/lates", work.MaySeeLates, "Late arrivals and early departures", "All of a span by student, date, kind and reason.", "late arrivals of the month", "how often was a student late", "early departures list", "reasons for being late"),
	topic("/papers/lates", work.MayPrintCards, "Cards", "Student cards with a bar code or QR code.", "print student cards", "a student lost the card", "barcode cards"),
	topic("/school/people", work.MaySeeSchool, "People", "Students, classes, own fields on students.", "add a field of our own", "warnings on students", "how many students are on the roll"),
	topic("/today", work.MayBringFormer, "Record of an earlier school", "On a student’s sheet, near the end: the file of the earlier school is looked at, then brought in.", "a student comes from another school", "bring in the record of a new student", "transfer record", "history from the former school"),
	topic("/today", work.MayTakePersonalData, "Hand a student’s record out", "On a student’s sheet: everything on record, as files and on paper.", "a student moves to another school", "hand out the record of a student", "copy of personal data"),
	topic("/school/people/left", work.MaySeeLeavers, "Those who have left", "Their data, handed out or erased.", "erase a student", "data protection request", "students who have left"),
	topic("/school/calendar", work.MaySeeCalendar, "Calendar", "Terms, grading periods, dates and hours on which the school is closed.", "close the school for a day", "snow day", "change a term date", "grading periods"),
	topic("/", work.MayKeepCalendar, "Calendar file", "In the menu under your name, at the top right: terms, closed days, reviews and meetings for your own calendar.", "subscribe to the school calendar", "ical of terms and meetings", "export the calendar"),
	topic("/school/timetable", work.MaySeeTimetable, "Timetable", "Bell times, day patterns, and the shortened day.", "change the bell times", "shortened day", "late opening"),
	topic("/school/codes", work.MaySeeSchool, "Codes and registers", "Attendance codes, reasons at the desk, rules of registers.", "change the attendance codes", "add a reason", "how long registers stay open"),
	topic("/school/policies", work.MaySeeSchool, "Policies", "What is measured and what falls due, read and edited.", "change the absence policy", "thresholds of letters", "which policy do we follow"),
	topic("/school/accounts", work.MayAddAccount, "Accounts", "Who may sign in, with which role.", "add a teacher account", "reset a password", "somebody left the staff"),
	topic("/school/devices", work.MaySeeStations, "Devices and logo", "Stations at the door, and the school’s logo.", "set up a sign-in station", "change the logo", "kiosk at the door"),
	topic("/school/import", work.MayImport, "Import", "Rosters, timetables, grades and incidents from files, with a look first.", "import students", "bring in grades", "new school year roster", "upload contacts"),
	topic("/school/record", work.MaySeeLooks, "Who looked at what", "Each look at a student’s data and each change.", "who looked at a student", "audit trail", "access log"),
	topic("/password", work.MaySetPassword, "Your password", "Change the password of your account.", "change my password"),
}

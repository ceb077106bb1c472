package web

import (
	"net/http"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// lookedAt are the routes at which a look is on record, and what was looked at there: what
// holds a student's own story, lists of figures, and every file.
var lookedAt = map[work.Permission]string{
	work.MaySeeStudent: "student's sheet", work.MaySeeDocument: "document of a warning", work.MaySeeWhy: "figure taken apart",
	work.MaySeeAbsence: "absence", work.MayKeepAbsence: "absence as a file", work.MayKeepDays: "days missed as a file", work.MayKeepStatement: "statement of a student", work.MaySeeGrid: "attendance grid", work.MaySeeClasses: "lessons of a class", work.MayKeepClasses: "lessons of a class as a file", work.MayKeepGrid: "attendance grid as a file", work.MaySeeConcerns: "concerns", work.MayKeepConcerns: "concerns as a file", work.MayKeepInputs: "inputs of the outlook as a file", work.MayLookAtMany: "addresses for a letter to many", work.MaySeeReview: "review as it was", work.MayKeepReview: "review as a file", work.MaySeeCases: "cases", work.MayKeepCases: "cases as a file", work.MaySeeCase: "case", work.MaySeePaper: "paper of a case", work.MayReadNote: "confidential note", work.MayReadSession: "confidential note of a session", work.MaySeeNext: "whom to contact next", work.MayKeepNext: "whom to contact next as a file", work.MaySeeWeek: "support by week", work.MayKeepWeek: "support by week as a file", work.MaySeeWhatCame: "what came of support", work.MayKeepWhatCame: "what came of support as a file", work.MayKeepMeeting: "meeting as a file", work.MayKeepCalendar: "calendar as a file", work.MaySeeConduct: "incidents", work.MaySeeCourses: "course results", work.MayLookAtRule: "students found by a rule", work.MayTryRule: "students found by a rule in the past", work.MaySeeTables: "course results in tables", work.MaySeeCell: "whose grades fail", work.MaySeeCredits: "credits lost", work.MaySeeResults: "course results of a student", work.MayKeepCourses: "course results as a file", work.MayAskWhatIf: "course results tried out", work.MayKeepConduct: "incidents as a file", work.MaySeeIncident: "incident", work.MaySeeSteps: "steps due", work.MayKeepSteps: "steps due as a file", work.MaySeePreview: "letter before it is printed", work.MaySeeLetter: "letters printed",
	work.MaySeeLates: "late arrivals and early departures", work.MayKeepLates: "late arrivals as a file",
	work.MaySeeCheckIns: "check-ins of a class", work.MayKeepCheckIns: "check-ins of a class as a file",
	work.MaySeeCalls: "list of calls", work.MayKeepCalls: "list of calls as a file",
	work.MaySeeProtocol: "record of a morning", work.MaySeeOutbox: "messages", work.MaySeeNotices: "notices",
	work.MaySeeTrip: "trip", work.MaySeeRollCall: "list of a roll call", work.MayPrintRollCall: "list of a roll call to print", work.MaySeeRollRecord: "record of a roll call", work.MayKeepRollRecord: "record of a roll call as a file",
	work.MayPrintPass: "pass to print", work.MaySeePass: "pass checked", work.MayPrintCards: "cards to print", work.MayLookAtPaper: "list on its way", work.MayMakePaper: "list as a file", work.MayRunPaper: "saved list as a file", work.MaySeePrinted: "page at the printer", work.MayKeepLooks: "this record as a file",
	work.MaySeeLeavers: "those who have left", work.MaySeeFormerOf: "record of an earlier school", work.MayKeepFormer: "record of an earlier school as a file", work.MayTakePersonalData: "everything on a student as a file",
}

// noteLook notes that a person looked at what a request has answered with.
func (s *server) noteLook(ctx huma.Context, p work.Person) {
	what, ok := lookedAt[work.Permission(ctx.Operation().OperationID)]
	if !ok || ctx.Status() >= http.StatusBadRequest {
		return
	}
	l := store.Look{AccountID: p.Account, What: what}
	for _, name := range []string{"student", "id"} {
		if text := ctx.Param(name); text != "" {
			id, _ := strconv.ParseInt(text, 10, 64) // it was answered, so it is one
			l.StudentID = ids.Student(id)
			break
		}
	}
	var detail []string
	url := ctx.URL()
	for _, name := range []string{"at", "from", "to", "group", "kind", "policy", "format"} {
		if text := url.Query().Get(name); text != "" {
			detail = append(detail, name+" "+text)
		}
	}
	l.Detail = strings.Join(detail, ", ")
	s.looks.Note(l)
}

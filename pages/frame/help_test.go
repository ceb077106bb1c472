package frame_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/demo/demotest"
	"meldung/pages/frame"
	"meldung/work"
)

// asked are questions as people of the office put them, with the page that does it.
var asked = map[string]string{
	"how many times absent":                "/absence",
	"who has not called":                   "/notices",
	"evacuation":                           "/roll-call",
	"fire drill":                           "/roll-call",
	"where is everybody":                   "/today",
	"whom do I still have to ring":         "/today",
	"kids unaccounted for":                 "/today",
	"print phone numbers of absent pupils": "/calls",
	"a mum rings, her son is ill":          "/notices",
	"which parents told us in advance":     "/notices",
	"absences without reason last week":    "/reasons",
	"missing excuse notes":                 "/reasons",
	"wrong number":                         "/contacts",
	"pupils without any contact":           "/contacts",
	"did my text go out":                   "/outbox",
	"failed emails":                        "/outbox",
	"who closed safe arrival yesterday":    "/protocol",
	"which registers are missing":          "/registers",
	"teacher forgot the register":          "/registers",
	"fix a wrong mark":                     "/registers",
	"substitute for a teacher who is ill":  "/registers",
	"sign a pupil out for the dentist":     "/desk",
	"a child arrives late":                 "/desk",
	"print a late pass":                    "/desk",
	"sign in a visitor":                    "/desk",
	"verify a pass":                        "/pass",
	"plan an outing":                       "/trips",
	"trip late back":                       "/trips",
	"record of drills":                     "/roll-calls",
	"attendance rate of year 9":            "/absence",
	"chronic absence":                      "/absence",
	"table of codes for a month":           "/absence/grid",
	"what does code M mean":                "/absence/grid",
	"keep a group of students":             "/absence/lists",
	"letters due":                          "/absence/steps",
	"detention for lates":                  "/absence/steps",
	"letter wording in polish":             "/absence/letters",
	"compare this month with last month":   "/absence/beside",
	"write down a fight":                   "/conduct",
	"bullying incidents":                   "/conduct",
	"who is failing maths":                 "/courses",
	"credits behind":                       "/courses?view=credits",
	"failing by subject":                   "/courses?view=tables",
	"students at risk":                     "/concerns",
	"next review":                          "/concerns",
	"make a warning rule":                  "/concerns/rules",
	"what was decided at the last review":  "/concerns/reviews",
	"how reliable is the prediction":       "/concerns/outlook",
	"follow up calls today":                "/follow-up",
	"my open cases":                        "/follow-up/cases",
	"who had no mentoring this week":       "/follow-up/support",
	"does our support help":                "/follow-up/came",
	"emergency contact list":               "/papers",
	"birthday list":                        "/papers",
	"address labels for letters home":      "/papers",
	"list for an excursion with allergies": "/papers",
	"spreadsheet of all students":          "/papers",
	"print the call sheet each morning":    "/papers",
	"mail a list to colleagues every day":  "/papers",
	"records of a former school":           "/today",
	"how often was she late this term":     "/papers/lates",
	"early departures in february":         "/papers/lates",
	"lost card":                            "/papers/lates",
	"change my password":                   "/password",
	"snow day":                             "/school/calendar",
	"holidays":                             "/school/calendar",
	"change bell times":                    "/school/timetable",
	"new attendance code":                  "/school/codes",
	"edit the absence policy":              "/school/policies",
	"reset a teacher's password":           "/school/accounts",
	"import the new roster":                "/school/import",
	"who looked at this student":           "/school/record",
	"erase data of a leaver":               "/school/people/left",
	"set up a kiosk":                       "/school/devices",
	"add our own field":                    "/school/people",
}

func TestAQuestionFindsItsPage(t *testing.T) {
	assert.GreaterOrEqual(t, len(asked), 60)
	wrong := 0
	for question, path := range asked {
		answers := frame.Help(demotest.Admin, question)
		if len(answers) == 0 || answers[0].Path != path {
			wrong++
			t.Errorf("%q should lead to %s, and leads to %v", question, path, answers)
		}
	}
	t.Log(wrong, "of", len(asked))
	assert.Empty(t, frame.Help(demotest.Admin, "xyzzy"))
	assert.LessOrEqual(t, len(frame.Help(demotest.Admin, "student")), 4)
}

// Nobody is led where they may not go.
func TestNobodyIsLedWhereTheyMayNotGo(t *testing.T) {
	for _, p := range []work.Person{demotest.Osk, demotest.Maud, demotest.Officer} {
		for question := range asked {
			for _, a := range frame.Help(p, question) {
				assert.False(t, strings.HasPrefix(a.Path, "/school"), "%s: %s", p.Name, a.Path)
				if p == demotest.Osk {
					assert.NotContains(t, []string{"/today", "/desk", "/papers", "/follow-up", "/calls"}, a.Path)
				}
			}
		}
	}
}

package work

import (
	"slices"
	"sync"

	"meldung/core/ids"
)

// Event tells the pages that something changed.
type Event struct {
	Seq   ids.Entry `json:"seq" doc:"The journal entry that made the change"`
	Kind  string    `json:"kind" doc:"What was done"`
	Scope string    `json:"scope,omitempty" doc:"All that the change concerns, where that is one register: date, class and slot"`
	About []Topic   `json:"about,omitempty" doc:"What the change concerns; empty for everything"`
}

// Topic is a part of what pages show.
type Topic string

// The topics.
const (
	OfDay      Topic = "day"       // where students are, registers, marks, what homes said, calls
	OfMessages Topic = "messages"  // what went out and what came of it
	OfConcerns Topic = "concerns"  // results, what was done about a student over weeks
	OfConduct  Topic = "conduct"   // incidents, and the lists of their kinds, places and actions
	OfSchool   Topic = "school"    // people, classes, calendar, what the school has decided
	OfAccounts Topic = "accounts"  // who can sign in
	OfRollCall Topic = "roll-call" // that one runs, and its list
	OfSteps    Topic = "steps"     // what was done about what policies say is due, and letters
	OfTicks    Topic = "ticks"     // who was ticked: pages that show a day look again when the roll call ends
)

// topics are what each table is about. A table that is not here is about everything; one with
// none is shown nowhere.
var topics = map[string][]Topic{
	"mark": {OfDay}, "register": {OfDay}, "movement": {OfDay}, "notice": {OfDay}, "activity": {OfDay}, "activity_time": {OfDay}, "activity_member": {OfDay}, "activity_mark": {OfDay}, "activity_back": {OfDay},
	"call": {OfDay}, "call_student": {OfDay}, "search": {OfDay}, "settled": {OfDay}, "settling": {OfDay}, "closing": {OfDay}, "stand_in": {OfDay},
	"hold": {OfDay}, "hold_student": {OfDay}, "fetch": {OfDay}, "pass": {OfDay}, "answer_read": {OfDay, OfMessages}, "mended": {OfDay},
	"draft_mark": {OfDay}, "check_in": {OfDay}, "check_in_text": {OfDay}, "check_in_entry": {OfDay}, "wrong_try": {OfDay}, "seat": {OfDay},
	"message": {OfMessages}, "message_student": {OfMessages}, "message_event": {OfMessages}, "carrier_report": {OfMessages}, "message_try": {},
	"contact": {OfDay, OfSchool}, "student_contact": {OfDay, OfSchool}, "contact_change": {OfDay},
	"warning": {OfDay, OfSchool}, "warning_change": {OfDay}, "warning_document": {OfDay},
	"visit": {OfDay}, "roll_call": {OfDay, OfRollCall}, "roll_person": {OfRollCall}, "roll_tick": {OfTicks},
	"saved_view": {OfSteps}, "student_list": {OfSteps}, "own_field": {OfSchool}, "own_value": {OfSteps}, "student_list_member": {OfSteps}, "paper_list": {OfSteps}, "paper_list_version": {OfSteps}, "paper_list_reader": {OfSteps}, "former_record": {OfSteps}, "pin": {OfAccounts}, "paper_plan": {OfMessages}, "paper_plan_reader": {OfMessages}, "paper_job": {OfMessages}, "closure": {OfDay, OfSchool}, "followup": {OfConcerns}, "step": {OfSteps}, "step_act": {OfSteps}, "letter": {OfSteps}, "letter_template": {OfSteps}, "letter_text": {OfSteps}, "incident": {OfConduct}, "incident_version": {OfConduct}, "incident_person": {OfConduct}, "incident_action": {OfConduct}, "conduct_word": {OfConduct}, "conduct_change": {OfConduct}, "result": {OfConcerns}, "result_rule": {OfConcerns}, "result_period": {OfConcerns}, "graded_course": {OfConcerns}, "line_item": {OfConcerns}, "item_score": {OfConcerns}, "attention_rule": {OfConcerns}, "review": {OfConcerns}, "review_row": {OfConcerns}, "review_decision": {OfConcerns}, "student_case": {OfConcerns}, "case_change": {OfConcerns}, "case_step": {OfConcerns}, "case_step_end": {OfConcerns}, "case_document": {OfConcerns}, "meeting": {OfConcerns}, "support_session": {OfConcerns}, "session_version": {OfConcerns}, "week_reason": {OfConcerns}, "support_word": {OfConcerns}, "concern_word": {OfConcerns}, "concern_told": {}, "outlook_history": {OfConcerns}, "learning_activity": {OfConcerns}, "account": {OfAccounts},
	"journal": {}, "sessions": {}, "look": {}, "alive": {}, "phone": {}, "station": {OfSchool}, "photo": {OfSchool}, "goose_db_version": {},
}

// topicsOf returns what a write is about, by the tables that it changed; none where nothing is
// shown of it.
func topicsOf(tables []string) []Topic {
	var out []Topic
	for _, t := range tables {
		about, known := topics[t]
		if !known {
			about = []Topic{OfDay, OfMessages, OfConcerns, OfConduct, OfSchool, OfAccounts, OfRollCall, OfTicks, OfSteps}
		}
		for _, one := range about {
			if !slices.Contains(out, one) {
				out = append(out, one)
			}
		}
	}
	slices.Sort(out)
	return out
}

// listeners are the pages that are told of events.
type listeners struct{ channels sync.Map } // chan Event → struct{}

// Listen returns a channel of events until stop is called. A listener that does
// not keep up misses events, never holds others up.
func (o *Office) Listen() (events <-chan Event, stop func()) {
	ch := make(chan Event, 16)
	o.listeners.channels.Store(ch, struct{}{})
	return ch, func() { o.listeners.channels.Delete(ch) }
}

func (l *listeners) tell(e Event) {
	l.channels.Range(func(k, _ any) bool {
		select {
		case k.(chan Event) <- e:
		default:
		}
		return true
	})
}

// Announce tells the pages that something other than a write has changed.
func (o *Office) Announce(kind string) {
	o.version.Add(1)
	o.listeners.tell(Event{Kind: kind})
}

// LastEntry returns the last entry of the journal that everybody who looks from now on sees.
func (o *Office) LastEntry() ids.Entry { return ids.Entry(o.last.Load()) }

// Version returns a number that is another one whenever anything may look otherwise, but for
// the time of day.
func (o *Office) Version() int64 { return o.version.Load() }

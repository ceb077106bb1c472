package web

import "meldung/work"

var (
	everyone = work.Roles
	office   = []work.Role{work.Officer, work.Pastoral, work.Administrator}
	front    = []work.Role{work.Officer, work.Pastoral, work.Desk, work.Administrator}
	lookers  = []work.Role{work.Officer, work.Pastoral, work.Desk, work.Leader, work.Administrator}
	takers   = []work.Role{work.Officer, work.Pastoral, work.Teacher, work.Administrator}
	readers  = []work.Role{work.Officer, work.Pastoral, work.Leader, work.Administrator}
	watchers = []work.Role{work.Officer, work.Pastoral, work.Teacher, work.Leader, work.Administrator}
	admin    = []work.Role{work.Administrator}
)

// access is the table of route × role. nil is open to those not signed in; a
// route that is not in it is refused to everyone.
var access = map[string][]work.Role{
	"sign-in":      nil,
	"sign-in-page": nil,
	"who":          everyone,
	"sign-out":     everyone,
	"set-password": everyone,
	"jump":         everyone,

	"rail":     everyone,
	"today":    lookers,
	"find":     everyone,
	"student":  everyone,
	"settings": everyone,

	"registers":     {work.Officer, work.Pastoral, work.Teacher, work.Leader, work.Administrator},
	"register":      takers,
	"send-register": takers, "draft-register": takers,
	"correct": takers, "seat": takers, "card": takers,
	"open-check-in": takers, "check-in-code": takers, "end-check-in": takers, "repeat-check-in": takers, "confirm-check-ins": takers,
	"start-on-phone": nil, "check-in-on-phone": nil, "own-record": nil,
	"stand-ins": office, "name-stand-in": office, "end-stand-in": office,

	"desk":          front,
	"move":          front,
	"undo-movement": front,
	"add-reason":    front, "reason-kinds": front,
	"notify":          front,
	"withdraw-notice": front,
	"read-quick":      front,
	"do-quick":        front,

	"read-notice": front, "notices": lookers, "read-answer": front,
	"hold": office, "end-hold": office, "text-homes": office,
	"start-fetch": front, "end-fetch": front,
	"tasks": office, "mend": office, "unexplained": office,
	"reopen-safe-arrival": office, "protocol": lookers,
	"make-pass": front, "pass": everyone, "return-pass": front, "pass-sheet": front,
	"lates": lookers, "lates-file": front, "card-sheets": office, "photo": everyone, "set-photo": office,
	"set-mark": admin, "stations": admin, "add-station": admin, "end-station": admin,
	"bind-station": nil, "station": nil, "at-station": nil, "move-at-station": nil,

	"call":               front,
	"start-search":       front,
	"find-search":        front,
	"settle":             office,
	"send-message":       office,
	"resend-message":     office,
	"write-to-students":  takers,
	"notes":              everyone,
	"see-notes":          everyone,
	"outbox":             watchers,
	"close-safe-arrival": office,

	"absence":  readers,
	"why":      watchers,
	"signals":  watchers,
	"followup": office,

	"school":        admin,
	"import-school": admin, "set-register-rules": admin,
	"add-account": admin,
}

package web

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"meldung/work"
)

// Who is the person signed in.
type Who struct {
	Account  int64    `json:"account"`
	Name     string   `json:"name"`
	Role     string   `json:"role"`
	OneTime  bool     `json:"oneTime" doc:"The password has to be replaced first"`
	School   string   `json:"school"`
	Demo     bool     `json:"demo"`
	Jumps    []string `json:"jumps" doc:"Moments that the demonstration offers"`
	MayWrite bool     `json:"mayWrite" doc:"May note what home says and who comes and goes"`
	InOffice bool     `json:"inOffice" doc:"Names stand-ins and sends messages again"`
	Places   []string `json:"places" doc:"Pages for this role, in the order of the work"`
}

// places are the pages with the operation that each rests on.
var places = []struct{ place, operation string }{
	{"today", "today"}, {"registers", "registers"}, {"desk", "desk"}, {"absence", "absence"}, {"signals", "signals"}, {"papers", "lates"}, {"school", "school"},
}

func may(role work.Role, operation string) bool {
	for _, r := range access[operation] {
		if r == role {
			return true
		}
	}
	return false
}

func (s *server) who(p work.Person, oneTime bool) Who {
	w := Who{Account: p.Account, Name: p.Name, Role: string(p.Role), OneTime: oneTime, School: s.office.Settings().Name, Demo: s.options.Demo != nil, Jumps: s.options.DemoJumps,
		MayWrite: may(p.Role, "notify"), InOffice: may(p.Role, "name-stand-in"), Places: []string{}}
	if w.Jumps == nil {
		w.Jumps = []string{}
	}
	for _, pl := range places {
		if may(p.Role, pl.operation) {
			w.Places = append(w.Places, pl.place)
		}
	}
	return w
}

// SignInPage is what those not signed in may know.
type SignInPage struct {
	School string       `json:"school"`
	Hints  []SignInHint `json:"hints"`
}

func (s *server) signInRoutes() {
	get(s, "sign-in-page", "/sign-in", "What the sign-in page shows", func(context.Context, *struct{}) (*body[SignInPage], error) {
		hints := s.options.DemoSignIns
		if hints == nil {
			hints = []SignInHint{}
		}
		return answer(SignInPage{s.office.Settings().Name, hints}, nil)
	})
	type credentials struct {
		Body struct {
			Username string `json:"username" maxLength:"200"`
			Password string `json:"password" maxLength:"200"`
		}
	}
	post(s, "sign-in", "/session", "Sign in", func(ctx context.Context, in *credentials) (*body[Who], error) {
		if wait := s.usernames.wait(in.Body.Username); wait > 0 {
			return nil, tooMany(wait)
		}
		p, oneTime, err := s.office.SignIn(ctx, in.Body.Username, in.Body.Password)
		if err != nil {
			s.usernames.wrong(in.Body.Username)
			return nil, problem(err)
		}
		s.usernames.right(in.Body.Username)
		if err := s.sessions.RenewToken(ctx); err != nil {
			return nil, problem(err)
		}
		s.sessions.Put(ctx, "account", p.Account)
		return answer(s.who(p, oneTime), nil)
	})
	get(s, "who", "/session", "Who is signed in", func(ctx context.Context, _ *struct{}) (*body[Who], error) {
		p := person(ctx)
		_, oneTime, err := s.office.PersonOf(ctx, p.Account)
		return answer(s.who(p, oneTime), err)
	})
	post(s, "sign-out", "/session/end", "Sign out", func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		return nil, s.sessions.Destroy(ctx)
	})
	type password struct {
		Body struct {
			Password string `json:"password" maxLength:"200"`
		}
	}
	post(s, "set-password", "/session/password", "Choose a password of one's own", func(ctx context.Context, in *password) (*struct{}, error) {
		if err := s.office.SetPassword(ctx, person(ctx), in.Body.Password); err != nil {
			return nil, problem(err)
		}
		return nil, nil
	})
	type jump struct {
		Body struct {
			To string `json:"to" doc:"HH:MM of the day, or next for the next school day"`
		}
	}
	post(s, "jump", "/demo/clock", "Move the demonstration's clock", func(ctx context.Context, in *jump) (*struct{}, error) {
		if s.options.Demo == nil {
			return nil, huma.Error404NotFound("there is no demonstration clock here")
		}
		if err := s.options.Demo.Jump(ctx, in.Body.To); err != nil {
			return nil, problem(err)
		}
		return nil, nil
	})
}

func (s *server) dayRoutes() {
	get(s, "rail", "/rail", "The day rail", func(ctx context.Context, in *LookedAt) (*body[work.RailView], error) {
		return answer(s.office.Rail(ctx, in.At))
	})
	get(s, "settings", "/settings", "What the school has decided", func(context.Context, *struct{}) (*body[work.Settings], error) {
		return answer(s.office.Settings(), nil)
	})
	get(s, "today", "/today", "The Today page", func(ctx context.Context, in *LookedAt) (*body[work.TodayView], error) {
		return answer(s.office.Today(ctx, in.At))
	})
	get(s, "find", "/find", "Students by name, number, card or contact", func(ctx context.Context, in *struct {
		LookedAt
		Query string `query:"q" maxLength:"100"`
	}) (*body[[]work.FoundStudent], error) {
		return answer(s.office.FindStudents(ctx, person(ctx), in.Query, in.At, 8))
	})
	get(s, "student", "/students/{id}", "A student's sheet", func(ctx context.Context, in *struct {
		LookedAt
		ID int64 `path:"id"`
	}) (*body[work.StudentSheet], error) {
		return answer(s.office.Sheet(ctx, person(ctx), in.ID, in.At))
	})
	get(s, "registers", "/registers", "A day's registers", func(ctx context.Context, in *LookedAt) (*body[work.RegistersView], error) {
		return answer(s.office.Registers(ctx, person(ctx), in.At))
	})
	get(s, "register", "/registers/{class}/{slot}", "One register", func(ctx context.Context, in *struct {
		LookedAt
		Class int64  `path:"class"`
		Slot  string `path:"slot"`
	}) (*body[work.RegisterView], error) {
		return answer(s.office.Register(ctx, person(ctx), in.Class, in.Slot, in.At))
	})
	get(s, "card", "/cards/{card}", "Whose card it is", func(ctx context.Context, in *struct {
		LookedAt
		Card string `path:"card" maxLength:"60"`
	}) (*body[work.CardView], error) {
		return answer(s.office.WhoseCard(ctx, in.Card, in.At))
	})
	get(s, "stand-ins", "/stand-ins", "Who stands in for whom", func(ctx context.Context, in *LookedAt) (*body[work.StandInsView], error) {
		return answer(s.office.StandIns(ctx, in.At))
	})
	get(s, "desk", "/desk", "The desk's day", func(ctx context.Context, in *LookedAt) (*body[work.DeskView], error) {
		return answer(s.office.Desk(ctx, in.At))
	})
	get(s, "notes", "/notes", "What the office wants of whoever is signed in", func(ctx context.Context, _ *struct{}) (*body[[]work.MessageView], error) {
		return answer(s.office.Notes(ctx, person(ctx)))
	})
	get(s, "outbox", "/outbox", "What went out", func(ctx context.Context, in *LookedAt) (*body[[]work.MessageView], error) {
		return answer(s.office.Outbox(ctx, person(ctx), in.At))
	})
}

func (s *server) reviewRoutes() {
	get(s, "absence", "/absence", "Absence against a policy", func(ctx context.Context, in *struct {
		LookedAt
		Measured
		Group string `query:"group" maxLength:"100" doc:"year:NAME, or class:ID for a form or class; empty is everyone"`
		Line  string `query:"line" maxLength:"100" doc:"The line to sort by, as a fraction; empty is the policy's threshold"`
	}) (*body[work.AbsenceView], error) {
		return answer(s.office.Absence(ctx, in.At, work.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To, Group: in.Group, Line: in.Line}))
	})
	get(s, "why", "/absence/{student}", "A student's figure taken apart", func(ctx context.Context, in *struct {
		LookedAt
		Measured
		Student int64 `path:"student"`
	}) (*body[work.WhyView], error) {
		return answer(s.office.Why(ctx, person(ctx), in.Student, in.At, work.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To}))
	})
	get(s, "signals", "/signals", "Students who need a look", func(ctx context.Context, in *LookedAt) (*body[work.SignalsView], error) {
		return answer(s.office.Signals(ctx, person(ctx), in.At))
	})
	post(s, "followup", "/followups", "Log a follow-up", func(ctx context.Context, in *Keyed[work.Followup]) (*body[work.Receipt], error) {
		return answer(s.office.LogFollowup(ctx, person(ctx), in.Key, in.Body))
	})
}

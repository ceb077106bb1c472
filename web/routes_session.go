package web

import (
	"context"
	"fmt"

	"github.com/danielgtaylor/huma/v2"

	"meldung/core/ids"
	"meldung/work"
	"meldung/work/accounts"
)

// Who is the person signed in.
type Who struct {
	Account  ids.Account `json:"account"`
	Name     string      `json:"name"`
	Role     string      `json:"role"`
	OneTime  bool        `json:"oneTime" doc:"The password has to be replaced first"`
	School   string      `json:"school"`
	Demo     bool        `json:"demo"`
	Jumps    []string    `json:"jumps" doc:"Moments that the demonstration offers"`
	MayWrite bool        `json:"mayWrite" doc:"May note what home says and who comes and goes"`
	InOffice bool        `json:"inOffice" doc:"Names stand-ins and sends messages again"`
	MayRoll  bool        `json:"mayBeginRollCall" doc:"May begin a roll call, and end it"`
	Places   []string    `json:"places" doc:"Pages for this role, in the order of the work"`
	Lines    Lines       `json:"lines" doc:"How messages leave the house"`
}

// SignInLeft is when the sign-in ends if nobody does anything.
type SignInLeft struct {
	Seconds int  `json:"seconds" doc:"Until it ends; another request by the person begins the time without use again"`
	Longest bool `json:"longest" doc:"It ends because it has lasted as long as a sign-in may, whatever is done"`
}

// places are the pages with what each needs, in the order of the work.
var places = []struct {
	name  string
	needs work.Permission
}{
	{"today", work.MaySeeToday}, {"registers", work.MaySeeRegisters}, {"desk", work.MaySeeDesk}, {"absence", work.MaySeeSteps},
	{"conduct", work.MaySeeConduct}, {"courses", work.MaySeeCourses}, {"concerns", work.MaySeeConcerns}, {"follow-up", work.MaySeeNext}, {"papers", work.MaySeeLates}, {"school", work.MaySeeSchool},
}

func (s *server) who(p work.Person, oneTime bool) Who {
	w := Who{Account: p.Account, Name: p.Name, Role: string(p.Role), OneTime: oneTime, School: s.office.SchoolName(), Demo: s.options.Demo != nil, Jumps: s.options.DemoJumps,
		MayWrite: p.May(work.MayNotify), InOffice: p.May(work.MayNameStandIn), MayRoll: p.May(work.MayStartRollCall), Places: []string{}, Lines: s.options.Lines}
	if w.Jumps == nil {
		w.Jumps = []string{}
	}
	for _, pl := range places {
		if p.May(pl.needs) {
			w.Places = append(w.Places, pl.name)
		}
	}
	return w
}

// SignInPage is what those not signed in may know.
type SignInPage struct {
	School string       `json:"school"`
	Hints  []SignInHint `json:"hints"`
}

// signedInAs is whose name and password fitted together.
type signedInAs struct {
	work.Person
	oneTime bool
}

// signIn tries a name and a password. Tries are counted for a name from an address, so that
// nobody keeps another out by typing their name, and for the address, so that nobody tries one
// name after the other.
func (s *server) signIn(ctx context.Context, username, password string) (signedInAs, error) {
	address := callerOf(ctx).address
	return limited(ctx, work.Refused, func() (signedInAs, error) {
		p, oneTime, err := accounts.SignIn(ctx, s.office, username, password)
		return signedInAs{p, oneTime}, err
	}, reservation{s.signIns, address, false}, reservation{s.usernames, accounts.Canonical(username) + " from " + address, true})
}

func (s *server) sessionRoutes() {
	get(s, work.MaySeeSignIn, "/sign-in", "What the sign-in page shows", func(context.Context, *struct{}) (*body[SignInPage], error) {
		hints := s.options.DemoSignIns
		if hints == nil {
			hints = []SignInHint{}
		}
		return answer(SignInPage{s.office.SchoolName(), hints}, nil)
	})
	type credentials struct {
		Body struct {
			Username string `json:"username" maxLength:"200"`
			Password string `json:"password" maxLength:"200"`
		}
	}
	post(s, work.MaySignIn, "/session", "Sign in", func(ctx context.Context, in *credentials) (*body[Who], error) {
		as, err := s.signIn(ctx, in.Body.Username, in.Body.Password)
		if err != nil {
			return nil, err
		}
		if err := s.sessions.begin(ctx, as.Account, callerOf(ctx)); err != nil {
			return nil, problem(err)
		}
		return answer(s.who(as.Person, as.oneTime), nil)
	})
	get(s, work.MaySeeSelf, "/session", "Who is signed in", func(ctx context.Context, _ *struct{}) (*body[Who], error) {
		p := person(ctx)
		_, oneTime, err := accounts.PersonOf(ctx, s.office, p.Account)
		return answer(s.who(p, oneTime), err)
	})
	get(s, work.MaySeeLeft, "/session/left", "How long the sign-in still lasts", func(ctx context.Context, _ *struct{}) (*body[SignInLeft], error) {
		unused, end := s.sessions.left(ctx)
		untilEnd := end.Sub(s.sessions.now())
		out := SignInLeft{Seconds: max(0, int(min(unused, untilEnd).Seconds())), Longest: untilEnd <= unused}
		return answer(out, nil)
	})
	post(s, work.MaySignOut, "/session/end", "Sign out", func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		return nil, s.sessions.end(ctx)
	})
	type password struct {
		Body struct {
			Password string `json:"password" maxLength:"200"`
			Old      string `json:"old,omitempty" maxLength:"200" doc:"The present one; not asked for where that is the one-time password"`
		}
	}
	post(s, work.MaySetPassword, "/session/password", "Choose a password of one's own", func(ctx context.Context, in *password) (*struct{}, error) {
		_, err := limited(ctx, work.Refused, func() (nothing, error) {
			return nothing{}, accounts.SetPassword(ctx, s.office, person(ctx), in.Body.Old, in.Body.Password)
		}, reservation{s.usernames, fmt.Sprint("account ", person(ctx).Account), true})
		if err != nil {
			return nil, err
		}
		if err := s.sessions.endOthers(ctx, person(ctx).Account); err != nil {
			return nil, problem(err)
		}
		return nil, nil
	})
	type jump struct {
		Body struct {
			To string `json:"to" doc:"HH:MM of the day, or next for the next school day"`
		}
	}
	post(s, work.MayJump, "/demo/clock", "Move the demonstration's clock", func(ctx context.Context, in *jump) (*struct{}, error) {
		if s.options.Demo == nil {
			return nil, huma.Error404NotFound("there is no demonstration clock here")
		}
		if err := s.options.Demo.Jump(ctx, in.Body.To); err != nil {
			return nil, problem(err)
		}
		return nil, nil
	})
}

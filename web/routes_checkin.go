package web

import (
	"context"
	"crypto/rand"
	"errors"
	"net"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"meldung/work"
)

// Confirmation names students whom the teacher has seen.
type Confirmation struct {
	Students []work.Confirmed `json:"students" minItems:"1" maxItems:"500"`
}

func (s *server) checkInRoutes() {
	type byID struct {
		ID int64 `path:"id"`
	}
	post(s, "open-check-in", "/check-ins", "Let a class check in", func(ctx context.Context, in *Keyed[work.NewCheckIn]) (*body[work.Receipt], error) {
		return answer(s.office.OpenCheckIn(ctx, person(ctx), in.Key, in.Body))
	})
	get(s, "check-in-code", "/check-ins/{id}/code", "The code to show", func(ctx context.Context, in *byID) (*body[work.CheckInCode], error) {
		return answer(s.office.CheckInCode(ctx, person(ctx), in.ID, callerOf(ctx).base))
	})
	post(s, "end-check-in", "/check-ins/{id}/end", "Close a check-in", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.EndCheckIn(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "repeat-check-in", "/check-ins/{id}/repeat", "Plan a check-in for later days", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
		Keyed[work.CheckInDays]
	}) (*body[work.Receipt], error) {
		return answer(s.office.RepeatCheckIn(ctx, person(ctx), in.Key, in.ID, in.Body))
	})
	post(s, "confirm-check-ins", "/check-ins/{id}/confirm", "Confirm who has checked in", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
		Keyed[Confirmation]
	}) (*body[work.DraftReceipt], error) {
		return answer(s.office.ConfirmCheckIns(ctx, person(ctx), in.Key, in.ID, in.Body.Students))
	})
	s.phoneRoutes()
}

// OnPhone is a request of a student's phone, known by its cookie alone.
type OnPhone struct {
	Phone string `cookie:"meldung-phone" maxLength:"64"`
}

// phoneAnswer is an answer that gives a new phone its name.
type phoneAnswer[T any] struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
	Body      T
}

// phoneRoutes are open to phones that nobody has signed in on.
func (s *server) phoneRoutes() {
	post(s, "start-on-phone", "/phone/start", "Exchange the code on show", func(ctx context.Context, in *struct {
		OnPhone
		Body struct {
			Code string `json:"code" maxLength:"20"`
		}
	}) (*phoneAnswer[work.PhoneStart], error) {
		return tryOnPhone(ctx, s, in.OnPhone, func(phone string) (work.PhoneStart, error) {
			return s.office.StartOnPhone(ctx, phone, in.Body.Code)
		})
	})
	post(s, "check-in-on-phone", "/phone/check-in", "Check in", func(ctx context.Context, in *struct {
		OnPhone
		Body work.PhoneEntry
	}) (*phoneAnswer[work.PhoneReceipt], error) {
		return tryOnPhone(ctx, s, in.OnPhone, func(phone string) (work.PhoneReceipt, error) {
			return s.office.CheckInOnPhone(ctx, phone, in.Body)
		})
	})
	get(s, "own-record", "/phone/record", "A student's own record", func(ctx context.Context, in *OnPhone) (*body[work.OwnRecord], error) {
		return answer(s.office.RecordOfPhone(ctx, in.Phone))
	})
}

// tryOnPhone lets a phone try, and makes it wait after wrong tries; so does its
// address, since a phone can throw its cookie away. A school's phones may share one
// address: that pause is short.
func tryOnPhone[T any](ctx context.Context, s *server, in OnPhone, try func(phone string) (T, error)) (*phoneAnswer[T], error) {
	phone := in.Phone
	if phone == "" {
		phone = rand.Text()
	}
	address := callerOf(ctx).address
	if wait := max(s.phones.wait(phone), s.addresses.wait(address)); wait > 0 {
		return nil, tooMany(wait)
	}
	out, err := try(phone)
	var mistake *work.Error
	switch {
	case errors.As(err, &mistake) && mistake.Kind == work.Wrong:
		s.phones.wrong(phone)
		s.addresses.wrong(address)
	case err == nil:
		s.phones.right(phone)
	}
	cookie := http.Cookie{Name: "meldung-phone", Value: phone, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: s.options.Secure, MaxAge: int(365 * 24 * time.Hour / time.Second)}
	if err != nil {
		return nil, huma.ErrorWithHeaders(problem(err), http.Header{"Set-Cookie": {cookie.String()}})
	}
	return &phoneAnswer[T]{cookie, out}, nil
}

// caller is where a request comes from, and the address under which it came.
type caller struct{ base, address string }

type callerKey struct{}

func callerOf(ctx context.Context) caller {
	c, _ := ctx.Value(callerKey{}).(caller)
	return c
}

// called says where a request comes from.
func (s *server) called(host, remote string) caller {
	scheme := "http://"
	if s.options.Secure {
		scheme = "https://"
	}
	address, _, err := net.SplitHostPort(remote)
	if err != nil {
		address = remote
	}
	return caller{scheme + host, address}
}

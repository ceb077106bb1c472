package web

import (
	"context"
	"crypto/rand"
	"errors"
	"net"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"meldung/core/ids"
	"meldung/pages/registerpage"
	"meldung/work"
	"meldung/work/checkin"
)

func (s *server) checkInRoutes() {
	type byID struct {
		ID ids.CheckIn `path:"id"`
	}
	post(s, work.MayOpenCheckIn, "/check-ins", "Let a class check in", func(ctx context.Context, in *Keyed[checkin.NewCheckIn]) (*body[work.Receipt], error) {
		return answer(checkin.Open(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeCheckInCode, "/check-ins/{id}/code", "The code to show", func(ctx context.Context, in *byID) (*body[registerpage.CheckInCode], error) {
		return answer(registerpage.ShowCode(ctx, s.office, person(ctx), in.ID, callerOf(ctx).base))
	})
	post(s, work.MayEndCheckIn, "/check-ins/{id}/end", "Close a check-in", func(ctx context.Context, in *KeyedByID[ids.CheckIn]) (*body[work.Receipt], error) {
		return answer(checkin.End(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayRepeatCheckIn, "/check-ins/{id}/repeat", "Plan a check-in for later days", func(ctx context.Context, in *struct {
		ID ids.CheckIn `path:"id"`
		Keyed[checkin.CheckInDays]
	}) (*body[work.Receipt], error) {
		return answer(checkin.Repeat(ctx, s.office, person(ctx), in.Key, in.ID, in.Body))
	})
	post(s, work.MayConfirmCheckIns, "/check-ins/{id}/confirm", "Confirm who has checked in", func(ctx context.Context, in *struct {
		ID ids.CheckIn `path:"id"`
		Keyed[checkin.Confirmation]
	}) (*body[work.DraftReceipt], error) {
		return answer(checkin.Confirm(ctx, s.office, person(ctx), in.Key, in.ID, in.Body))
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
	post(s, work.MayStartOnPhone, "/phone/start", "Exchange the code on show", func(ctx context.Context, in *struct {
		OnPhone
		Body struct {
			Code string `json:"code" maxLength:"20"`
		}
	}) (*phoneAnswer[checkin.PhoneStart], error) {
		return tryOnPhone(ctx, s, in.OnPhone, func(phone string) (checkin.PhoneStart, error) {
			return checkin.StartOnPhone(ctx, s.office, phone, in.Body.Code)
		})
	})
	post(s, work.MayCheckInOnPhone, "/phone/check-in", "Check in", func(ctx context.Context, in *struct {
		OnPhone
		Body checkin.PhoneEntry
	}) (*phoneAnswer[checkin.PhoneReceipt], error) {
		return tryOnPhone(ctx, s, in.OnPhone, func(phone string) (checkin.PhoneReceipt, error) {
			return checkin.CheckInOnPhone(ctx, s.office, phone, in.Body)
		})
	})
	get(s, work.MaySeeOwnRecord, "/phone/record", "A student's own record", func(ctx context.Context, in *OnPhone) (*body[registerpage.OwnRecord], error) {
		return answer(registerpage.RecordOfPhone(ctx, s.office, in.Phone))
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

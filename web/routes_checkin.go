package web

import (
	"context"
	"crypto/rand"
	"net"
	"net/http"
	"net/netip"
	"strings"
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
	get(s, work.MaySeeCheckIns, "/classes/{class}/check-ins", "All check-ins of a class", func(ctx context.Context, in *struct {
		Class ids.Class `path:"class"`
	}) (*body[registerpage.CheckInSessions], error) {
		return answer(registerpage.ShowSessions(ctx, s.office, person(ctx), in.Class))
	})
	get(s, work.MayKeepCheckIns, "/classes/{class}/check-ins/file", "All check-ins of a class as a file", func(ctx context.Context, in *struct {
		Class  ids.Class `path:"class"`
		Format string    `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := registerpage.SessionsFile(ctx, s.office, person(ctx), in.Class, in.Format)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MaySeeHandOut, "/classes/{class}/hand-out", "The sheet that tells a class how to check in", func(ctx context.Context, in *struct {
		Class ids.Class `path:"class"`
	}) (*body[registerpage.HandOut], error) {
		return answer(registerpage.ShowHandOut(ctx, s.office, person(ctx), in.Class, callerOf(ctx).base))
	})
	post(s, work.MaySetHandOut, "/classes/{class}/hand-out", "What a class is told about checking in", func(ctx context.Context, in *struct {
		Class ids.Class `path:"class"`
		Keyed[checkin.HandOutText]
	}) (*body[work.Receipt], error) {
		return answer(checkin.SetHandOut(ctx, s.office, person(ctx), in.Key, in.Class, in.Body))
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
			Code string `json:"code" maxLength:"60" doc:"The code on show, or what the link of a remote lesson ends with"`
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
	out, err := limited(ctx, work.Wrong, func() (T, error) { return try(phone) },
		reservation{s.addresses, callerOf(ctx).address, false}, reservation{s.phones, phone, true})
	cookie := http.Cookie{Name: "meldung-phone", Value: phone, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: s.options.Secure, MaxAge: int(365 * 24 * time.Hour / time.Second)}
	if err != nil {
		return nil, huma.ErrorWithHeaders(err, http.Header{"Set-Cookie": {cookie.String()}})
	}
	return &phoneAnswer[T]{cookie, out}, nil
}

// caller is where a request comes from, and the address under which it came.
type caller struct{ base, address, device string }

type callerKey struct{}

func callerOf(ctx context.Context) caller {
	c, _ := ctx.Value(callerKey{}).(caller)
	return c
}

// untouched is the header of a request that an open page makes by itself, while nobody has
// touched a key or the mouse for a while.
const untouched = "Meldung-Untouched"

// called says where a request comes from.
func (s *server) called(ctx huma.Context) caller {
	scheme := "http://"
	if s.options.Secure {
		scheme = "https://"
	}
	remote := ctx.RemoteAddr()
	if s.options.BehindProxy {
		// The last of them is what the proxy itself has seen; those before are what it was told.
		if list := strings.Split(ctx.Header("X-Forwarded-For"), ","); strings.TrimSpace(list[len(list)-1]) != "" {
			remote = list[len(list)-1]
		}
	}
	device := ctx.Header("User-Agent")
	return caller{scheme + ctx.Host(), addressOf(remote), device[:min(len(device), 200)]}
}

// addressOf returns the address that a request is counted by: of IPv6 the 64 bits of its
// network, since one machine may use all of them.
func addressOf(remote string) string {
	remote = strings.TrimSpace(remote)
	if host, _, err := net.SplitHostPort(remote); err == nil {
		remote = host
	}
	address, err := netip.ParseAddr(remote)
	if err != nil {
		return remote
	}
	address = address.Unmap().WithZone("")
	if address.Is6() {
		network, err := address.Prefix(64)
		if err == nil {
			return network.Masked().String()
		}
	}
	return address.String()
}

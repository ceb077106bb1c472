// Package web offers the work over HTTP: routes, sessions and live events. Every
// handler is a few lines; the rules are elsewhere.
package web

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/pages/paperpage"
	"meldung/work"
	"meldung/work/access"
)

// Demo moves the demonstration's clock; nil outside a demonstration.
type Demo interface {
	Jump(ctx context.Context, to string) error
}

// Options are what a server needs beside the office.
type Options struct {
	Demo        Demo
	DemoJumps   []string
	DemoSignIns []SignInHint
	Secure      bool             // the server is reached over TLS
	BehindProxy bool             // a proxy of the school's own hands requests on and says from where they come
	Idle        time.Duration    // how long a session lasts while nobody uses it; 0 is Idle
	Clock       func() time.Time // by which sessions end; nil is the machine's

	Closing <-chan struct{} // closed when the program is to end; nil for never
	Logs    bool            // a line for each request, with no names in it

	Looks *access.Record // of who looked at what; nil keeps none beyond the program's end

	Lines         Lines             // how messages leave the house
	Printer       paperpage.Printer // nil for none
	CarrierSecret string            // by which a carrier signs its reports; empty where none is taken
}

// SignInHint names an account of the demonstration on the sign-in page.
type SignInHint struct {
	Username string `json:"username"`
	Who      string `json:"who"`
	Password string `json:"password"`
}

// server holds what the handlers share.
type server struct {
	office   *work.Office
	options  Options
	sessions *sessions
	api      huma.API
	looks    *access.Record
	shared   shared

	usernames, signIns, phones, addresses, binders, stations, passes *limiter

	lastRight sync.Map // station → the number that was right last
}

// LookedAt is the moment that a page looks at. It is exported, like all structs of
// parameters that others embed, since the API's library skips those that are not.
type LookedAt struct {
	At string `query:"at" doc:"As at: empty is now; YYYY-MM-DD the end of that day; YYYY-MM-DDTHH:MM a minute, as known then" example:"2026-03-10T09:12"`
}

// Scoped is which sections of the school a page covers.
type Scoped struct {
	Section []int64 `query:"section" maxItems:"50" doc:"Ids of sections, separated by commas; none is every one"`
}

// scope returns the sections as they are asked for.
func (s Scoped) scope() []ids.Section {
	var out []ids.Section
	for _, id := range s.Section {
		out = append(out, ids.Section(id))
	}
	return out
}

// LookedIn is the moment that a page looks at, and which sections it covers.
type LookedIn struct {
	LookedAt
	Scoped
}

// Grouped is whom something is asked about. A list is known by who may use it.
type Grouped struct {
	Group string `query:"group" maxLength:"100" doc:"year:NAME, leaving:YEAR, class:ID for a form or class, travels:WAY, part-time:yes, list:ID, own:FIELD:CHOICE, student:ID; empty is everyone"`
}

func (g *Grouped) asked() *string { return &g.Group }

// Measured is by which policy absence is measured, and over which dates.
type Measured struct {
	Policy string `query:"policy" maxLength:"100" doc:"A shipped policy; empty is ten per cent of days"`
	From   string `query:"from" maxLength:"10" doc:"First date; empty is the first of the year"`
	To     string `query:"to" maxLength:"10" doc:"Last date; empty is the last that is over"`
}

// Keyed is a write; a repeat with the same key does nothing and gets the same answer.
type Keyed[T any] struct {
	Key  string `header:"Idempotency-Key" required:"true" minLength:"8" maxLength:"100"`
	Body T
}

type body[T any] struct{ Body T }

func answer[T any](v T, err error) (*body[T], error) {
	if err != nil {
		return nil, problem(err)
	}
	return &body[T]{v}, nil
}

// fileBody is an answer that is a file.
type fileBody struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// answerFile answers with a file, to look at or to keep.
func answerFile(f pages.File, err error, disposition string) (*fileBody, error) {
	if err != nil {
		return nil, problem(err)
	}
	return &fileBody{f.Type, fmt.Sprintf("%s; filename=%q", disposition, f.Name), f.Content}, nil
}

// problem turns a mistake into problem+json; anything else is logged and not told.
func problem(err error) error {
	var mistake *work.Error
	if !errors.As(err, &mistake) {
		slog.Error("request failed", "error", err)
		return huma.Error500InternalServerError("something went wrong here; nothing was saved")
	}
	status := map[work.ErrorKind]int{work.Wrong: http.StatusUnprocessableEntity, work.NotFound: http.StatusNotFound,
		work.Refused: http.StatusForbidden, work.Conflict: http.StatusConflict, work.Busy: http.StatusServiceUnavailable}[mistake.Kind]
	return huma.NewError(status, mistake.Message)
}

// newAPI builds the API's routes on a Gin engine.
func newAPI(s *server) *gin.Engine {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.Use(gin.Recovery())
	if s.options.Logs {
		engine.Use(logged)
	}
	config := huma.DefaultConfig("Meldung", "1")
	config.OpenAPIPath, config.DocsPath, config.SchemasPath = "", "", ""
	config.CreateHooks = nil // no $schema links in answers
	s.api = humagin.New(engine, config)
	s.api.UseMiddleware(s.guard, s.share)
	s.sessionRoutes()
	s.frameRoutes()
	s.todayRoutes()
	s.registerRoutes()
	s.checkInRoutes()
	s.deskRoutes()
	s.messageRoutes()
	s.reviewRoutes()
	s.paperRoutes()
	s.paperListRoutes()
	s.paperJobRoutes()
	s.stationRoutes()
	s.rollCallRoutes()
	s.tripRoutes()
	s.stepRoutes()
	s.conductRoutes()
	s.courseRoutes()
	s.ruleRoutes()
	s.concernRoutes()
	s.followupRoutes()
	s.schoolRoutes()
	s.accountRoutes()
	s.leaverRoutes()
	s.formerRoutes()
	return engine
}

// OpenAPI returns the API's description as YAML.
func OpenAPI() ([]byte, error) {
	s := &server{}
	newAPI(s)
	return s.api.OpenAPI().YAML()
}

func get[I, O any](s *server, needs work.Permission, path, summary string, f func(context.Context, *I) (*O, error)) {
	huma.Register(s.api, huma.Operation{OperationID: string(needs), Method: http.MethodGet, Path: "/api" + path, Summary: summary}, func(ctx context.Context, in *I) (*O, error) {
		if g, ok := any(in).(interface{ asked() *string }); ok {
			group, err := pages.Group(ctx, s.office, person(ctx), *g.asked())
			if err != nil {
				return nil, problem(err)
			}
			*g.asked() = group
		}
		return f(ctx, in)
	})
}

func post[I, O any](s *server, needs work.Permission, path, summary string, f func(context.Context, *I) (*O, error)) {
	limit := int64(1 << 20)
	switch {
	case work.WithoutAccount(needs):
		limit = 16 << 10
	case slices.Contains(withFiles, needs):
		limit = 32 << 20
	}
	huma.Register(s.api, huma.Operation{OperationID: string(needs), Method: http.MethodPost, Path: "/api" + path, Summary: summary,
		MaxBodyBytes: limit, BodyReadTimeout: noTimeout}, f)
}

// withFiles are the writes that bring files along.
var withFiles = []work.Permission{work.MayImport, work.MayImportOwn, work.MayImportAccounts, work.MaySetPhoto, work.MaySetEmblem, work.MaySetWarning, work.MayAddPaper, work.MayLookAtFormer, work.MayBringFormer}

// noTimeout leaves the time of bodies to steady, which goes by what has come of them.
const noTimeout = -1

type personKey struct{}

// person returns who is asking; the guard has put them there.
func person(ctx context.Context) work.Person {
	p, _ := ctx.Value(personKey{}).(work.Person)
	return p
}

// guard refuses every route without a session, and by role.
func (s *server) guard(ctx huma.Context, next func(huma.Context)) {
	ctx = huma.WithValue(ctx, callerKey{}, s.called(ctx))
	needs := work.Permission(ctx.Operation().OperationID)
	if work.WithoutAccount(needs) {
		next(ctx)
		return
	}
	p, oneTime, err := s.signedIn(ctx.Context(), ctx.Header(untouched) == "")
	if err != nil {
		s.refuse(ctx, http.StatusUnauthorized, "sign in first")
		return
	}
	if oneTime && needs != work.MaySetPassword && needs != work.MaySignOut && needs != work.MaySeeSelf {
		s.refuse(ctx, http.StatusForbidden, "choose a password of your own first")
		return
	}
	if !p.Role.May(needs) {
		s.refuse(ctx, http.StatusForbidden, "your account may not do that")
		return
	}
	if ctx.Method() == http.MethodGet {
		// What is answered holds everything up to this entry of the journal, and maybe more.
		ctx.SetHeader("Covers", strconv.FormatInt(int64(s.office.LastEntry()), 10))
	}
	next(huma.WithValue(ctx, personKey{}, p))
	s.noteLook(ctx, p)
}

func (s *server) refuse(ctx huma.Context, status int, words string) {
	if err := huma.WriteErr(s.api, ctx, status, words); err != nil {
		slog.Error("refusing a request", "error", err)
	}
}

type nothing struct{}

// KeyedByID is a write to something that exists.
type KeyedByID[ID ~int64] struct {
	ID ID `path:"id"`
	Keyed[nothing]
}

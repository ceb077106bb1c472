package web_test

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/store"
	"meldung/web"
	"meldung/work"
	"meldung/work/accounts"
)

const password = "a password for tests"

// may is the table of route × role as it is meant, written out a second time: the
// letters are officer, pastoral lead, teacher, desk, leader, administrator.
var may = map[string]string{
	"who": "optdla", "session-left": "optdla", "sign-out": "optdla", "set-password": "optdla", "jump": "optdla",
	"rail": "optdla", "today": "opdla", "find": "optdla", "student": "optdla", "settings": "optdla",
	"registers": "optla", "register": "opta", "send-register": "opta", "draft-register": "opta", "correct": "opta",
	"seat": "opta", "card": "opta", "open-check-in": "opta", "check-in-code": "opta", "end-check-in": "opta", "repeat-check-in": "opta", "confirm-check-ins": "opta", "check-ins": "opta", "hand-out": "opta", "set-hand-out": "opta", "check-ins-file": "opta",
	"day-times": "opa", "set-day-times": "opa",
	"stand-ins": "opa", "name-stand-in": "opa", "end-stand-in": "opa",
	"desk": "opda", "move": "opda", "undo-movement": "opda", "add-reason": "opda", "reason-kinds": "opda", "notify": "opda", "withdraw-notice": "opda", "read-quick": "opda", "do-quick": "opda",
	"read-notice": "opda", "notices": "opdla", "read-answer": "opda", "hold": "opa", "end-hold": "opa", "text-homes": "opa", "start-fetch": "opda", "end-fetch": "opda",
	"tasks": "opa", "resolve-number": "opa", "unexplained": "opa", "reopen-safe-arrival": "opa", "protocol": "opdla", "make-pass": "opda", "pass": "optdla", "return-pass": "opda",
	"pass-sheet": "opda", "lates": "opdla", "lates-file": "opda", "card-sheets": "opa", "photo": "optdla", "set-photo": "opa", "set-mark": "a", "stations": "a", "add-station": "a", "end-station": "a",
	"call": "opda", "start-search": "opda", "find-search": "opda", "settle": "opa", "set-contact": "opda", "end-contact": "opa", "set-warning": "opa", "end-warning": "opa", "see-document": "opa", "amend-movement": "opda", "read-texts": "opa", "part-of-count": "opdla", "call-sheet": "opa", "call-sheet-file": "opa", "settle-student": "opa", "settle-register": "opa", "take-back": "opdla", "send-message": "opa", "resend-message": "opa", "write-to-students": "opta", "notes": "optdla", "see-notes": "optdla", "outbox": "optla", "close-safe-arrival": "opa",
	"absence": "opla", "absence-file": "opla", "days-file": "opla", "statement": "opla", "send-statement": "opa", "grid": "opla", "class-report": "optla", "class-report-file": "optla", "grid-file": "opla", "why": "optla", "concerns": "optla", "concerns-file": "opla", "outlook": "opla", "fit-outlook": "opla", "outlook-inputs": "opla", "set-outlook": "a", "progress": "optdla", "look-at-letters-to-many": "opa", "write-to-many": "opa", "decide": "opa", "begin-review": "opa", "read-review-again": "opa", "finish-review": "opa", "reviews": "opla", "review": "opla", "review-file": "opla", "set-reviews": "pa", "tell-concern": "optla", "cases": "opla", "cases-file": "opla", "change-case": "opla", "next": "opla", "next-file": "opla", "case": "opla", "help": "optdla", "mark": "optdla", "calendar-file": "optdla", "papers": "opdla", "paper-list": "opdla", "look-at-paper": "opdla", "make-paper": "opdla", "run-paper": "opdla", "save-paper": "opdla", "share-paper": "opdla", "end-paper": "opdla", "pins": "optdla", "pin": "optdla", "unpin": "optdla", "former-records": "opla", "former-record": "opla", "former-record-file": "opla", "look-at-former": "opa", "bring-former": "opa", "end-former": "opa", "plan-paper": "opdla", "end-paper-plan": "opdla", "paper-to-printer": "opdla", "printed-paper": "opdla", "cases-of": "opla", "confidential-note": "opla", "confidential-session": "opla", "plan-case": "opla", "end-planned": "opla", "add-paper": "opla", "case-paper": "opla", "take-paper-off": "opla", "meet": "opla", "call-meeting-off": "opla", "meeting-file": "opla", "support-week": "opla", "support-week-file": "opla", "add-session": "opla", "change-session": "opla", "take-session-off": "opla", "repeat-session": "opla", "why-no-session": "opla", "what-came-of-it": "opla", "what-came-of-it-file": "opla", "support-words": "opla", "set-support-words": "pla", "support-files": "opla", "courses": "optla", "courses-tables": "optla", "courses-cell": "optla", "courses-credits": "optla", "courses-of": "optla", "courses-file": "optla", "what-if": "optla", "set-grade": "opa", "rules": "opla", "rule": "opla", "look-at-rule": "opla", "try-rule": "opla", "rules-file": "opla", "set-rules": "pa", "bring-rules": "pa", "result-rule": "opla", "set-result-rule": "a", "conduct": "optla", "conduct-file": "optla", "incident": "optla", "conduct-lists": "optla", "conduct-people": "optla", "note-incident": "optla", "take-incident-back": "optla", "set-conduct-lists": "opla", "mark-change": "opla", "unmark-change": "opla", "followup": "opla",
	"roll-call": "optdla", "roll-call-running": "optdla", "tick": "optdla", "ticks": "optdla", "start-roll-call": "opdla", "end-roll-call": "opdla", "roll-call-paper": "opdla", "roll-calls": "opdla", "roll-call-record": "opdla", "roll-call-file": "opdla",
	"visits": "opdla", "sign-in-visitor": "opda", "sign-out-visitor": "opda", "visitor-stays": "opda", "set-meeting-points": "a",
	"trips": "optdla", "trip": "optdla", "trip-group": "opa", "plan-trip": "opa", "change-trip": "opa", "cancel-trip": "opa", "mark-trip": "opta", "trip-is-back": "optdla", "trip-goes-on": "opa",
	"school": "a", "close-days": "a", "open-days": "a", "calendar": "a", "timetable": "a", "import-school": "a", "set-register-rules": "a", "choose-codes": "a", "set-reasons": "a", "take-policy": "a", "draft-policy": "a", "policy": "optla",
	"add-account": "a", "import-accounts": "a", "reset-account": "a", "change-account": "a", "end-account": "a", "sessions": "a", "end-session": "a", "looks": "a", "looks-file": "a",
	"views": "opdla", "save-view": "opdla", "end-view": "opdla", "make-up": "opa", "own-fields": "optdla", "own-fields-of": "optdla", "own-field-groups": "opdla", "set-own-field": "optdla", "own-fields-set": "a", "set-own-fields": "a", "own-fields-file": "opla", "import-own-fields": "a", "lists": "opdla", "set-grading": "a", "set-terms": "a", "set-bells": "a", "set-day-pattern": "a", "draft-codes": "a", "beside": "opla", "beside-file": "opla", "part-time": "optla", "set-part-time": "opa", "keep-list": "opdla", "end-list": "opdla",
	"steps": "optla", "do-steps": "optla", "steps-file": "opla", "set-step-rules": "a", "letters": "opa", "set-letter": "opa", "try-letter": "opa", "letter-preview": "opa", "print-letters": "opa", "letters-sheet": "opla",
	"leavers": "a", "set-leavers-rule": "a", "erase-leavers": "a", "personal-data": "a",
}

var open = map[string]bool{"sign-in": true, "sign-in-page": true, "start-on-phone": true, "check-in-on-phone": true, "own-record": true,
	"bind-station": true, "station": true, "at-station": true, "visitor-at-station": true, "move-at-station": true}

type route struct{ id, method, path string }

// routes reads every route from the API's own description.
func routes(t *testing.T) []route {
	text, err := web.OpenAPI()
	require.NoError(t, err)
	var api struct {
		Paths map[string]map[string]struct {
			ID string `yaml:"operationId"`
		} `yaml:"paths"`
	}
	require.NoError(t, yaml.Unmarshal(text, &api))
	var out []route
	for path, methods := range api.Paths {
		for method, op := range methods {
			out = append(out, route{op.ID, strings.ToUpper(method), regexp.MustCompile(`\{\w+\}`).ReplaceAllString(path, "1")})
		}
	}
	return out
}

// server is a school with one account for each role.
func server(t *testing.T) (*httptest.Server, *work.Office) {
	office, err := demotest.Empty(t.Context(), t.TempDir(), day.At(day.MustDate("2026-03-10"), day.MustMinute("09:12")))
	require.NoError(t, err)
	hash, err := accounts.Hash(password)
	require.NoError(t, err)
	require.NoError(t, office.Store().Write(t.Context(), func(tx *sqlx.Tx) error {
		for _, role := range work.Roles {
			if _, err := store.AddAccount(t.Context(), tx, store.Account{Username: string(role), Name: string(role), Role: string(role), Password: hash}); err != nil {
				return err
			}
		}
		_, err := store.AddAccount(t.Context(), tx, store.Account{Username: "fresh", Name: "fresh", Role: "administrator", Password: hash, OneTime: true})
		return err
	}))
	return serving(t, office), office
}

func serving(t *testing.T, office *work.Office) *httptest.Server {
	t.Helper()
	handler, err := web.Handler(office, web.Options{})
	require.NoError(t, err)
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	return s
}

func request(t *testing.T, s *httptest.Server, method, path, body string, cookies []*http.Cookie) *http.Response {
	t.Helper()
	r, err := http.NewRequestWithContext(t.Context(), method, s.URL+path, strings.NewReader(body))
	require.NoError(t, err)
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", "a key of this test")
	for _, c := range cookies {
		r.AddCookie(c)
	}
	answer, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	t.Cleanup(func() { answer.Body.Close() })
	return answer
}

func signIn(t *testing.T, s *httptest.Server, username string) []*http.Cookie {
	t.Helper()
	return signInWith(t, s, username, password)
}

func signInWith(t *testing.T, s *httptest.Server, username, password string) []*http.Cookie {
	t.Helper()
	a := request(t, s, "POST", "/api/session", fmt.Sprintf(`{"username":%q,"password":%q}`, username, password), nil)
	require.Equal(t, http.StatusOK, a.StatusCode)
	return a.Cookies()
}

func TestEveryRouteIsInTheTable(t *testing.T) {
	seen := map[string]bool{}
	for _, r := range routes(t) {
		seen[r.id] = true
		assert.True(t, may[r.id] != "" || open[r.id], "%s is not in the table", r.id)
	}
	for id := range may {
		assert.True(t, seen[id], "%s is no route", id)
	}
	assert.Greater(t, len(seen), 30)
}

func TestEveryRouteIsRefusedWithoutASession(t *testing.T) {
	s, _ := server(t)
	for _, r := range routes(t) {
		if open[r.id] {
			continue
		}
		a := request(t, s, r.method, r.path, "{}", nil)
		assert.Equal(t, http.StatusUnauthorized, a.StatusCode, r.id)
		assert.Equal(t, "application/problem+json", a.Header.Get("Content-Type"), r.id)
	}
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/live", "", nil).StatusCode)
}

func TestEveryRouteByRole(t *testing.T) {
	s, _ := server(t)
	letters := map[work.Role]string{work.Officer: "o", work.Pastoral: "p", work.Teacher: "t", work.Desk: "d", work.Leader: "l", work.Administrator: "a"}
	for _, role := range work.Roles {
		cookies := signIn(t, s, string(role))
		for _, r := range routes(t) {
			if open[r.id] || r.id == "sign-out" {
				continue
			}
			a := request(t, s, r.method, r.path, "{}", cookies)
			text, err := io.ReadAll(a.Body)
			require.NoError(t, err)
			refused := a.StatusCode == http.StatusForbidden && strings.Contains(string(text), "your account may not do that")
			assert.Equal(t, !strings.Contains(may[r.id], letters[role]), refused, "%s for %s: %d", r.id, role, a.StatusCode)
			assert.NotEqual(t, http.StatusInternalServerError, a.StatusCode, "%s for %s", r.id, role)
		}
	}
}

func TestAOneTimePasswordOpensNothingElse(t *testing.T) {
	s, _ := server(t)
	cookies := signIn(t, s, "fresh")
	assert.Equal(t, http.StatusForbidden, request(t, s, "GET", "/api/school", "", cookies).StatusCode)
	assert.Equal(t, http.StatusUnprocessableEntity, request(t, s, "POST", "/api/session/password", `{"password":"short"}`, cookies).StatusCode)
	assert.Equal(t, http.StatusNoContent, request(t, s, "POST", "/api/session/password", `{"password":"long enough now"}`, cookies).StatusCode)
	assert.Equal(t, http.StatusOK, request(t, s, "GET", "/api/school", "", cookies).StatusCode)
}

func TestSessionsAreInTheDatabase(t *testing.T) {
	s, office := server(t)
	cookies := signIn(t, s, "officer")
	handler, err := web.Handler(office, web.Options{}) // as after a restart
	require.NoError(t, err)
	again := httptest.NewServer(handler)
	defer again.Close()
	assert.Equal(t, http.StatusOK, request(t, again, "GET", "/api/session", "", cookies).StatusCode)
	request(t, again, "POST", "/api/session/end", "{}", cookies)
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/session", "", cookies).StatusCode)
}

func TestForgedRequestsAreRefused(t *testing.T) {
	s, _ := server(t)
	r, err := http.NewRequestWithContext(context.Background(), "POST", s.URL+"/api/safe-arrival/close", strings.NewReader("{}"))
	require.NoError(t, err)
	for _, c := range signIn(t, s, "officer") {
		r.AddCookie(c)
	}
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	a, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer a.Body.Close()
	assert.Equal(t, http.StatusForbidden, a.StatusCode)
}

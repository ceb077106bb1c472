package web_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/work"
	"meldung/work/school"
)

func TestHealth(t *testing.T) {
	s, _ := server(t)
	assert.Equal(t, http.StatusOK, request(t, s, "GET", "/healthz", "", nil).StatusCode)
}

func TestAddressesOfPagesGetTheInterfaceAndMissingFilesDoNot(t *testing.T) {
	s, _ := server(t)
	for path, status := range map[string]int{"/": 200, "/today": 200, "/registers/48/AM": 200, "/assets/none.js": 404, "/none.css": 404} {
		a := request(t, s, "GET", path, "", nil)
		assert.Equal(t, status, a.StatusCode, path)
		assert.Equal(t, "nosniff", a.Header.Get("X-Content-Type-Options"), path)
		assert.Contains(t, a.Header.Get("Content-Security-Policy"), "default-src 'self'", path)
	}
	assert.Equal(t, "no-store", request(t, s, "GET", "/api/sign-in", "", nil).Header.Get("Cache-Control"))
}

// A page looks at the moment, the policy and the span that its address holds.
func TestPagesFollowWhatTheyAreAskedFor(t *testing.T) {
	s := serving(t, demotest.Copy(t))
	as := signInWith(t, s, "tolvan", demo.Password)
	for path, want := range map[string]string{
		"/api/absence?at=2026-01-12":                                 `"asAt":"2026-01-12"`,
		"/api/absence?policy=sessions":                               `"unit":"session"`,
		"/api/absence?from=2026-01-05&to=2026-02-06":                 `"label":"Tue 6 January to Fri 6 February"`,
		"/api/absence?group=year:9":                                  `"group":"Year 9"`,
		"/api/absence?line=1/20":                                     `"line":"5"`,
		"/api/absence/20?policy=hours&from=2026-01-05&to=2026-02-06": `"fullDay":true`,
		"/api/registers/48/AM?at=2026-03-09":                         `"date":"2026-03-09"`,
		"/api/students/20?at=2025-09-30":                             `"date":"2025-09-30"`,
		"/api/absence?policy=none":                                   `there is no policy`,
		"/api/absence?group=house:red":                               `is no group`,
		"/api/absence?from=2026-02-06&to=2026-01-05":                 `before it begins`,
		"/api/absence?from=yesterday":                                `is not a date`,
	} {
		a := request(t, s, "GET", path, "", as)
		text, err := io.ReadAll(a.Body)
		require.NoError(t, err)
		assert.True(t, strings.Contains(string(text), want), "%s: %s is missing", path, want)
	}
}

// A repeat with the same key, after a lost answer, does nothing and is answered as
// before; a write without a key is refused.
func TestARepeatDoesNothingTwice(t *testing.T) {
	office := demotest.Copy(t)
	s := serving(t, office)
	as := signInWith(t, s, "tolvan", demo.Password)
	send := func(path, body, key string) (int, string) {
		r, err := http.NewRequestWithContext(t.Context(), "POST", s.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/json")
		if key != "" {
			r.Header.Set("Idempotency-Key", key)
		}
		for _, c := range as {
			r.AddCookie(c)
		}
		a, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer a.Body.Close()
		text, err := io.ReadAll(a.Body)
		require.NoError(t, err)
		return a.StatusCode, string(text)
	}
	status, first := send("/api/movements", `{"students":[300],"kind":"departed","time":"0910","reason":"appointment"}`, "arriving once")
	require.Equal(t, 200, status, first)
	_, again := send("/api/movements", `{"students":[300],"kind":"departed","time":"0910","reason":"appointment"}`, "arriving once")
	assert.Equal(t, first, again)
	var receipt work.Receipt
	require.NoError(t, json.Unmarshal([]byte(first), &receipt))
	undo := fmt.Sprintf("/api/movements/%d/undo", receipt.IDs[0])
	status, _ = send(undo, "{}", "")
	assert.Equal(t, http.StatusUnprocessableEntity, status, "every write carries a key, one without a body too")
	status, first = send(undo, "{}", "taking back once")
	require.Equal(t, 200, status, first)
	status, again = send(undo, "{}", "taking back once")
	assert.Equal(t, 200, status)
	assert.Equal(t, first, again)
}

func TestWhatIsDoneIsTold(t *testing.T) {
	s, office := server(t)
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, "GET", s.URL+"/api/live", nil)
	require.NoError(t, err)
	for _, c := range signIn(t, s, "teacher") {
		r.AddCookie(c)
	}
	a, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer a.Body.Close()
	assert.Equal(t, "text/event-stream", a.Header.Get("Content-Type"))
	lines := bufio.NewScanner(a.Body)
	for lines.Scan() && lines.Text() != ": listening" {
	}
	_, err = school.AddReason(ctx, office, work.Person{Name: "test", Role: work.Officer}, "a reason of this test", held.Reason{Word: "storm", Absent: "X", Late: "LX"})
	require.NoError(t, err)
	for lines.Scan() {
		if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
			assert.Contains(t, data, `"kind":"reason"`)
			assert.NotContains(t, data, "storm", "an event tells that something changed, never what is in it")
			return
		}
	}
	t.Fatal("no event came")
}

func TestRefusalsSayWhatWasWrongAndWhatWasKept(t *testing.T) {
	s, _ := server(t)
	cookies := signIn(t, s, "desk")
	for _, c := range []struct {
		path, body string
		status     int
		words      string
	}{
		{"/api/movements", `{"students":[1],"kind":"arrived","time":"9:75"}`, 422, "is not a time"},
		{"/api/movements", `{"students":[],"kind":"arrived"}`, 422, "expected array length"},
		{"/api/movements", `{"students":[1],"kind":"flown"}`, 422, "expected value to be one of"},
		{"/api/movements", `{"students":[1],"kind":"arrived"}`, 404, "there is no student 1"},
		{"/api/notices", `{"students":[1],"reason":""}`, 422, "needs a reason; nothing was saved"},
		{"/api/quick", `{"text":"nobody ill"}`, 422, "nobody is called"},
		{"/api/movements", `{not json`, 400, ""},
	} {
		a := request(t, s, "POST", c.path, c.body, cookies)
		text := new(strings.Builder)
		_, err := bufio.NewReader(a.Body).WriteTo(text)
		require.NoError(t, err)
		assert.Equal(t, c.status, a.StatusCode, c.body)
		assert.Contains(t, text.String(), c.words, c.body)
		assert.Equal(t, "application/problem+json", a.Header.Get("Content-Type"))
	}
}

func TestAWriteNeedsAKey(t *testing.T) {
	s, _ := server(t)
	r, err := http.NewRequestWithContext(t.Context(), "POST", s.URL+"/api/notices", strings.NewReader(`{"students":[1],"reason":"ill"}`))
	require.NoError(t, err)
	r.Header.Set("Content-Type", "application/json")
	for _, c := range signIn(t, s, "desk") {
		r.AddCookie(c)
	}
	a, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer a.Body.Close()
	assert.Equal(t, http.StatusUnprocessableEntity, a.StatusCode)
}

// slowly gives a text in three parts over some seconds.
type slowly struct {
	parts []string
	pause time.Duration
}

func (s *slowly) Read(p []byte) (int, error) {
	if len(s.parts) == 0 {
		return 0, io.EOF
	}
	time.Sleep(s.pause)
	n := copy(p, s.parts[0])
	if s.parts[0] = s.parts[0][n:]; s.parts[0] == "" {
		s.parts = s.parts[1:]
	}
	return n, nil
}

// A roster comes over a slow line: it is waited for longer than a framework's five seconds.
func TestARosterMayComeSlowly(t *testing.T) {
	t.Parallel()
	s := serving(t, demotest.Copy(t))
	as := signInWith(t, s, "admin", demo.Password)
	body := &slowly{[]string{`{"kind":"oneroster","apply":false,`, `"files":[`, `]}`}, 2 * time.Second}
	r, err := http.NewRequestWithContext(t.Context(), "POST", s.URL+"/api/school/import", body)
	require.NoError(t, err)
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", "over a slow line")
	for _, c := range as {
		r.AddCookie(c)
	}
	a, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	defer a.Body.Close()
	text, err := io.ReadAll(a.Body)
	require.NoError(t, err)
	assert.Equal(t, 200, a.StatusCode, string(text))
	assert.Contains(t, string(text), "orgs.csv: the file is missing")
}

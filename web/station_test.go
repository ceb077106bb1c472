package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/deskpage"
	"meldung/pages/frame"
	"meldung/store"
	"meldung/work"
	"meldung/work/station"
)

var officer = work.Person{Account: 41, Name: "R. Tolvan", Role: work.Officer}

// device binds a device to a new station and returns its cookies.
func device(t *testing.T, s *httptest.Server, o *work.Office, name string) []*http.Cookie {
	t.Helper()
	code, err := station.Add(t.Context(), o, work.Person{Account: 46, Role: work.Administrator}, station.NewStation{Name: name})
	require.NoError(t, err)
	bound := request(t, s, http.MethodPost, "/api/station/bind", fmt.Sprintf(`{"code":%q}`, code.Code), nil)
	require.Equal(t, http.StatusOK, bound.StatusCode)
	cookie := bound.Cookies()[0]
	assert.True(t, cookie.HttpOnly)
	assert.Equal(t, http.SameSiteStrictMode, cookie.SameSite)
	return bound.Cookies()
}

func TestGuessingAtAStation(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	s := serving(t, o)
	cookies := device(t, s, o, "Pier")
	found, err := frame.FindStudents(t.Context(), o, officer, "Juno Sandal", "", 1)
	require.NoError(t, err)
	own := fmt.Sprintf(`{"number":%q}`, found[0].Student.Number)
	who := func(body string) int {
		status, _ := send(t, s, "/api/station/who", "", body, cookies)
		return status
	}
	assert.Equal(t, http.StatusOK, who(own))
	// The own number in between frees a guesser once.
	for _, n := range []string{"00001", "00002"} {
		assert.Equal(t, http.StatusNotFound, who(fmt.Sprintf(`{"number":%q}`, n)))
		assert.Equal(t, http.StatusOK, who(own))
	}
	assert.Equal(t, http.StatusNotFound, who(`{"number":"00003"}`))
	assert.Equal(t, http.StatusTooManyRequests, who(`{"number":"00004"}`))
	assert.Equal(t, http.StatusTooManyRequests, who(own), "everyone waits at this device")
	other := device(t, s, o, "Canteen")
	status, _ := send(t, s, "/api/station/who", "", own, other)
	assert.Equal(t, http.StatusOK, status, "and nobody elsewhere")
}

func TestGuessingTheCodeOfAStation(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	s := serving(t, o)
	for range 3 {
		status, _ := send(t, s, "/api/station/bind", "", `{"code":"00000000"}`, nil)
		assert.Equal(t, http.StatusForbidden, status)
	}
	status, _ := send(t, s, "/api/station/bind", "", `{"code":"00000001"}`, nil)
	assert.Equal(t, http.StatusTooManyRequests, status)
	for path, body := range map[string]string{"/api/station/who": `{"number":"40001"}`, "/api/station/moves": `{"number":"40001","kind":"arrived"}`} {
		status, answer := send(t, s, path, "a key long enough", body, nil)
		assert.Equal(t, http.StatusForbidden, status, "no device, no answer")
		assert.NotContains(t, fmt.Sprint(answer), "given")
	}
}

// Five hundred students in a burst at three stations, each asked for and signed in: all of
// them are in, once each, far within the quarter of an hour that the morning has.
func TestFiveHundredArriveAtTheStations(t *testing.T) {
	o, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(demo.Today+1, day.MustMinute("08:40"))) // nobody is in yet
	s := serving(t, o)
	const students, stations = 500, 3
	var numbers []string
	school, err := store.LoadSchool(t.Context(), o.Store().Read())
	require.NoError(t, err)
	for _, one := range school.Students[:students] {
		numbers = append(numbers, one.Number)
	}
	var devices [stations][]*http.Cookie
	for i := range devices {
		devices[i] = device(t, s, o, fmt.Sprint("station ", i))
	}
	var slowest time.Duration
	var guard sync.Mutex
	var wait sync.WaitGroup
	began := time.Now()
	for i := range devices {
		wait.Go(func() {
			for n := i; n < students; n += stations {
				start := time.Now()
				status, _ := send(t, s, "/api/station/who", "", fmt.Sprintf(`{"number":%q}`, numbers[n]), devices[i])
				assert.Equal(t, http.StatusOK, status)
				status, _ = send(t, s, "/api/station/moves", fmt.Sprint("arrival of ", numbers[n]), fmt.Sprintf(`{"number":%q,"kind":"arrived"}`, numbers[n]), devices[i])
				assert.Equal(t, http.StatusOK, status)
				guard.Lock()
				slowest = max(slowest, time.Since(start))
				guard.Unlock()
			}
		})
	}
	wait.Wait()
	took := time.Since(began)
	t.Logf("%d arrivals at %d stations in %s, the slowest student waited %s", students, stations, took.Round(time.Millisecond), slowest.Round(time.Millisecond))
	assert.Less(t, took, 5*time.Minute, "a quarter of an hour has room for three times as many")
	shown, err := deskpage.Show(t.Context(), o, "")
	require.NoError(t, err)
	seen := map[ids.Student]int{}
	for _, m := range shown.Movements {
		seen[m.Student.ID]++
	}
	assert.Len(t, seen, students)
	for id, n := range seen {
		assert.Equal(t, 1, n, "student %d", id)
	}
}

// send posts to a server, from several goroutines if need be.
func send(t *testing.T, s *httptest.Server, path, key, body string, cookies []*http.Cookie) (status int, answer map[string]any) {
	r, err := http.NewRequestWithContext(t.Context(), http.MethodPost, s.URL+path, strings.NewReader(body))
	if !assert.NoError(t, err) {
		return 0, nil
	}
	r.Header.Set("Content-Type", "application/json")
	if key != "" {
		r.Header.Set("Idempotency-Key", key)
	}
	for _, c := range cookies {
		r.AddCookie(c)
	}
	got, err := http.DefaultClient.Do(r)
	if !assert.NoError(t, err) {
		return 0, nil
	}
	defer got.Body.Close()
	_ = json.NewDecoder(got.Body).Decode(&answer) // a refusal may have none
	return got.StatusCode, answer
}

package web_test

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/web"
)

// asking reads a path as a browser does that takes what is compressed.
func asking(t *testing.T, url string, as []*http.Cookie, tag string) (*http.Response, []byte) {
	t.Helper()
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, url, nil)
	require.NoError(t, err)
	r.Header.Set("Accept-Encoding", "gzip")
	if tag != "" {
		r.Header.Set("If-None-Match", tag)
	}
	for _, c := range as {
		r.AddCookie(c)
	}
	a, err := http.DefaultTransport.RoundTrip(r) // which leaves the compression to the test
	require.NoError(t, err)
	defer a.Body.Close()
	body, err := io.ReadAll(a.Body)
	require.NoError(t, err)
	return a, body
}

func unpacked(t *testing.T, packed []byte) []byte {
	t.Helper()
	r, err := gzip.NewReader(bytes.NewReader(packed))
	require.NoError(t, err)
	plain, err := io.ReadAll(r)
	require.NoError(t, err)
	return plain
}

// An answer is made once for all who ask for the same, comes compressed, is not sent again to who
// has it, and says up to which write it holds everything.
func TestAnswersAreMadeOnceAndSentOnce(t *testing.T) {
	t.Parallel()
	office := demotest.Copy(t)
	s := serving(t, office)
	officer, desk, osk := signInWith(t, s, "tolvan", demo.Password), signInWith(t, s, "kersey", demo.Password), signInWith(t, s, "osk", demo.Password)
	first, packed := asking(t, s.URL+"/api/rail", officer, "")
	assert.Equal(t, 200, first.StatusCode)
	tag := first.Header.Get("ETag")
	require.NotEmpty(t, tag)
	assert.Equal(t, "gzip", first.Header.Get("Content-Encoding"))
	assert.True(t, json.Valid(unpacked(t, packed)))
	covers, err := strconv.ParseInt(first.Header.Get("Covers"), 10, 64)
	require.NoError(t, err)
	assert.Equal(t, int64(office.LastEntry()), covers)

	again, body := asking(t, s.URL+"/api/rail", desk, tag)
	assert.Equal(t, http.StatusNotModified, again.StatusCode, "another account gets the same rail")
	assert.Empty(t, body)
	assert.NotEmpty(t, again.Header.Get("Covers"), "an answer that still holds may cover more")

	// What depends on who asks is never handed to another.
	own, list := asking(t, s.URL+"/api/registers", osk, "")
	all, whole := asking(t, s.URL+"/api/registers", officer, own.Header.Get("ETag"))
	assert.Equal(t, 200, all.StatusCode)
	assert.Greater(t, len(whole), len(list))

	moved := request(t, s, "POST", "/api/movements", `{"students":[300],"kind":"departed","time":"0910","reason":"appointment"}`, officer)
	require.Equal(t, 200, moved.StatusCode)
	later, _ := asking(t, s.URL+"/api/rail", desk, tag)
	assert.Equal(t, 200, later.StatusCode, "a write is seen at once")
	now, err := strconv.ParseInt(later.Header.Get("Covers"), 10, 64)
	require.NoError(t, err)
	assert.Greater(t, now, covers)
}

// Readers see the school as it was while a writer holds its transaction.
func TestNobodyWaitsForAWriterToRead(t *testing.T) {
	t.Parallel()
	office := demotest.Copy(t)
	s := serving(t, office)
	as := signInWith(t, s, "tolvan", demo.Password)
	for _, path := range []string{"/api/today", "/api/registers", "/api/desk", "/api/session"} {
		a, _ := asking(t, s.URL+path, as, "")
		require.Equal(t, 200, a.StatusCode)
	}
	held, let := make(chan struct{}), make(chan struct{})
	var writing sync.WaitGroup
	writing.Go(func() {
		assert.NoError(t, office.Store().Write(context.WithoutCancel(t.Context()), func(tx *sqlx.Tx) error {
			if _, err := tx.ExecContext(t.Context(), `UPDATE student SET middle = 'x' WHERE id = 1`); err != nil {
				return err
			}
			close(held)
			<-let
			return nil
		}))
	})
	<-held
	end := time.Now().Add(3 * time.Second)
	var took []time.Duration
	for n := 0; time.Now().Before(end); n++ {
		for _, path := range []string{"/api/today", "/api/registers", "/api/desk", "/api/session"} {
			begun := time.Now()
			a, _ := asking(t, fmt.Sprintf("%s%s?n=%d", s.URL, path, n), as, "")
			took = append(took, time.Since(begun))
			require.Equal(t, 200, a.StatusCode)
		}
		time.Sleep(50 * time.Millisecond)
	}
	close(let)
	writing.Wait()
	slices.Sort(took)
	assert.Less(t, took[len(took)/2], 100*time.Millisecond)
	assert.Less(t, took[len(took)-1], time.Second, "on a busy machine too; alone on it the slowest is below 100 ms")
}

// A school that can't be written to says so to who watches it.
func TestHealthKnowsThatNothingCanBeWritten(t *testing.T) {
	t.Parallel()
	office := demotest.Copy(t)
	require.NoError(t, office.Store().Close())
	s := serving(t, office)
	a, err := http.Get(s.URL + "/healthz")
	require.NoError(t, err)
	defer a.Body.Close()
	assert.Equal(t, http.StatusServiceUnavailable, a.StatusCode)
}

// A line of the log has a request's number and route, and nothing of whom it was about.
func TestTheLogNamesNobody(t *testing.T) {
	office := demotest.Copy(t)
	handler := opened(t, office, web.Options{Logs: true})
	var lines bytes.Buffer
	var mu sync.Mutex
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewJSONHandler(locked{&mu, &lines}, nil)))
	defer slog.SetDefault(before)
	as := signInWith(t, handler, "tolvan", demo.Password)
	a, _ := asking(t, handler.URL+"/api/find?q=quell", as, "")
	require.NotEmpty(t, a.Header.Get("Request-Id"))
	idris := demotest.Find(t, office, "Idris Quell").Student.ID
	_, _ = asking(t, fmt.Sprintf("%s/api/students/%d", handler.URL, idris), as, "")
	mu.Lock()
	defer mu.Unlock()
	text := lines.String()
	assert.Contains(t, text, a.Header.Get("Request-Id"))
	assert.Contains(t, text, `"route":"/api/students/:id"`)
	for _, secret := range []string{"quell", "Quell", "tolvan", demo.Password, fmt.Sprintf("/students/%d", idris), as[0].Value} {
		assert.NotContains(t, text, secret)
	}
	assert.Equal(t, 3, strings.Count(text, `"msg":"request"`), text)
}

type locked struct {
	mu *sync.Mutex
	w  io.Writer
}

func (l locked) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.w.Write(p)
}

package web_test

import (
	"bytes"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/outside"
	"meldung/web"
)

// A carrier's reports are taken where they are signed by the secret that it shares with the
// school, and were signed lately; without a secret there is no such door.
func TestReportsOfACarrierAreSigned(t *testing.T) {
	const secret = "a secret of the school"
	office := demotest.Copy(t)
	handler, err := web.Handler(office, web.Options{CarrierSecret: secret})
	require.NoError(t, err)
	closed, err := web.Handler(office, web.Options{})
	require.NoError(t, err)
	post := func(h http.Handler, key string, at time.Time, body string) (int, string) {
		r := httptest.NewRequest(http.MethodPost, "/carriers/reports", strings.NewReader(body))
		timestamp, signature := outside.Sign(key, []byte(body), at)
		r.Header.Set(outside.TimestampHeader, timestamp)
		r.Header.Set(outside.SignatureHeader, signature)
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		text, err := io.ReadAll(w.Result().Body)
		require.NoError(t, err)
		return w.Code, string(text)
	}
	const body = `{"reports":[{"id":"r1","message":"no such thing","state":"delivered"}]}`
	now := time.Now()
	status, text := post(handler, secret, now, body)
	assert.Equal(t, http.StatusOK, status)
	assert.JSONEq(t, `{"taken":0,"before":0,"unknown":["r1"]}`, text)
	for what, c := range map[string]struct {
		status int
		do     func() (int, string)
	}{
		"another secret": {http.StatusUnauthorized, func() (int, string) { return post(handler, "another secret of 16", now, body) }},
		"an hour ago":    {http.StatusUnauthorized, func() (int, string) { return post(handler, secret, now.Add(-time.Hour), body) }},
		"an hour ahead":  {http.StatusUnauthorized, func() (int, string) { return post(handler, secret, now.Add(time.Hour), body) }},
		"no list":        {http.StatusUnprocessableEntity, func() (int, string) { return post(handler, secret, now, "reports") }},
		"a state of none": {http.StatusUnprocessableEntity, func() (int, string) {
			return post(handler, secret, now, strings.Replace(body, "delivered", "eaten", 1))
		}},
		"too much": {http.StatusRequestEntityTooLarge, func() (int, string) {
			return post(handler, secret, now, string(bytes.Repeat([]byte("x"), 1<<20)))
		}},
		"no secret": {http.StatusNotFound, func() (int, string) { return post(closed, "", now, body) }},
	} {
		got, text := c.do()
		assert.Equal(t, c.status, got, what)
		assert.NotContains(t, text, secret, what)
	}
}

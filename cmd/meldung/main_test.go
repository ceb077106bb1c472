package main

import (
	"bytes"
	"context"
	"crypto/tls"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/work/plans"
)

func TestASelfSignedPairServesTLSAndIsKept(t *testing.T) {
	folder := filepath.Join(t.TempDir(), "data")
	config, err := tlsConfig("", "", true, folder)
	require.NoError(t, err)
	first, err := os.ReadFile(filepath.Join(folder, "trial-cert.pem"))
	require.NoError(t, err)
	_, err = tlsConfig("", "", true, folder)
	require.NoError(t, err)
	second, err := os.ReadFile(filepath.Join(folder, "trial-cert.pem"))
	require.NoError(t, err)
	assert.Equal(t, first, second, "browsers that were told to trust it still do")
	key, err := os.Stat(filepath.Join(folder, "trial-key.pem"))
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), key.Mode().Perm())

	ctx, stop := context.WithCancel(t.Context())
	ready, done := make(chan string, 1), make(chan error, 1)
	handler := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { w.WriteHeader(http.StatusTeapot) })
	go func() { done <- listen(ctx, "127.0.0.1:0", handler, config, func(url string) { ready <- url }) }()
	client := &http.Client{Timeout: 20 * time.Second, Transport: &http.Transport{ForceAttemptHTTP2: true, TLSClientConfig: &tls.Config{InsecureSkipVerify: true}}}
	a, err := client.Get(<-ready)
	require.NoError(t, err)
	defer a.Body.Close()
	assert.Equal(t, http.StatusTeapot, a.StatusCode)
	assert.Equal(t, 2, a.ProtoMajor, "many tabs share one connection")
	stop()
	assert.NoError(t, <-done)
}

func TestWithoutTLSThereIsNoConfig(t *testing.T) {
	config, err := tlsConfig("", "", false, t.TempDir())
	require.NoError(t, err)
	assert.Nil(t, config)
	_, err = tlsConfig("none.pem", "none.pem", false, t.TempDir())
	assert.ErrorContains(t, err, "reading the certificate")
}

func TestAPlanIsToldInFull(t *testing.T) {
	plan := plans.Plan{Parts: []plans.PlanPart{{What: "student", Added: 2, Same: 3}}, Notes: []string{"a note"}, Details: []string{"add student A"}}
	var out bytes.Buffer
	require.NoError(t, tellPlan(&out, plan))
	assert.Contains(t, out.String(), "note: a note\nadd student A\nstudent ")
	assert.Contains(t, out.String(), "nothing was changed; --apply does it")

	plan.Applied = true
	out.Reset()
	require.NoError(t, tellPlan(&out, plan))
	assert.Contains(t, out.String(), "applied")

	plan.Problems = []string{"users.csv:3: role"}
	out.Reset()
	assert.ErrorContains(t, tellPlan(&out, plan), "1 lines are wrong; nothing was changed")
	assert.Contains(t, out.String(), "wrong: users.csv:3: role")

	out.Reset()
	require.NoError(t, tellPlan(&out, plans.Plan{Applied: true}))
	assert.Contains(t, out.String(), "nothing to change")
}

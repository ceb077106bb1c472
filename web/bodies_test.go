package web

import (
	"bufio"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Bodies have time in proportion to what has come of them: a line that is slow but goes on is
// waited for, one on which a byte comes now and then is not.
func TestBodiesComeSteadily(t *testing.T) {
	t.Parallel()
	const atOnce = 300 * time.Millisecond
	came := make(chan error, 1)
	s := httptest.NewServer(steady(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		_, err := io.Copy(io.Discard, r.Body)
		came <- err
		if err != nil {
			w.WriteHeader(http.StatusRequestTimeout)
			return
		}
		select { // the work takes longer than the body could
		case <-r.Context().Done():
			w.WriteHeader(http.StatusInternalServerError)
		case <-time.After(2 * atOnce):
		}
	}), atOnce))
	defer s.Close()
	send := func(length, at int, pause time.Duration) *http.Response {
		line, err := net.Dial("tcp", s.Listener.Addr().String())
		require.NoError(t, err)
		t.Cleanup(func() { _ = line.Close() })
		_, err = fmt.Fprintf(line, "POST / HTTP/1.1\r\nHost: school\r\nContent-Length: %d\r\n\r\n", length)
		require.NoError(t, err)
		go func() {
			part := strings.Repeat("x", at)
			for sent := 0; sent < length; sent += at {
				if _, err := io.WriteString(line, part); err != nil {
					return
				}
				time.Sleep(pause)
			}
		}()
		answer, err := http.ReadResponse(bufio.NewReader(line), nil)
		require.NoError(t, err)
		_ = answer.Body.Close()
		return answer
	}
	a := send(1000, 1, 50*time.Millisecond)
	require.Error(t, <-came, "a byte now and then")
	assert.Equal(t, http.StatusRequestTimeout, a.StatusCode)
	a = send(16*bodyPace/10, bodyPace/10, 50*time.Millisecond) // 0.8 s in all, twice as fast as need be
	require.NoError(t, <-came)
	assert.Equal(t, http.StatusOK, a.StatusCode, "the deadline of the body does not end the work")
}

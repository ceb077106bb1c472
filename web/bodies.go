package web

import (
	"io"
	"net/http"
	"time"
)

const (
	bodyAtOnce = 10 * time.Second // for a body of any size
	bodyPace   = 16 << 10         // bytes a second that a body comes at, at least, beyond that
)

// steady gives the bodies of requests time in proportion to what has come of them, so that nobody
// holds a connection by sending a byte now and then.
func steady(next http.Handler, atOnce time.Duration) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Body != nil && r.Body != http.NoBody {
			r.Body = &steadyBody{ReadCloser: r.Body, line: http.NewResponseController(w), due: time.Now().Add(atOnce)}
		}
		next.ServeHTTP(w, r)
	})
}

type steadyBody struct {
	io.ReadCloser
	line *http.ResponseController
	due  time.Time // for what has not come yet, were there nothing more of it
	came int64
}

func (b *steadyBody) Read(p []byte) (int, error) {
	// Where the line knows no deadlines, as in a test without one, the body is read as it comes.
	_ = b.line.SetReadDeadline(b.due.Add(time.Duration(b.came) * time.Second / bodyPace))
	n, err := b.ReadCloser.Read(p)
	b.came += int64(n)
	if err == io.EOF {
		_ = b.line.SetReadDeadline(time.Time{}) // the work that it asks for takes its own time
	}
	return n, err
}

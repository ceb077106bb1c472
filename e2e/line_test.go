package e2e

import (
	"io"
	"net"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// line is a stretch of network between browser and program that can be cut: a browser's
// own offline switch leaves open streams alone.
type line struct {
	to   string
	mu   sync.Mutex
	cut  bool
	open map[net.Conn]bool
}

// throughLine returns the same school, reached over a line of its own.
func throughLine(t *testing.T, s *school) (*school, *line) {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = listener.Close() })
	l := &line{to: s.addr, open: map[net.Conn]bool{}}
	go func() {
		for {
			c, err := listener.Accept()
			if err != nil {
				return
			}
			go l.carry(c)
		}
	}()
	over := *s
	over.addr = listener.Addr().String()
	over.url = "http://" + over.addr
	return &over, l
}

func (l *line) carry(c net.Conn) {
	out, err := net.Dial("tcp", l.to)
	if err != nil || !l.connect(c, out) {
		_ = c.Close()
		return
	}
	go func() { _, _ = io.Copy(out, c); l.hangUp(c, out) }()
	_, _ = io.Copy(c, out)
	l.hangUp(c, out)
}

func (l *line) connect(both ...net.Conn) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	for _, c := range both {
		l.open[c] = true
	}
	return !l.cut
}

func (l *line) hangUp(both ...net.Conn) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for _, c := range both {
		_ = c.Close()
		delete(l.open, c)
	}
}

// set cuts the line, with everything that is on it, or mends it.
func (l *line) set(cut bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.cut = cut
	if cut {
		for c := range l.open {
			_ = c.Close()
		}
	}
}

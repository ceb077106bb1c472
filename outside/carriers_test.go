package outside

import (
	"bufio"
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net"
	"net/http"
	"net/http/httptest"
	"net/mail"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/work/messages"
)

const secret = "a secret of the school"

var note = messages.Outgoing{Key: "meldung-29500000-7", Channel: "text", Address: "07700 900 012", Subject: "Skerry School", Text: "Asta is not in. Łucja neither."}

// provider is a small carrier of texts that answers as it is told.
func provider(t *testing.T, answer http.HandlerFunc) *Texts {
	t.Helper()
	s := httptest.NewServer(answer)
	t.Cleanup(s.Close)
	c, err := NewTexts(s.URL+"/send?account=hidden-4711", secret)
	require.NoError(t, err)
	return c
}

func isPermanent(err error) bool { return messages.IsPermanent(err) }

func TestATextIsPostedSigned(t *testing.T) {
	var body []byte
	c := provider(t, func(w http.ResponseWriter, r *http.Request) {
		body, _ = io.ReadAll(r.Body)
		assert.NoError(t, Verify(secret, r.Header.Get(TimestampHeader), r.Header.Get(SignatureHeader), body, time.Now()))
		assert.Equal(t, note.Key, r.Header.Get("Idempotency-Key"))
		fmt.Fprint(w, `{"reference":"carrier-9"}`)
	})
	reference, err := c.Carry(t.Context(), note)
	require.NoError(t, err)
	assert.Equal(t, "carrier-9", reference)
	assert.JSONEq(t, `{"key":"meldung-29500000-7","to":"07700 900 012","text":"Asta is not in. Łucja neither.","sender":"Skerry School"}`, string(body))
}

// What a carrier may answer, and whether it is tried again. No error tells the address, which may
// hold what is secret.
func TestWhatACarrierOfTextsMayAnswer(t *testing.T) {
	for status, want := range map[int]string{200: "", 202: "", 204: "", 400: "for good", 401: "for good", 404: "for good", 301: "for good", 408: "again", 429: "again", 500: "again", 503: "again"} {
		c := provider(t, func(w http.ResponseWriter, _ *http.Request) {
			w.Header().Set("Location", "/elsewhere")
			w.WriteHeader(status)
		})
		_, err := c.Carry(t.Context(), note)
		got := ""
		if err != nil {
			got = map[bool]string{true: "for good", false: "again"}[isPermanent(err)]
			assert.NotContains(t, err.Error(), "hidden-4711")
		}
		assert.Equal(t, want, got, "%d", status)
	}
	slow := make(chan struct{})
	c := provider(t, func(http.ResponseWriter, *http.Request) { <-slow })
	ctx, cancel := context.WithTimeout(t.Context(), 50*time.Millisecond)
	defer cancel()
	_, err := c.Carry(ctx, note)
	assert.EqualError(t, err, "the carrier did not answer in time")
	assert.False(t, isPermanent(err))
	close(slow)
	nobody, err := NewTexts("http://127.0.0.1:1/send?account=hidden-4711", secret)
	require.NoError(t, err)
	_, err = nobody.Carry(t.Context(), note)
	require.Error(t, err)
	assert.NotContains(t, err.Error(), "hidden-4711")
	assert.False(t, isPermanent(err))
	for _, wrong := range [][2]string{{"mailto:somebody", secret}, {"not an address", secret}, {"https://carrier.example/send", "short"}} {
		_, err := NewTexts(wrong[0], wrong[1])
		assert.Error(t, err, wrong[0])
	}
}

// mailServer is a small server of e-mails: it takes what it is given, but for some recipients.
type mailServer struct {
	net.Listener
	mu   sync.Mutex
	mail []string
}

func newMailServer(t *testing.T) *mailServer {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	s := &mailServer{Listener: l}
	t.Cleanup(func() { l.Close() })
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			go s.talk(c)
		}
	}()
	return s
}

func (s *mailServer) talk(c net.Conn) {
	defer c.Close()
	in := bufio.NewReader(c)
	say := func(text string) { fmt.Fprintf(c, "%s\r\n", text) }
	say("220 mail.example ready")
	for {
		line, err := in.ReadString('\n')
		if err != nil {
			return
		}
		switch verb := strings.ToUpper(strings.TrimSpace(line)); {
		case strings.HasPrefix(verb, "EHLO"):
			say("250-mail.example")
			say("250 8BITMIME")
		case strings.Contains(verb, "FULL@"):
			say("452 the mailbox is full")
		case strings.Contains(verb, "GONE@"):
			say("550 nobody of that name")
		case strings.Contains(verb, "SLOW@"):
			time.Sleep(2 * time.Second)
			say("250 at last")
		case verb == "DATA":
			say("354 go on")
			var text strings.Builder
			for {
				line, err := in.ReadString('\n')
				if err != nil {
					return
				}
				if line == ".\r\n" {
					break
				}
				text.WriteString(line)
			}
			s.mu.Lock()
			s.mail = append(s.mail, text.String())
			s.mu.Unlock()
			say("250 taken")
		case verb == "QUIT":
			say("221 bye")
			return
		default:
			say("250 well")
		}
	}
}

func (s *mailServer) port() int { return s.Addr().(*net.TCPAddr).Port }

func TestAnEMailGoesOut(t *testing.T) {
	s := newMailServer(t)
	c, err := NewMail(MailSettings{Host: "127.0.0.1", Port: s.port(), From: "Skerry School <office@skerry.example>", Plain: true})
	require.NoError(t, err)
	m := note
	m.Address, m.Subject = "dot@home.example", "Skerry School\r\nBcc: other@home.example"
	_, err = c.Carry(t.Context(), m)
	require.NoError(t, err)
	require.Len(t, s.mail, 1)
	for _, want := range []string{"From: \"Skerry School\" <office@skerry.example>", "To: <dot@home.example>", "Message-ID: <meldung-29500000-7@skerry.example>", "Asta is not in."} {
		assert.Contains(t, s.mail[0], want)
	}
	assert.NotContains(t, s.mail[0], "\r\nBcc:", "a subject is one line")

	content := bytes.Repeat([]byte{0, 1, 250, 'a', '\n'}, 40_000)
	with := m
	with.Files = []messages.File{{Name: "student-data-list.pdf", Type: "application/pdf", Content: content}}
	_, err = c.Carry(t.Context(), with)
	require.NoError(t, err)
	require.Len(t, s.mail, 2)
	sent, err := mail.ReadMessage(strings.NewReader(s.mail[1]))
	require.NoError(t, err)
	_, parts, err := mime.ParseMediaType(sent.Header.Get("Content-Type"))
	require.NoError(t, err)
	r := multipart.NewReader(sent.Body, parts["boundary"])
	_, err = r.NextPart()
	require.NoError(t, err)
	part, err := r.NextPart()
	require.NoError(t, err)
	assert.Equal(t, "student-data-list.pdf", part.FileName())
	got, err := io.ReadAll(base64.NewDecoder(base64.StdEncoding, part))
	require.NoError(t, err)
	assert.True(t, bytes.Equal(content, got), "as it was")

	for address, want := range map[string]string{"full@home.example": "again", "gone@home.example": "for good", "no address": "for good"} {
		m.Address = address
		_, err := c.Carry(t.Context(), m)
		require.Error(t, err, address)
		assert.Equal(t, want, map[bool]string{true: "for good", false: "again"}[isPermanent(err)], address)
	}
	m.Address = "slow@home.example"
	ctx, cancel := context.WithTimeout(t.Context(), 100*time.Millisecond)
	defer cancel()
	_, err = c.Carry(ctx, m)
	require.Error(t, err)
	assert.False(t, isPermanent(err))
	assert.Len(t, s.mail, 2, "none of these went out")
}

// E-mails leave by TLS: a server without it gets nothing, and being without has to be asked for,
// on this machine alone.
func TestEMailsLeaveByTLS(t *testing.T) {
	s := newMailServer(t)
	c, err := NewMail(MailSettings{Host: "127.0.0.1", Port: s.port(), From: "office@skerry.example"})
	require.NoError(t, err)
	m := note
	m.Address = "dot@home.example"
	_, err = c.Carry(t.Context(), m)
	require.Error(t, err)
	assert.False(t, isPermanent(err))
	assert.Empty(t, s.mail)
	_, err = NewMail(MailSettings{Host: "mail.example", Port: 25, From: "office@skerry.example", Plain: true})
	assert.ErrorContains(t, err, "to this machine alone")
	_, err = NewMail(MailSettings{Host: "mail.example", Port: 25, From: "the office"})
	assert.ErrorContains(t, err, "is no address")
}

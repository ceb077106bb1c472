// Package checkin holds the rules by which students check themselves in: the code
// that changes while a window is open, and the ticket it is exchanged for. It must
// not know of clocks, phones or pages.
package checkin

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"encoding/binary"
	"fmt"
	"hash"
	"strconv"
	"strings"

	"meldung/core/ids"
)

// Seconds is how long a code is shown.
const Seconds = 20

// digits of a code.
const digits = 6

// Step counts the codes of a window: one for each 20 seconds since 1970.
type Step int64

// StepAt returns the step of a time in seconds since 1970, and the seconds until
// the next one, from 1 to 20.
func StepAt(unix int64) (s Step, left int) {
	return Step(unix / Seconds), int(Seconds - unix%Seconds)
}

// Code returns the six digits that are shown during a step: the time-based one-time
// password of RFC 6238 with HMAC-SHA-256 and steps of 20 seconds.
func Code(secret []byte, s Step) string { return password(sha256.New, secret, uint64(s), digits) }

// password is the one-time password of RFC 4226, section 5.3, for a counter.
func password(h func() hash.Hash, secret []byte, counter uint64, digits int) string {
	mac := hmac.New(h, secret)
	var b [8]byte
	binary.BigEndian.PutUint64(b[:], counter)
	mac.Write(b[:])
	sum := mac.Sum(nil)
	at := sum[len(sum)-1] & 0xf
	n := binary.BigEndian.Uint32(sum[at:at+4]) & 0x7fffffff
	modulus := uint32(1)
	for range digits {
		modulus *= 10
	}
	return fmt.Sprintf("%0*d", digits, n%modulus)
}

// Shown reports whether a code was on show at a step or the one before it: whoever
// read it just before it changed is not too late.
func Shown(secret []byte, code string, now Step) bool {
	return hmac.Equal([]byte(code), []byte(Code(secret, now))) || hmac.Equal([]byte(code), []byte(Code(secret, now-1)))
}

// TicketSeconds is how long a phone has after the code to enter a number.
const TicketSeconds = 180

// Link returns what an address for a remote lesson ends with. Whoever has it may begin a
// check-in at a distance for as long as the window is open; it never changes.
func Link(secret []byte, window ids.CheckIn) string {
	mac := hmac.New(sha256.New, secret)
	fmt.Fprintf(mac, "link %d", window)
	return fmt.Sprintf("%d.%s", window, base64.RawURLEncoding.EncodeToString(mac.Sum(nil)[:16]))
}

// IsLink reports whether a text is the link of a window.
func IsLink(secret []byte, window ids.CheckIn, text string) bool {
	return hmac.Equal([]byte(text), []byte(Link(secret, window)))
}

// Ticket returns what a phone gets for a right code or link: leave to check in on one
// window for three minutes, after a link at a distance alone. It is of use to no other phone.
func Ticket(secret []byte, window ids.CheckIn, phone string, unix int64, byLink bool) string {
	until := unix + TicketSeconds
	return fmt.Sprintf("%d.%d.%s", window, until, seal(secret, window, phone, until, byLink))
}

func seal(secret []byte, window ids.CheckIn, phone string, until int64, byLink bool) string {
	mac := hmac.New(sha256.New, secret)
	kind := "ticket"
	if byLink {
		kind = "ticket by link"
	}
	fmt.Fprintf(mac, "%s %d %d %s", kind, window, until, phone)
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil))
}

// Window returns the window that a ticket or a link names; ok is false for what is neither.
// It does not say whether it is good.
func Window(ticket string) (window ids.CheckIn, ok bool) {
	name, _, _ := strings.Cut(ticket, ".")
	number, err := strconv.ParseInt(name, 10, 64)
	return ids.CheckIn(number), err == nil
}

// Good reports whether a ticket was given to this phone for this window and has
// not run out, and whether it was given for the link.
func Good(secret []byte, ticket string, window ids.CheckIn, phone string, unix int64) (good, byLink bool) {
	parts := strings.SplitN(ticket, ".", 3)
	if len(parts) != 3 || parts[0] != strconv.FormatInt(int64(window), 10) {
		return false, false
	}
	until, err := strconv.ParseInt(parts[1], 10, 64)
	if err != nil || unix > until {
		return false, false
	}
	sealed := func(byLink bool) bool {
		return hmac.Equal([]byte(parts[2]), []byte(seal(secret, window, phone, until, byLink)))
	}
	byLink = sealed(true)
	return byLink || sealed(false), byLink
}

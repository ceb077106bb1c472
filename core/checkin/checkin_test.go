package checkin

import (
	"crypto/sha1"
	"crypto/sha256"
	"crypto/sha512"
	"hash"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/ids"
)

// The values of RFC 6238, appendix B: eight digits, steps of 30 seconds.
func TestPasswordsAreThoseOfTheStandard(t *testing.T) {
	secrets := map[string]struct {
		hash   func() hash.Hash
		secret string
	}{
		"SHA1":   {sha1.New, "12345678901234567890"},
		"SHA256": {sha256.New, "12345678901234567890123456789012"},
		"SHA512": {sha512.New, "1234567890123456789012345678901234567890123456789012345678901234"},
	}
	for _, c := range []struct {
		unix uint64
		mode string
		want string
	}{
		{59, "SHA1", "94287082"}, {59, "SHA256", "46119246"}, {59, "SHA512", "90693936"},
		{1111111109, "SHA1", "07081804"}, {1111111109, "SHA256", "68084774"}, {1111111109, "SHA512", "25091201"},
		{1111111111, "SHA256", "67062674"}, {1234567890, "SHA256", "91819424"}, {2000000000, "SHA256", "90698825"},
		{20000000000, "SHA1", "65353130"}, {20000000000, "SHA256", "77737706"}, {20000000000, "SHA512", "47863826"},
	} {
		s := secrets[c.mode]
		assert.Equal(t, c.want, password(s.hash, []byte(s.secret), c.unix/30, 8), "%d %s", c.unix, c.mode)
	}
}

func TestACodeIsGoodWhileItIsShownAndOneStepLonger(t *testing.T) {
	secret := []byte("the secret of a window")
	s, left := StepAt(1_000_019)
	assert.Equal(t, 1, left)
	code := Code(secret, s)
	assert.Len(t, code, 6)
	for later, good := range map[Step]bool{-1: false, 0: true, 1: true, 2: false} {
		assert.Equal(t, good, Shown(secret, code, s+later), "%d steps later", later)
	}
	assert.False(t, Shown([]byte("another window's"), code, s))
	assert.False(t, Shown(secret, "", s))
}

// A ticket is good for its own window and phone, until it runs out, and not in any
// other form.
func TestTickets(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		secret := rapid.SliceOfN(rapid.Byte(), 16, 32).Draw(t, "secret")
		window := ids.CheckIn(rapid.Int64Range(1, 1e6).Draw(t, "window"))
		phone := rapid.StringMatching(`[a-z0-9.]{1,20}`).Draw(t, "phone")
		given := rapid.Int64Range(1e9, 2e9).Draw(t, "given")
		byLink := rapid.Bool().Draw(t, "by link")
		ticket := Ticket(secret, window, phone, given, byLink)
		is := func(secret []byte, ticket string, window ids.CheckIn, phone string, at int64) bool {
			good, linked := Good(secret, ticket, window, phone, at)
			assert.Equal(t, good && byLink, linked, "what was given for a link says so")
			return good
		}
		link := Link(secret, window)
		assert.True(t, IsLink(secret, window, link))
		assert.False(t, IsLink(secret, window+1, link))
		assert.False(t, IsLink(append([]byte{1}, secret...), window, link))
		assert.False(t, is(secret, link, window, phone, given), "a link is no ticket")
		linked, ok := Window(link)
		assert.True(t, ok)
		assert.Equal(t, window, linked)
		named, ok := Window(ticket)
		assert.True(t, ok)
		assert.Equal(t, window, named)
		after := rapid.Int64Range(0, 600).Draw(t, "after")
		assert.Equal(t, after <= TicketSeconds, is(secret, ticket, window, phone, given+after))
		assert.False(t, is(secret, ticket, window+1, phone, given))
		assert.False(t, is(secret, ticket, window, phone+"x", given))
		assert.False(t, is(append([]byte{1}, secret...), ticket, window, phone, given))
		at := rapid.IntRange(0, len(ticket)-1).Draw(t, "at")
		changed := []byte(ticket)
		changed[at] ^= 1
		assert.False(t, is(secret, string(changed), window, phone, given), "changed at %d", at)
	})
	_, ok := Window("no ticket")
	assert.False(t, ok)
}

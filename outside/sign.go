package outside

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strconv"
	"time"
)

// The headers of a signed message, to a carrier of texts and from it.
const (
	TimestampHeader = "Meldung-Timestamp" // seconds since 1970
	SignatureHeader = "Meldung-Signature" // hex of HMAC-SHA-256, keyed by the shared secret, over the timestamp, a full stop and the body
)

// signedFor is how far the clocks of both sides may differ.
const signedFor = 5 * time.Minute

// Sign returns the headers by which the other side knows that a body comes from who shares the
// secret, and when it was sent.
func Sign(secret string, body []byte, now time.Time) (timestamp, signature string) {
	timestamp = strconv.FormatInt(now.Unix(), 10)
	return timestamp, hex.EncodeToString(mac(secret, timestamp, body))
}

func mac(secret, timestamp string, body []byte) []byte {
	h := hmac.New(sha256.New, []byte(secret))
	fmt.Fprintf(h, "%s.", timestamp)
	h.Write(body)
	return h.Sum(nil)
}

// errUnsigned is the answer to any signature that is none, without saying why.
var errUnsigned = errors.New("the signature does not fit")

// Verify refuses a body that was not signed by who shares the secret, or not lately.
func Verify(secret, timestamp, signature string, body []byte, now time.Time) error {
	seconds, err := strconv.ParseInt(timestamp, 10, 64)
	given, errHex := hex.DecodeString(signature)
	if secret == "" || err != nil || errHex != nil || !hmac.Equal(given, mac(secret, timestamp, body)) {
		return errUnsigned
	}
	if at := time.Unix(seconds, 0); at.Before(now.Add(-signedFor)) || at.After(now.Add(signedFor)) {
		return errUnsigned
	}
	return nil
}

package outside

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// A worked value, made with the openssl program: printf '1700000000.{}' | openssl dgst -sha256 -hmac
// 'a secret of the school'.
func TestASignatureIsHMACOfTheTimeAndTheBody(t *testing.T) {
	timestamp, signature := Sign("a secret of the school", []byte("{}"), time.Unix(1_700_000_000, 0))
	assert.Equal(t, "1700000000", timestamp)
	assert.Equal(t, "e5f9618b94d61d4924321a012f61cbb3b87ad3d55a54dfa1ee1134ce487504ad", signature)
}

// What was signed is known; whatever is changed of it is not, nor what comes too late or too early.
func TestOnlyWhatWasSignedIsTaken(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		secret := rapid.StringN(1, 30, 60).Draw(t, "secret")
		body := rapid.SliceOfN(rapid.Byte(), 1, 200).Draw(t, "body")
		now := time.Unix(rapid.Int64Range(0, 4e9).Draw(t, "now"), 0)
		timestamp, signature := Sign(secret, body, now)
		late := time.Duration(rapid.IntRange(-600, 600).Draw(t, "late")) * time.Second
		err := Verify(secret, timestamp, signature, body, now.Add(late))
		assert.Equal(t, late.Abs() <= signedFor, err == nil, "%v late", late)
		changed := append([]byte(nil), body...)
		changed[rapid.IntRange(0, len(body)-1).Draw(t, "place")] ^= 1
		assert.Error(t, Verify(secret, timestamp, signature, changed, now))
		assert.Error(t, Verify(secret+"x", timestamp, signature, body, now))
		assert.Error(t, Verify("", timestamp, signature, body, now))
		assert.Error(t, Verify(secret, timestamp+"0", signature, body, now))
		assert.Error(t, Verify(secret, timestamp, rapid.String().Draw(t, "signature"), body, now))
	})
}

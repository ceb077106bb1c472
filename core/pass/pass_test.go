package pass_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/core/pass"
)

func TestNumbers(t *testing.T) {
	// 7992739871 with check digit 3 is the worked example of the Luhn formula (from memory).
	assert.Equal(t, "79927398713", pass.Number(7992739871))
	assert.Equal(t, "000018", pass.Number(1))
	assert.Equal(t, "P-000018", pass.Code(1))
	for serial := range ids.Pass(3000) {
		got, err := pass.Parse(pass.Code(serial + 1))
		require.NoError(t, err)
		assert.Equal(t, serial+1, got)
	}
	got, err := pass.Parse(" p 00 001-8 ")
	require.NoError(t, err)
	assert.EqualValues(t, 1, got)
}

// Every single wrong digit is found out, and every exchange of neighbours but 09 and 90.
func TestSlipsAreFoundOut(t *testing.T) {
	for serial := ids.Pass(1); serial < 400; serial++ {
		n := pass.Number(serial)
		for i := range len(n) {
			for d := byte('0'); d <= '9'; d++ {
				if d == n[i] {
					continue
				}
				_, err := pass.Parse(n[:i] + string(d) + n[i+1:])
				assert.Error(t, err, "%s with %c at %d", n, d, i)
			}
			if i > 0 && n[i] != n[i-1] && fmt.Sprintf("%c%c", min(n[i-1], n[i]), max(n[i-1], n[i])) != "09" {
				_, err := pass.Parse(n[:i-1] + string(n[i]) + string(n[i-1]) + n[i+1:])
				assert.Error(t, err, "%s with %d and %d exchanged", n, i-1, i)
			}
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add("000018")
	f.Add("P-000018")
	f.Fuzz(func(t *testing.T, typed string) {
		serial, err := pass.Parse(typed)
		if err == nil {
			again, err := pass.Parse(pass.Number(serial))
			require.NoError(t, err)
			assert.Equal(t, serial, again)
		}
	})
}

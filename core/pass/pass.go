// Package pass numbers the passes that students carry. A number is typed from paper and
// read by scanners, so that it carries a check digit; it must not know what a pass is for.
package pass

import (
	"fmt"
	"strconv"
	"strings"

	"meldung/core/ids"
)

// Prefix begins a pass's number in a code for scanners, where a card's never begins so.
const Prefix = "P-"

// Most is the highest serial number that is given out: with its check digit a pass has nine
// digits at most. Of so many a few hundred a day are good, so that a number is not guessed.
const Most = 99_999_999

// Number returns the number of the pass with a serial number from 1 on: its digits and
// a check digit (Luhn, ISO/IEC 7812-1 annex B, from memory), at least six in all.
func Number(serial ids.Pass) string {
	body := fmt.Sprintf("%05d", serial)
	return body + strconv.Itoa(checkDigit(body))
}

// Code returns what the code for scanners says.
func Code(serial ids.Pass) string { return Prefix + Number(serial) }

// Parse returns the serial number of a pass from what was typed or scanned. Spaces,
// dashes and the prefix may be there or not. Any one wrong digit, and almost any two
// neighbours exchanged, are found out.
func Parse(typed string) (ids.Pass, error) {
	digits := strings.NewReplacer(" ", "", "-", "").Replace(strings.ToUpper(strings.TrimSpace(typed)))
	digits = strings.TrimPrefix(digits, "P")
	if len(digits) < 6 || len(digits) > 12 || strings.Trim(digits, "0123456789") != "" {
		return 0, fmt.Errorf("%q is no pass number: it has six digits or more", typed)
	}
	body, check := digits[:len(digits)-1], int(digits[len(digits)-1]-'0')
	if checkDigit(body) != check {
		return 0, fmt.Errorf("%s is no pass number: a digit is wrong", digits)
	}
	serial, err := strconv.ParseInt(body, 10, 64)
	if err != nil || serial < 1 {
		return 0, fmt.Errorf("%q is no pass number", typed)
	}
	return ids.Pass(serial), nil
}

// checkDigit makes the sum of the digits, every second one doubled from the right on,
// a multiple of ten.
func checkDigit(body string) int {
	sum := 0
	for i := range len(body) {
		d := int(body[len(body)-1-i] - '0')
		if i%2 == 0 {
			if d *= 2; d > 9 {
				d -= 9
			}
		}
		sum += d
	}
	return (10 - sum%10) % 10
}

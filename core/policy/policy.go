// Package policy holds what a school decides: what each code of a register
// counts as, and how absence is measured, banded and answered. It is data; it
// reads no files and computes no figures.
package policy

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/big"
	"strings"
)

// Counts says what a code counts as.
type Counts uint8

// What a code can count as.
const (
	Attended Counts = iota
	Activity        // an approved activity away from class: attendance
	Excused
	Unexcused
	Void // no possible attendance: neither numerator nor denominator
)

var countsWords = []string{"attended", "activity", "excused", "unexcused", "void"}

// String returns the word used in policy files.
func (c Counts) String() string { return countsWords[c] }

// ParseCounts reads one of attended, activity, excused, unexcused, void.
func ParseCounts(s string) (Counts, error) {
	for i, w := range countsWords {
		if w == s {
			return Counts(i), nil
		}
	}
	return 0, fmt.Errorf("%q is not one of %s", s, strings.Join(countsWords, ", "))
}

// Absent reports whether the code counts as absence.
func (c Counts) Absent() bool { return c == Excused || c == Unexcused }

// Code is one letter of a code set.
type Code struct {
	Code             string
	Word             string
	Counts           Counts
	Late             bool
	Medical          bool
	OnSite           bool
	Unexplained      bool
	MinutesAsExcused bool // to which side missed minutes of an attended code go
	Uses             Use  // what it is used for
	Half             Half // the part of the day for which it is
}

// Side returns the side to which missed minutes with this code go.
func (c Code) Side() Counts {
	if c.Counts == Excused || (c.Counts == Attended && c.MinutesAsExcused) {
		return Excused
	}
	return Unexcused
}

// Unfound reports whether a mark of absence with the code leaves open where a student is: nobody
// gave a reason, or it says that there was none that counts. Somebody unexcused is not somebody
// found.
func (c Code) Unfound() bool { return c.Counts == Unexcused && !c.Late }

// AtADistance reports whether the code is one of being taught or busy elsewhere.
func (c Code) AtADistance() bool {
	return (c.Counts == Attended || c.Counts == Activity) && !c.OnSite && !c.Late && !c.Unexplained
}

// CodeSet is a school's codes in their order.
type CodeSet struct {
	ID    string
	Codes []Code
	index map[string]int
}

// mostCodes bounds a code set: the ledger keeps a code in a byte.
const mostCodes = 250

// NewCodeSet checks the codes and returns the set. A code may be there once; a
// late code can't be void; an unexplained one must count unexcused; one code at most is
// used for something at a time, and it must fit.
func NewCodeSet(id string, codes []Code) (*CodeSet, error) {
	switch {
	case len(codes) == 0:
		return nil, errors.New("a code set holds at least one code")
	case len(codes) > mostCodes:
		return nil, fmt.Errorf("a code set holds at most %d codes, this one has %d", mostCodes, len(codes))
	}
	s := &CodeSet{ID: id, Codes: codes, index: make(map[string]int, len(codes))}
	for i, c := range codes {
		if _, twice := s.index[c.Code]; twice {
			return nil, fmt.Errorf("code %q is there twice", c.Code)
		}
		if c.Late && c.Counts == Void {
			return nil, fmt.Errorf("code %q is late and void", c.Code)
		}
		if c.Unexplained && c.Counts != Unexcused {
			return nil, fmt.Errorf("code %q is unexplained and does not count unexcused", c.Code)
		}
		if err := s.checkUses(c, codes[:i]); err != nil {
			return nil, err
		}
		s.index[c.Code] = i
	}
	return s, nil
}

// Index returns the place of a code in the set.
func (s *CodeSet) Index(code string) (int, bool) {
	i, ok := s.index[code]
	return i, ok
}

// Find returns the code with the given letters.
func (s *CodeSet) Find(code string) (Code, bool) {
	i, ok := s.index[code]
	if !ok {
		return Code{}, false
	}
	return s.Codes[i], true
}

// Fraction is an exact number such as 1/10, of any size.
type Fraction struct {
	p, q int64    // the number in lowest terms where both stay below 2³¹; else q is 0
	rat  *big.Rat // the number where it does not fit
}

// NewFraction returns p/q; q must not be 0.
func NewFraction(p, q int64) Fraction { return FractionOf(big.NewRat(p, q)) }

// FractionOf returns the number r, which must not be changed afterwards.
func FractionOf(r *big.Rat) Fraction {
	p, q := r.Num(), r.Denom()
	if p.Sign() >= 0 && p.BitLen() <= 31 && q.BitLen() <= 31 {
		return Fraction{p: p.Int64(), q: q.Int64()}
	}
	return Fraction{rat: r}
}

// ParseFraction reads a/b, a whole number or a decimal with digits on both
// sides of the point, exactly.
func ParseFraction(s string) (Fraction, error) {
	num, den, isRatio := strings.Cut(s, "/")
	if !isRatio {
		f, err := ParseDecimal(s)
		if err != nil {
			return Fraction{}, fmt.Errorf("%q is not a fraction such as 1/10 or 0.1", s)
		}
		return f, nil
	}
	if !digits(num) || !digits(den) || strings.Trim(den, "0") == "" {
		return Fraction{}, fmt.Errorf("%q is not a fraction such as 1/10 or 0.1", s)
	}
	return exactly(num + "/" + den)
}

// ParseDecimal reads digits with an optional point and digits, exactly.
func ParseDecimal(s string) (Fraction, error) {
	whole, part, hasPoint := strings.Cut(s, ".")
	if !digits(whole) || (hasPoint && !digits(part)) {
		return Fraction{}, fmt.Errorf("%q is not a decimal such as 0.5", s)
	}
	return exactly(s)
}

// exactly reads digits with a point or a stroke; leading zeros are no octals.
func exactly(s string) (Fraction, error) {
	num, den, isRatio := strings.Cut(s, "/")
	if isRatio {
		p, _ := new(big.Int).SetString(num, 10)
		q, _ := new(big.Int).SetString(den, 10)
		return FractionOf(new(big.Rat).SetFrac(p, q)), nil
	}
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		return Fraction{}, fmt.Errorf("%q is too long for a number", s)
	}
	return FractionOf(r), nil
}

func digits(s string) bool {
	return s != "" && strings.Trim(s, "0123456789") == ""
}

// Rat returns a copy of the number.
func (f Fraction) Rat() *big.Rat {
	switch {
	case f.rat != nil:
		return new(big.Rat).Set(f.rat)
	case f.q == 0:
		return new(big.Rat)
	default:
		return big.NewRat(f.p, f.q)
	}
}

// Sign returns −1, 0 or 1.
func (f Fraction) Sign() int { return f.Rat().Sign() }

// small reports whether products with n fit 64 bits.
func (f Fraction) small(n int) bool { return f.q > 0 && n >= 0 && n < 1<<30 }

// Cmp compares a/n with the fraction; a must not be below 0, n must be above 0.
func (f Fraction) Cmp(a, n int) int {
	if f.small(a) && f.small(n) {
		return cmp.Compare(int64(a)*f.q, f.p*int64(n))
	}
	return big.NewRat(int64(a), int64(n)).Cmp(f.Rat())
}

// Add returns f + g.
func (f Fraction) Add(g Fraction) Fraction { return FractionOf(new(big.Rat).Add(f.Rat(), g.Rat())) }

// Minus returns f − g.
func (f Fraction) Minus(g Fraction) Fraction {
	return FractionOf(new(big.Rat).Sub(f.Rat(), g.Rat()))
}

// Compare compares f with g, as cmp.Compare does.
func (f Fraction) Compare(g Fraction) int { return f.Rat().Cmp(g.Rat()) }

// Scaled returns f × p/q; q must not be 0.
func (f Fraction) Scaled(p, q int64) Fraction {
	return FractionOf(new(big.Rat).Mul(f.Rat(), big.NewRat(p, q)))
}

// CeilTimes returns the smallest whole number that is at least f × n; n must not
// be below 0.
func (f Fraction) CeilTimes(n int) int {
	if f.small(n) {
		return int((f.p*int64(n) + f.q - 1) / f.q)
	}
	r := f.Rat()
	top := new(big.Int).Mul(r.Num(), big.NewInt(int64(n)))
	q, m := new(big.Int).DivMod(top, r.Denom(), new(big.Int))
	if m.Sign() > 0 {
		q.Add(q, big.NewInt(1))
	}
	return int(q.Int64())
}

// RoundTimes returns f × n rounded half up to a whole number; n must not be
// below 0.
func (f Fraction) RoundTimes(n int) int {
	if f.small(n) {
		return int((2*f.p*int64(n) + f.q) / (2 * f.q))
	}
	r := f.Rat()
	top := new(big.Int).Mul(r.Num(), big.NewInt(int64(2*n)))
	top.Add(top, r.Denom())
	return int(new(big.Int).Div(top, new(big.Int).Mul(r.Denom(), big.NewInt(2))).Int64())
}

// most is where FloorUnder ends: more units than any school counts, with room to add.
const most = math.MaxInt / 2

// FloorUnder returns the largest whole number that is at most a ÷ f, and no more
// than 2⁶² where that is larger still; f must be above 0.
func (f Fraction) FloorUnder(a int) int {
	if f.small(a) && f.p > 0 {
		return int(int64(a) * f.q / f.p)
	}
	r := f.Rat()
	n := new(big.Int).Div(new(big.Int).Mul(r.Denom(), big.NewInt(int64(a))), r.Num())
	if !n.IsInt64() || n.Int64() > most {
		return most
	}
	return int(n.Int64())
}

// String returns the number as a/b, or whole.
func (f Fraction) String() string { return f.Rat().RatString() }

// Decimal returns the number in digits with a point, exactly; ok is false where
// that has no end.
func (f Fraction) Decimal() (text string, ok bool) {
	r := f.Rat()
	digits, ok := r.FloatPrec()
	return r.FloatString(digits), ok
}

// Rounded writes the number with one decimal, half away from zero.
func (f Fraction) Rounded() string { return f.Rat().FloatString(1) }

// Percent writes the number in per cent with one decimal, half away from zero.
func (f Fraction) Percent() string {
	return new(big.Rat).Mul(f.Rat(), big.NewRat(100, 1)).FloatString(1)
}

// Percent writes a/n in per cent with one decimal, half away from zero. It is
// empty where n is 0.
func Percent(a, n int) string {
	if n == 0 {
		return ""
	}
	tenths := tenthsOf(a, n)
	return fmt.Sprintf("%d.%d", tenths/10, tenths%10)
}

// tenthsOf returns a/n in tenths of a per cent, half away from zero.
func tenthsOf(a, n int) int64 { return (2000*int64(a) + int64(n)) / (2 * int64(n)) }

// PointsBetween writes how many percentage points the share a/n is above b/m, as both are shown with one
// decimal, so that what stands side by side adds up: "+1.2", "−0.3". It is empty where n or m is 0.
func PointsBetween(a, n, b, m int) string {
	if n == 0 || m == 0 {
		return ""
	}
	tenths := tenthsOf(a, n) - tenthsOf(b, m)
	sign := "+"
	switch {
	case tenths == 0:
		sign = ""
	case tenths < 0:
		sign, tenths = "−", -tenths
	}
	return fmt.Sprintf("%s%d.%d", sign, tenths/10, tenths%10)
}

// LineBand returns the place of the first band that lies above the threshold; the number of
// bands where none does.
func (p *Policy) LineBand() int {
	for i, b := range p.Bands {
		if b.Below != nil && b.Below.Rat().Cmp(p.Threshold.Rat()) >= 0 {
			return i + 1
		}
	}
	return len(p.Bands)
}

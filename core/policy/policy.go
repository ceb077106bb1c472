// Package policy holds what a school decides: what each code of a register
// counts as, and how absence is measured, banded and answered. It is data; it
// reads no files and computes no figures.
package policy

import (
	"fmt"
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
}

// Side returns the side to which missed minutes with this code go.
func (c Code) Side() Counts {
	if c.Counts == Excused || (c.Counts == Attended && c.MinutesAsExcused) {
		return Excused
	}
	return Unexcused
}

// CodeSet is a school's codes in their order.
type CodeSet struct {
	ID    string
	Codes []Code
	index map[string]int
}

// NewCodeSet checks the codes and returns the set. A code may be there once; a
// late code can't be void; an unexplained one must count unexcused.
func NewCodeSet(id string, codes []Code) (*CodeSet, error) {
	if len(codes) > 250 {
		return nil, fmt.Errorf("a code set holds at most 250 codes, this one has %d", len(codes))
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

// Fraction is an exact number such as 1/10.
type Fraction struct{ rat *big.Rat }

// NewFraction returns p/q; q must not be 0.
func NewFraction(p, q int64) Fraction { return Fraction{big.NewRat(p, q)} }

// ParseFraction reads a/b, a whole number or a decimal with digits on both
// sides of the point, exactly.
func ParseFraction(s string) (Fraction, error) {
	bad := fmt.Errorf("%q is not a fraction such as 1/10 or 0.1", s)
	num, den, isRatio := strings.Cut(s, "/")
	if isRatio {
		if !digits(num) || !digits(den) || strings.Trim(den, "0") == "" {
			return Fraction{}, bad
		}
	} else if whole, part, isDecimal := strings.Cut(s, "."); !digits(whole) || (isDecimal && !digits(part)) {
		return Fraction{}, bad
	}
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		return Fraction{}, bad
	}
	return Fraction{r}, nil
}

func digits(s string) bool {
	return s != "" && strings.Trim(s, "0123456789") == ""
}

// Rat returns a copy of the number.
func (f Fraction) Rat() *big.Rat {
	if f.rat == nil {
		return new(big.Rat)
	}
	return new(big.Rat).Set(f.rat)
}

// Sign returns −1, 0 or 1.
func (f Fraction) Sign() int { return f.Rat().Sign() }

// Cmp compares a/n with the fraction; n must be above 0.
func (f Fraction) Cmp(a, n int) int { return big.NewRat(int64(a), int64(n)).Cmp(f.Rat()) }

// Add returns f + g.
func (f Fraction) Add(g Fraction) Fraction { return Fraction{new(big.Rat).Add(f.Rat(), g.Rat())} }

// CeilTimes returns the smallest whole number that is at least f × n.
func (f Fraction) CeilTimes(n int) int {
	r := f.Rat()
	top := new(big.Int).Mul(r.Num(), big.NewInt(int64(n)))
	q, m := new(big.Int).DivMod(top, r.Denom(), new(big.Int))
	if m.Sign() > 0 {
		q.Add(q, big.NewInt(1))
	}
	return int(q.Int64())
}

// RoundTimes returns f × n rounded half up to a whole number.
func (f Fraction) RoundTimes(n int) int {
	r := f.Rat()
	top := new(big.Int).Mul(r.Num(), big.NewInt(int64(2*n)))
	top.Add(top, r.Denom())
	return int(new(big.Int).Div(top, new(big.Int).Mul(r.Denom(), big.NewInt(2))).Int64())
}

// FloorUnder returns the largest whole number that is at most a ÷ f.
func (f Fraction) FloorUnder(a int) int {
	r := f.Rat()
	return int(new(big.Int).Div(new(big.Int).Mul(r.Denom(), big.NewInt(int64(a))), r.Num()).Int64())
}

// String returns the number as a/b, or whole.
func (f Fraction) String() string { return f.Rat().RatString() }

// Percent writes a/n in per cent with one decimal, half away from zero. It is
// empty where n is 0.
func Percent(a, n int) string {
	if n == 0 {
		return ""
	}
	tenths := (2000*int64(a) + int64(n)) / (2 * int64(n))
	return fmt.Sprintf("%d.%d", tenths/10, tenths%10)
}

// Package attention judges which students need it: indicators of one student as at a date, rules that a
// school makes of them, who matches and since when, and how a rule would have done in the past. It is given
// facts with their dates and reads nothing after the date that it judges; it must not know where facts come
// from.
package attention

import (
	"math/big"
	"strings"

	"meldung/core/policy"
)

// Kind is what a value is.
type Kind uint8

// The kinds.
const (
	Missing Kind = iota // nobody knows
	Never               // it could have happened and has not
	Number
	Word
)

// Value is an indicator of one student as at a date. A number is Num/Den, exactly.
type Value struct {
	Kind     Kind
	Num, Den int64
	Word     string
}

func whole(n int64) Value { return Value{Kind: Number, Num: n, Den: 1} }

// share is n of many; missing where there is nothing to have a share of.
func share(n, of int64) Value {
	if of == 0 {
		return Value{}
	}
	return Value{Kind: Number, Num: n, Den: of}
}

// NumberOf is a fraction as a value. One that is too long for a value is missing.
func NumberOf(f policy.Fraction) Value {
	r := f.Rat()
	if !r.Num().IsInt64() || !r.Denom().IsInt64() {
		return Value{}
	}
	return Value{Kind: Number, Num: r.Num().Int64(), Den: r.Denom().Int64()}
}

// WordOf is a word as a value; an empty one is missing.
func WordOf(word string) Value {
	if word == "" {
		return Value{}
	}
	return Value{Kind: Word, Word: word}
}

// compare compares two numbers.
func (v Value) compare(o Value) int {
	if v.Den == o.Den {
		switch {
		case v.Num < o.Num:
			return -1
		case v.Num > o.Num:
			return 1
		}
		return 0
	}
	return new(big.Int).Mul(big.NewInt(v.Num), big.NewInt(o.Den)).Cmp(new(big.Int).Mul(big.NewInt(o.Num), big.NewInt(v.Den)))
}

// Rat returns a number.
func (v Value) Rat() *big.Rat { return big.NewRat(v.Num, v.Den) }

// Text is the value in words: 3, 2.75, 12.5 %, never, not known.
func (v Value) Text(percent bool) string {
	switch v.Kind {
	case Never:
		return "never"
	case Word:
		return v.Word
	case Missing:
		return "not known"
	}
	if percent {
		return strings.TrimSuffix(new(big.Rat).Mul(v.Rat(), big.NewRat(100, 1)).FloatString(1), ".0") + " %"
	}
	if v.Den == 1 {
		return v.Rat().FloatString(0)
	}
	return strings.TrimSuffix(strings.TrimRight(v.Rat().FloatString(2), "0"), ".")
}

// Typed is the value as it would be typed, exactly: 3, 0.5, 12.5 %, 1/3, never.
func (v Value) Typed(percent bool) string {
	if v.Kind != Number {
		return v.Text(percent)
	}
	r := v.Rat()
	if percent {
		r.Mul(r, big.NewRat(100, 1))
	}
	sign := ""
	if r.Sign() < 0 {
		sign = "-"
		r.Neg(r)
	}
	text, ends := policy.FractionOf(r).Decimal()
	switch {
	case !ends:
		return v.Rat().RatString()
	case percent:
		return sign + text + " %"
	}
	return sign + text
}

// Truth is the truth of a condition in three-valued logic.
type Truth int8

// The truths.
const (
	No      Truth = -1
	Unknown Truth = 0
	Yes     Truth = 1
)

func truth(is bool) Truth {
	if is {
		return Yes
	}
	return No
}

// Op is how a value is compared.
type Op string

// The comparisons.
const (
	AtLeast Op = "at_least"
	Above   Op = "above"
	AtMost  Op = "at_most"
	Below   Op = "below"
	Equal   Op = "equal"
	Is      Op = "is"
	IsNot   Op = "is_not"
)

// Ops are all comparisons, those of numbers first.
var Ops = []Op{AtLeast, Above, AtMost, Below, Equal, Is, IsNot}

// OfWords reports whether a comparison is one of words.
func (o Op) OfWords() bool { return o == Is || o == IsNot }

// neverWord is what a condition says to ask for never itself.
const neverWord = "never"

// holds compares a value. A number of days ago that is never is as long ago as can be, unless the condition
// leaves it out; every other comparison with never is false, but for whether it is never.
func (c *Condition) holds(v Value, daysAgo bool) Truth {
	switch {
	case v.Kind == Missing:
		return Unknown
	case c.Op.OfWords() && c.Value == (Value{Kind: Word, Word: neverWord}):
		return truth((v.Kind == Never) == (c.Op == Is))
	case v.Kind == Never:
		return truth(daysAgo && !c.NeverOut && (c.Op == AtLeast || c.Op == Above))
	case c.Op.OfWords():
		return truth((v.Kind == Word && v.Word == c.Value.Word) == (c.Op == Is))
	case v.Kind != Number:
		return No
	}
	by := v.compare(c.Value)
	switch c.Op {
	case AtLeast:
		return truth(by >= 0)
	case Above:
		return truth(by > 0)
	case AtMost:
		return truth(by <= 0)
	case Below:
		return truth(by < 0)
	}
	return truth(by == 0)
}

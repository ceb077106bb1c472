package results

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// Item is a piece of work that a class was given.
type Item struct {
	Title string
	Due   *day.Date       // nil where nothing says
	Most  policy.Fraction // the maximum
}

// Score is what a student has of an item.
type Score struct {
	Points *policy.Fraction // nil while there are none
	Handed bool             // something was handed in
	Exempt bool
}

// ItemState is how a student stands with an item.
type ItemState string

// The states of an item.
const (
	ItemScored ItemState = "scored"
	ItemHanded ItemState = "handed in" // without points so far
	ItemNever  ItemState = "never"     // due, and nothing was handed in
	ItemOpen   ItemState = "open"      // not due yet, or nothing says when
	ItemExempt ItemState = "exempt"
)

// Stands returns how a student stands with an item as at a date, with the share of the maximum where there
// are points. What is due on the date itself is due. An item without a maximum has no share.
func (i Item) Stands(s Score, asAt day.Date) (state ItemState, share *policy.Fraction) {
	switch {
	case s.Exempt:
		return ItemExempt, nil
	case s.Points != nil && i.Most.Sign() > 0:
		part := policy.FractionOf(s.Points.Rat().Quo(s.Points.Rat(), i.Most.Rat()))
		return ItemScored, &part
	case s.Points != nil || s.Handed:
		return ItemHanded, nil
	case i.Due != nil && *i.Due <= asAt:
		return ItemNever, nil
	}
	return ItemOpen, nil
}

package pages

import (
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/policy"
)

// CodeView is a code that can be given.
type CodeView struct {
	Code   string   `json:"code"`
	Word   string   `json:"word"`
	Counts string   `json:"counts"`
	State  string   `json:"state" doc:"The state whose shape and colour it has"`
	Late   bool     `json:"late"`
	Timed  bool     `json:"timed" doc:"It may carry a time: of coming, or of going"`
	Button int      `json:"button" doc:"Its place among the buttons of every row of a register, from 1; 0 for none"`
	Key    string   `json:"key" doc:"The key that gives it; empty for none"`
	Uses   []string `json:"uses" doc:"What it is used for: present, late …"`
}

// Shape is the state whose shape a code has on a page.
func Shape(c policy.Code) string {
	switch {
	case c.Late:
		return "late"
	case c.Unexplained:
		return "unaccounted"
	case c.Counts == policy.Unexcused:
		return "unexcused"
	case c.Counts == policy.Excused:
		return "explained"
	case c.Counts == policy.Void:
		return "not-due"
	case c.OnSite:
		return "in"
	default:
		return "elsewhere"
	}
}

// buttons are the uses that have one in every row of a register, in their order.
var buttons = []policy.Use{policy.UsePresent, policy.UseLate, policy.UseNoReason, policy.UseAway, policy.UseIll, policy.UseOffSite}

// leaving is what no key is for: it is said at the desk.
const leaving = policy.UseLeft | policy.UseLeftWithReason

// otherKeys are letters that do something else on a register.
const otherKeys = "afs"

// keyOfPresent gives the code for being there where that is no letter. The stroke, which is
// the usual sign of it, goes to the quick line on every page.
const keyOfPresent = "."

// Codes returns the codes of a set that are used in a slot, in their order.
func Codes(set *policy.CodeSet, slot day.Slot) []CodeView {
	out := []CodeView{}
	for _, c := range set.Codes {
		if c.UsedIn(slot) {
			out = append(out, CodeView{Code: c.Code, Word: c.Word, Counts: c.Counts.String(), State: Shape(c), Late: c.Late,
				Timed: c.Late || c.Uses&leaving != 0, Button: 1 + slices.IndexFunc(buttons, func(u policy.Use) bool { return c.Uses&u != 0 }), Key: keyOf(c), Uses: c.Uses.Words()})
		}
	}
	return out
}

// keyOf returns the key that gives a code: its own letter, or one of its own for being
// there where that is no letter.
func keyOf(c policy.Code) string {
	key := strings.ToLower(c.Code)
	switch letter := len(key) == 1 && key >= "a" && key <= "z"; {
	case c.Uses&leaving != 0:
		return ""
	case c.Uses&policy.UsePresent != 0 && !letter:
		return keyOfPresent
	case !letter || strings.Contains(otherKeys, key):
		return ""
	}
	return key
}

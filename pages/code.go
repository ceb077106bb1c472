package pages

import "meldung/core/policy"

// CodeView is a code that can be given.
type CodeView struct {
	Code   string `json:"code"`
	Word   string `json:"word"`
	Counts string `json:"counts"`
	State  string `json:"state" doc:"The state whose shape and colour it has"`
	Late   bool   `json:"late"`
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

// Codes returns the codes of a set, in their order.
func Codes(set *policy.CodeSet) []CodeView {
	out := make([]CodeView, len(set.Codes))
	for i, c := range set.Codes {
		out[i] = CodeView{c.Code, c.Word, c.Counts.String(), Shape(c), c.Late}
	}
	return out
}

package register

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// InForce is a mark as it stands.
type InForce struct {
	Code     policy.Code
	From, To day.Minute // none where not written
	Made     day.Minute
}

// Changed is what a mark becomes.
type Changed struct {
	Code     string
	From, To day.Minute // none where not written
	Made     day.Minute
}

// Reason is what one of the school's reasons makes of a slot.
type Reason struct {
	Absent  string // code of a slot that was missed; empty where that makes no difference
	Late    string // code of a slot that was come late to; empty likewise
	Excused bool   // leaving early for it is excused
}

// Arrive returns what a mark becomes when its student arrives at a minute: an unexplained
// slot that is under way was come late to, one that is over was missed for the reason.
// ok is false where the mark stays, as one does that has a reason already or whose slot
// begins later.
func Arrive(slot day.Slot, m InForce, r Reason, at day.Minute) (changed Changed, ok bool) {
	switch {
	case !m.Code.Unexplained || !at.After(slot.Start):
		return Changed{}, false
	case at.Before(slot.End):
		return Changed{Code: r.Late, To: at, Made: at}, r.Late != ""
	default:
		return m.recoded(r.Absent)
	}
}

// Leave returns what a mark becomes when its student leaves at a minute within the slot:
// leaving early, by the code. ok is false where the mark stays: it says absent, late or
// off the premises, or the slot is not under way.
func Leave(slot day.Slot, m InForce, code string, at day.Minute) (changed Changed, ok bool) {
	if code == "" || !at.After(slot.Start) || !at.Before(slot.End) || m.Code.Counts != policy.Attended || !m.Code.OnSite || m.Code.Late {
		return Changed{}, false
	}
	return Changed{Code: code, From: at, Made: m.Made}, true
}

// Explain returns what a mark becomes when its slot is explained by a code. A presence
// and a reason given before are never overwritten.
func Explain(m InForce, code string) (changed Changed, ok bool) {
	if !m.Code.Unexplained {
		return Changed{}, false
	}
	return m.recoded(code)
}

func (m InForce) recoded(code string) (Changed, bool) {
	return Changed{Code: code, From: m.From, To: m.To, Made: m.Made}, code != "" && code != m.Code.Code
}

// MadeWithin returns the minute for which a mark is evidence: that in which it was made,
// kept within its slot and, on the day itself, never later than now.
func MadeWithin(slot day.Slot, made, now day.Minute, sameDay bool) day.Minute {
	if sameDay {
		made = day.Earliest(made, now)
	}
	return day.Latest(day.Earliest(made, slot.End), slot.Start)
}

// Unseen returns which of the marks that are sent stand otherwise in the shared draft,
// by a version that their sender has not seen.
func Unseen[K comparable](drafts map[K]Draft, sent func(yield func(K, Draft) bool)) []K {
	var out []K
	for k, mark := range sent {
		if d, ok := drafts[k]; ok && d.Version > mark.Version && !d.same(mark) {
			out = append(out, k)
		}
	}
	return out
}

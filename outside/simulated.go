package outside

import (
	"hash/fnv"

	"meldung/core/day"
	"meldung/work/messages"
)

// Simulated stands in for the services that carry texts and e-mails. Nothing leaves the
// machine: what becomes of a message follows from its number and its address, so that
// it is the same after a restart. One in eight addresses can't be reached; a minute
// after it was sent a message has arrived, and some are answered two minutes later.
type Simulated struct{}

// BecameOf returns what has become of a message by an instant, oldest first.
func (Simulated) BecameOf(m messages.Outgoing, now day.Instant) []messages.Report {
	h := fnv.New32a()
	_, _ = h.Write([]byte(m.Address))
	lot := h.Sum32()
	all := []messages.Report{{At: m.Sent, State: "sent"}}
	switch {
	case m.Address == "":
		all[0] = messages.Report{At: m.Sent, State: "failed", Text: "there is no address"}
	case lot%8 == 3 && m.Channel == "text":
		all = append(all, messages.Report{At: m.Sent + 1, State: "failed", Text: "the phone could not be reached"})
	case lot%8 == 3:
		all = append(all, messages.Report{At: m.Sent + 1, State: "failed", Text: "the mailbox is full"})
	default:
		all = append(all, messages.Report{At: m.Sent + 1, State: "delivered"})
		if answer := answerTo(m, lot); answer != "" {
			all = append(all, messages.Report{At: m.Sent + 3, State: "replied", Text: answer})
		}
	}
	n := 0
	for n < len(all) && all[n].At <= now {
		n++
	}
	return all[:n]
}

// answerTo is what someone who is written to by text may answer: a teacher who is
// reminded, or a home that is asked where its child is.
func answerTo(m messages.Outgoing, lot uint32) string {
	if m.Channel != "text" {
		return ""
	}
	switch m.Kind {
	case "remind":
		return []string{"", "Sorry, sending it now", "", "Two minutes, the projector failed"}[lot/8%4]
	case "home":
		by := nextFive(m.Sent.Minute()).Add(25)
		return []string{"Ill today, sorry, I meant to ring", "On the way, there by " + by.String(), "", "Who is this?", "Has an appointment until " + (by.Add(60)).String()}[lot/8%5]
	default:
		return ""
	}
}

// nextFive returns the next minute that is a multiple of five.
func nextFive(m day.Minute) day.Minute { return m.Add(day.Minutes(5 - m.SinceMidnight()%5)) }

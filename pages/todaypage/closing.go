package todaypage

import (
	"fmt"

	"meldung/core/ids"
	"meldung/core/safearrival"
	"meldung/work"
	"meldung/work/morning"
)

// SafeArrival is how the first registration of a section stands.
type SafeArrival struct {
	Section     ids.Section `json:"section"`
	Name        string      `json:"name" doc:"The section by name; empty where the school has one"`
	State       string      `json:"state" enum:"none,open,ready,closed,reopened"`
	Slot        string      `json:"slot"`
	Text        string      `json:"text"`
	RegistersIn int         `json:"registersIn"`
	Registers   int         `json:"registers"`
	Unaccounted int         `json:"unaccounted"`
	By          string      `json:"by"`
	At          string      `json:"at"`
	Reason      string      `json:"reason" doc:"Why it was opened again by hand"`
}

// safeArrivals returns how the first registration of each section stands.
func safeArrivals(v work.Snapshot, x *work.Day, m work.Moment) []SafeArrival {
	out := []SafeArrival{}
	for _, on := range x.Sections {
		out = append(out, safeArrival(v, x, on, m))
	}
	return out
}

// safeArrival returns how the first registration of a section stands as pages show it.
func safeArrival(v work.Snapshot, x *work.Day, on *work.SectionDay, m work.Moment) SafeArrival {
	stands := morning.SafeArrival(v, x, on.ID, m)
	out := SafeArrival{Section: on.ID, Name: v.Among(on.ID), State: string(stands.State), Slot: stands.Slot.Name, Registers: stands.Registers, RegistersIn: stands.In, Unaccounted: stands.Missing}
	if stands.Last != nil {
		out.By, out.At = stands.Last.By, work.When(stands.Last.Known, m.Date)
		if stands.State == safearrival.Reopened && stands.Last.Reopened {
			out.Reason = stands.Last.Reason
		}
	}
	out.Text = safeArrivalSentence(out, on.Open)
	return out
}

// safeArrivalSentence says how safe arrival stands.
func safeArrivalSentence(s SafeArrival, schoolDay bool) string {
	switch safearrival.State(s.State) {
	case safearrival.None:
		if schoolDay {
			return "no slots"
		}
		return "no school"
	case safearrival.Closed:
		return fmt.Sprintf("Safe arrival was closed at %s by %s.", s.At, s.By)
	case safearrival.Ready:
		return "Every register is in and everyone who was due is accounted for."
	case safearrival.Reopened:
		if s.Reason != "" {
			return fmt.Sprintf("Opened again at %s by %s: %s.", s.At, s.By, s.Reason)
		}
		return fmt.Sprintf("Closed at %s by %s; new evidence has opened it again.", s.At, s.By)
	default:
		return "It closes when every register is in and everyone who was due is accounted for."
	}
}

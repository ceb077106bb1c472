package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/whereabouts"
	"meldung/store"
)

// SafeArrival is how the first registration stands.
type SafeArrival struct {
	State       string `json:"state" enum:"none,open,ready,closed,reopened"`
	Slot        string `json:"slot"`
	Words       string `json:"words"`
	RegistersIn int    `json:"registersIn"`
	Registers   int    `json:"registers"`
	Unaccounted int    `json:"unaccounted"`
	By          string `json:"by"`
	At          string `json:"at"`
	Reason      string `json:"reason" doc:"Why it was opened again by hand"`
}

// CloseSafeArrival stores that the first registration is settled, with name and
// time. It is refused while a register is out or someone is unaccounted for.
func (o *Office) CloseSafeArrival(ctx context.Context, p Person, key string) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "safe arrival closed", &out, func(w *writing, v view, x *Day) error {
		safe := v.safeArrival(x, Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true})
		switch safe.State {
		case "ready":
		case "closed":
			return conflict("%s", safe.Words)
		case "none":
			return refused("%s is not a school day", x.Date.Words())
		default:
			return refused("%d of %d registers are in and %d students are unaccounted for or not yet known: it stays open", safe.RegistersIn, safe.Registers, safe.Unaccounted)
		}
		id, err := store.AddClosing(ctx, w.tx, store.Closing{Date: x.Date, Slot: safe.Slot, Minute: w.now.Minute(), Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("Safe arrival closed at %s by %s", w.now.Minute(), p.Name), IDs: []int64{id}}
		return err
	})
	return out, err
}

// ReopenSafeArrival opens safe arrival again by hand, with the reason.
func (o *Office) ReopenSafeArrival(ctx context.Context, p Person, key, reason string) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "safe arrival opened again", &out, func(w *writing, v view, x *Day) error {
		reason = strings.TrimSpace(reason)
		if reason == "" {
			return wrong("say why it is opened again; it stays closed")
		}
		safe := v.safeArrival(x, Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true})
		if safe.State != "closed" {
			return conflict("safe arrival is %s, not closed", safe.State)
		}
		id, err := store.AddClosing(ctx, w.tx, store.Closing{Date: x.Date, Slot: safe.Slot, Minute: w.now.Minute(), Reopened: true, Reason: reason, Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("Safe arrival opened again at %s: %s", w.now.Minute(), reason), IDs: []int64{id}}
		return err
	})
	return out, err
}

// safeArrival says how the first registration stands. It was closed when
// someone closed it; it is open again when what is known now would have kept it
// open at that minute.
func (v view) safeArrival(x *Day, m Moment) SafeArrival {
	if !x.Open {
		return SafeArrival{State: "none", Words: "no school"}
	}
	slot, ok := x.School.Pattern.First()
	if !ok {
		return SafeArrival{State: "none", Words: "no slots"}
	}
	out := SafeArrival{State: "open", Slot: slot.Name}
	var last *store.Closing
	for i := range x.closings {
		if x.closings[i].Known <= m.Known {
			last = &x.closings[i]
		}
	}
	out.Registers, out.RegistersIn, out.Unaccounted = v.arrivals(x, slot, m)
	ready := out.Registers > 0 && out.Registers == out.RegistersIn && out.Unaccounted == 0 && m.Minute >= slot.Start
	if ready {
		out.State = "ready"
	}
	if last != nil {
		out.By, out.At = last.By, last.Minute.String()
		_, in, unaccounted := v.arrivals(x, slot, Moment{Date: m.Date, Minute: last.Minute, Known: m.Known})
		switch {
		case last.Reopened && !ready:
			out.State, out.Reason = "reopened", last.Reason
		case last.Reopened:
		case unaccounted == 0 && in == out.Registers:
			out.State = "closed"
		case !ready:
			out.State = "reopened"
		}
	}
	switch out.State {
	case "closed":
		out.Words = fmt.Sprintf("Safe arrival was closed at %s by %s.", out.At, out.By)
	case "ready":
		out.Words = "Every register is in and nobody is unaccounted for."
	case "reopened":
		out.Words = fmt.Sprintf("Closed at %s by %s; new evidence has opened it again.", out.At, out.By)
		if out.Reason != "" {
			out.Words = fmt.Sprintf("Opened again at %s by %s: %s.", out.At, out.By, out.Reason)
		}
	default:
		out.Words = "It closes when every register is in and nobody is unaccounted for."
	}
	return out
}

// arrivals counts a slot's registers, those in, and the students due at it who
// are unaccounted for or not yet known.
func (v view) arrivals(x *Day, slot day.Slot, m Moment) (registers, in, unaccounted int) {
	due := map[int64]bool{}
	for _, r := range x.Registers {
		if r.Slot.Name != slot.Name {
			continue
		}
		registers++
		if r.sentBy(m) {
			in++
		}
		for _, s := range r.Roll {
			due[s.ID] = true
		}
	}
	for id := range due {
		if p := v.position(x, id, m); p.State == whereabouts.Unaccounted || p.State == whereabouts.NotYetKnown {
			unaccounted++
		}
	}
	return registers, in, unaccounted
}

// ProtocolRegister is a register of the first slot in the protocol.
type ProtocolRegister struct {
	Class string `json:"class"`
	Taker string `json:"taker"`
	Sent  string `json:"sent" doc:"When it came in; empty while it is out"`
	By    string `json:"by"`
}

// ProtocolLine is something that was done, with when and by whom.
type ProtocolLine struct {
	At    string `json:"at"`
	Kind  string `json:"kind" enum:"call,text,search,hold,reminder,closed,opened again"`
	Words string `json:"words"`
	By    string `json:"by"`
}

// Protocol is the record of a morning, to be printed and signed.
type Protocol struct {
	School    string             `json:"school"`
	Date      string             `json:"date"`
	Day       string             `json:"day" doc:"The date in words"`
	AsAt      string             `json:"asAt"`
	Slot      string             `json:"slot"`
	Safe      SafeArrival        `json:"safe"`
	Roll      int                `json:"roll"`
	Count     []CountPart        `json:"count" doc:"As at the closing, or as at the moment while it is open"`
	CountAt   string             `json:"countAt"`
	Registers []ProtocolRegister `json:"registers"`
	Lines     []ProtocolLine     `json:"lines" doc:"Oldest first"`
	Explained []NoticeView       `json:"explained" doc:"What homes said of today, by the moment"`
	Open      []HouseholdStudent `json:"open" doc:"Who is still unaccounted for"`
}

// SafeArrivalProtocol puts the record of a morning together as at a moment.
func (o *Office) SafeArrivalProtocol(ctx context.Context, asAt string) (Protocol, error) {
	out := Protocol{Registers: []ProtocolRegister{}, Lines: []ProtocolLine{}, Explained: []NoticeView{}, Open: []HouseholdStudent{}}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	notices, err := o.Notices(ctx, asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		t := v.today(x, m)
		out.School, out.Date, out.Day, out.AsAt, out.Safe, out.Roll, out.Count, out.CountAt = v.settings.Name, t.Date, m.Date.Words(), t.AsAt, t.Safe, t.Roll, t.Count, m.Minute.String()
		for _, h := range t.Households {
			out.Open = append(out.Open, h.Students...)
		}
		for _, s := range t.OnSite {
			out.Open = append(out.Open, HouseholdStudent{Student: s.Student, Words: s.Words, Warnings: []string{}})
		}
		for _, n := range slices.Backward(notices) {
			if !n.Withdrawn {
				out.Explained = append(out.Explained, n)
			}
		}
		if !x.Open {
			return nil
		}
		if t.Safe.State == "closed" {
			closedAt, err := day.ParseMinute(t.Safe.At)
			if err != nil {
				return err
			}
			out.Count, out.CountAt = v.count(x, Moment{Date: m.Date, Minute: closedAt, Known: m.Known}), t.Safe.At
		}
		if slot, ok := x.School.Pattern.First(); ok {
			out.Slot = slot.Words()
			out.Registers = v.protocolRegisters(x, slot, m)
		}
		out.Lines = v.protocolLines(x, m)
		return nil
	})
	return out, err
}

// count counts the roll's states at a moment.
func (v view) count(x *Day, m Moment) []CountPart {
	var count whereabouts.Count
	for _, s := range x.Roll {
		count[v.position(x, s.ID, m).State]++
	}
	return countParts(count)
}

func countParts(count whereabouts.Count) []CountPart {
	var out []CountPart
	for state := range whereabouts.States {
		out = append(out, CountPart{state.Slug(), state.String(), count[state]})
	}
	return out
}

func (v view) protocolRegisters(x *Day, slot day.Slot, m Moment) []ProtocolRegister {
	out := []ProtocolRegister{}
	for _, r := range x.Registers {
		if r.Slot.Name != slot.Name {
			continue
		}
		row := ProtocolRegister{Class: r.Class.Title, Taker: v.takersWords(x, r.Class.ID, slot.Name)}
		if r.sentBy(m) {
			row.Sent, row.By = instantWords(r.Sent.Known, x.Date), r.Sent.By
		}
		out = append(out, row)
	}
	return out
}

// protocolLines lists what was done to find everybody, oldest first. A call about siblings
// is one line, and so is a reminder that went out two ways.
func (v view) protocolLines(x *Day, m Moment) []ProtocolLine {
	type line struct {
		at   day.Minute
		line ProtocolLine
	}
	var all []line
	seen := map[string]bool{}
	add := func(at day.Minute, known day.Instant, id, kind, words, by string) {
		if known > m.Known || at > m.Minute || seen[id] {
			return
		}
		seen[id] = true
		all = append(all, line{at, ProtocolLine{At: at.String(), Kind: kind, Words: words, By: by}})
	}
	about := map[int64][]int64{}
	for _, c := range x.calls {
		about[c.ID] = append(about[c.ID], c.StudentID)
	}
	for _, c := range x.calls {
		if c.FetchID != nil {
			continue // about someone who had arrived
		}
		who := "nobody to ring"
		if c.ContactID != nil {
			who = v.school.contacts[*c.ContactID].Name()
		}
		add(c.Minute, c.Known, fmt.Sprint("call ", c.ID), "call", join(" · ", v.names(about[c.ID]), who+": "+c.Outcome, c.Said, c.Note), c.By)
	}
	for _, msg := range x.messages {
		switch {
		case msg.Kind == toHome && msg.ContactID != nil:
			add(msg.Minute, msg.Known, fmt.Sprint("text ", msg.ID), "text", join(" · ", v.names(msg.Students), v.school.contacts[*msg.ContactID].Name()+": "+x.stateOfMessage(msg, m.Known)), msg.By)
		case msg.Kind == reminder && msg.ClassID != nil:
			add(msg.Minute, msg.Known, fmt.Sprint("reminder ", *msg.ClassID, msg.Slot, msg.Journal), "reminder", v.school.Classes[*msg.ClassID].Title+", "+msg.Slot, msg.By)
		}
	}
	for _, s := range x.searches {
		words := v.names([]int64{s.StudentID})
		if s.EndedAt != nil && *s.EndedAt <= m.Known {
			words = join(" · ", words, s.Outcome+" "+s.EndedAt.Minute().String(), s.Place, s.FoundBy)
		}
		looked := s.By
		if s.Searcher != "" {
			looked = s.Searcher
		}
		add(s.Minute, s.Known, fmt.Sprint("search ", s.ID), "search", words, looked)
	}
	for _, h := range x.holds {
		add(h.Minute, h.Known, fmt.Sprint("hold ", h.ID), "hold", fmt.Sprintf("%s until %s: %s", countOf(len(h.Students), "student"), h.Until, h.Reason), h.By)
	}
	for _, c := range x.closings {
		kind := "closed"
		if c.Reopened {
			kind = "opened again"
		}
		add(c.Minute, c.Known, fmt.Sprint("closing ", c.ID), kind, c.Reason, c.By)
	}
	slices.SortStableFunc(all, func(a, b line) int { return int(a.at) - int(b.at) })
	out := make([]ProtocolLine, len(all))
	for i, l := range all {
		out[i] = l.line
	}
	return out
}

// names names students in a sentence.
func (v view) names(students []int64) string {
	out := make([]string, len(students))
	for i, id := range students {
		out[i] = v.school.Students[v.school.student[id]].Name()
	}
	return strings.Join(out, ", ")
}

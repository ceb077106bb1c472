package todaypage

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/safearrival"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/work"
	"meldung/work/morning"
)

// ProtocolRegister is a register of the first slot in the protocol.
type ProtocolRegister struct {
	Class string `json:"class"`
	Taker string `json:"taker"`
	Sent  string `json:"sent" doc:"When it came in; empty while it is out"`
	By    string `json:"by"`
}

// ProtocolLine is something that was done, with when and by whom.
type ProtocolLine struct {
	At   string `json:"at"`
	Kind string `json:"kind" enum:"call,text,search,hold,reminder,closed,opened again"`
	Text string `json:"text"`
	By   string `json:"by"`
}

// Protocol is the record of a morning, to be printed and signed.
type Protocol struct {
	School    string             `json:"school"`
	Date      string             `json:"date"`
	Day       string             `json:"day" doc:"The date in words"`
	AsAt      string             `json:"asAt"`
	Scope     string             `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Slot      string             `json:"slot"`
	Safe      []SafeArrival      `json:"safe"`
	Roll      int                `json:"roll"`
	Count     []CountPart        `json:"count" doc:"As at the closing, or as at the moment while it is open"`
	CountAt   string             `json:"countAt"`
	Registers []ProtocolRegister `json:"registers"`
	Lines     []ProtocolLine     `json:"lines" doc:"Oldest first"`
	Explained []NoticeView       `json:"explained" doc:"What homes said of today, by the moment"`
	Open      []HouseholdStudent `json:"open" doc:"Who is still unaccounted for"`
}

// ShowProtocol puts the record of a morning together as at a moment.
func ShowProtocol(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (Protocol, error) {
	out := Protocol{Registers: []ProtocolRegister{}, Lines: []ProtocolLine{}, Explained: []NoticeView{}, Open: []HouseholdStudent{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	notices, err := ShowNotices(ctx, o, asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		t := today(v, x, m)
		out.School, out.Date, out.Day, out.AsAt, out.Safe, out.Roll, out.Count, out.CountAt = v.SchoolName(), t.Date, m.Date.Spoken(), t.AsAt, t.Safe, t.Roll, t.Count, m.Minute.String()
		for _, s := range x.Roll {
			if p := v.Position(x, s.ID, m); p.State == whereabouts.Unaccounted || !p.Worried.IsZero() {
				out.Open = append(out.Open, HouseholdStudent{Student: pages.Student(v, s, m.Date), Text: work.Whereabouts(p), Warnings: pages.Warnings(v.School.WarningsOf(s.ID))})
			}
		}
		for _, n := range slices.Backward(notices) {
			if !n.Withdrawn {
				out.Explained = append(out.Explained, n)
			}
		}
		out.Scope = v.ScopeText(m.Scope)
		if !x.Open() {
			return nil
		}
		if at, closed := closedBy(v, x, m); closed {
			out.Count, out.CountAt = count(v, x, work.Moment{Date: m.Date, Minute: at, Known: m.Known}), at.String()
		}
		for _, on := range x.Sections {
			if !on.Open {
				continue
			}
			if slot, ok := on.School.Pattern.First(); ok {
				if out.Slot == "" {
					out.Slot = slot.Label()
				}
				out.Registers = append(out.Registers, protocolRegisters(v, x, on.ID, slot, m)...)
			}
		}
		out.Lines = protocolLines(v, x, m)
		return nil
	})
	return out, err
}

// closedBy returns when the last of the sections was closed; ok is false while one is not.
func closedBy(v work.Snapshot, x *work.Day, m work.Moment) (at day.Minute, ok bool) {
	for _, on := range x.Sections {
		if !on.Open {
			continue
		}
		stands := morning.SafeArrival(v, x, on.ID, m)
		if stands.State != safearrival.Closed {
			return at, false
		}
		at, ok = day.Latest(at, stands.Last.Minute), true
	}
	return at, ok
}

// protocolRegisters lists the registers of a section's first slot.
func protocolRegisters(v work.Snapshot, x *work.Day, section ids.Section, slot day.Slot, m work.Moment) []ProtocolRegister {
	out := []ProtocolRegister{}
	for _, r := range x.Registers {
		if r.Class.Section != section || r.Slot.Name != slot.Name {
			continue
		}
		row := ProtocolRegister{Class: r.Class.Title, Taker: v.TakerNames(x, r.Class.ID, slot.Name)}
		if r.SentBy(m) {
			row.Sent, row.By = work.When(r.Sent.Known, x.Date), r.Sent.By
		}
		out = append(out, row)
	}
	return out
}

// protocolLines lists what was done to find everybody, oldest first. A call about siblings
// is one line, and so is a reminder that went out two ways.
func protocolLines(v work.Snapshot, x *work.Day, m work.Moment) []ProtocolLine {
	type line struct {
		at   day.Minute
		line ProtocolLine
	}
	var all []line
	seen := map[string]bool{}
	add := func(at day.Minute, known day.Instant, id, kind, words, by string) {
		if known > m.Known || at.After(m.Minute) || seen[id] {
			return
		}
		seen[id] = true
		all = append(all, line{at, ProtocolLine{At: at.String(), Kind: kind, Text: words, By: by}})
	}
	about := map[ids.Call][]ids.Student{}
	for _, c := range x.Calls {
		about[c.ID] = append(about[c.ID], c.StudentID)
	}
	for _, c := range x.Calls {
		if c.FetchID != nil {
			continue // about someone who had arrived
		}
		who := "nobody to ring"
		if c.ContactID != nil {
			who = v.School.ContactOf(*c.ContactID).Name()
		}
		add(c.Minute, c.Known, fmt.Sprint("call ", c.ID), "call", work.Join(" · ", v.School.Names(about[c.ID]), who+": "+c.Outcome, c.Said, c.Note), c.By)
	}
	for _, msg := range x.Messages {
		switch {
		case msg.Kind == work.ToHome && msg.ContactID != nil:
			add(msg.Minute, msg.Known, fmt.Sprint("text ", msg.ID), "text", work.Join(" · ", v.School.Names(msg.Students), v.School.ContactOf(*msg.ContactID).Name()+": "+x.StateOfMessage(msg, m.Known)), msg.By)
		case msg.Kind == work.Reminder && msg.ClassID != nil:
			add(msg.Minute, msg.Known, fmt.Sprint("reminder ", *msg.ClassID, msg.Slot, msg.Journal), "reminder", v.School.ClassOf(*msg.ClassID).Title+", "+msg.Slot, msg.By)
		}
	}
	for _, s := range x.Searches {
		words := v.School.Names([]ids.Student{s.StudentID})
		if s.EndedAt != nil && *s.EndedAt <= m.Known {
			words = work.Join(" · ", words, s.Outcome+" "+s.EndedAt.Minute().String(), s.Place, s.FoundBy)
		}
		looked := s.By
		if s.Searcher != "" {
			looked = s.Searcher
		}
		add(s.Minute, s.Known, fmt.Sprint("search ", s.ID), "search", words, looked)
	}
	for _, h := range x.Holds {
		add(h.Minute, h.Known, fmt.Sprint("hold ", h.ID), "hold", fmt.Sprintf("%s until %s: %s", work.Count(len(h.Students), "student"), h.Until, h.Reason), h.By)
	}
	for _, c := range x.Closings {
		kind := "closed"
		if c.Reopened {
			kind = "opened again"
		}
		add(c.Minute, c.Known, fmt.Sprint("closing ", c.ID), kind, work.Join(": ", v.Among(c.SectionID), c.Reason), c.By)
	}
	slices.SortStableFunc(all, func(a, b line) int { return a.at.SinceMidnight() - b.at.SinceMidnight() })
	out := make([]ProtocolLine, len(all))
	for i, l := range all {
		out[i] = l.line
	}
	return out
}

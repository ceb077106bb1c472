package work

import (
	"context"
	"sort"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/store"
)

// CountPart is one state of the count.
type CountPart struct {
	State string `json:"state"`
	Words string `json:"words"`
	N     int    `json:"n"`
}

// RegisterOut is a register that should be in.
type RegisterOut struct {
	Class    int64    `json:"class"`
	Slot     string   `json:"slot"`
	Words    string   `json:"words" doc:"The slot in words"`
	Title    string   `json:"title"`
	Teacher  string   `json:"teacher"`
	Room     string   `json:"room"`
	Overdue  int      `json:"overdue" doc:"Minutes"`
	Waiting  int      `json:"waiting" doc:"Students of whom nothing else is known"`
	Answer   string   `json:"answer" doc:"What became of the last reminder, in words"`
	Reminded []string `json:"reminded" doc:"When and by whom"`
}

// DueBack is someone expected.
type DueBack struct {
	Student StudentRef `json:"student"`
	State   string     `json:"state"`
	Words   string     `json:"words"`
	By      string     `json:"by"`
	Overdue bool       `json:"overdue"`
}

// TodayView is the Today page.
type TodayView struct {
	Date       string          `json:"date"`
	AsAt       string          `json:"asAt"`
	Scope      string          `json:"scope"`
	Open       bool            `json:"open" doc:"Whether it is a school day"`
	Roll       int             `json:"roll"`
	Count      []CountPart     `json:"count"`
	OnSite     []MissingOnSite `json:"onSite"`
	Registers  []RegisterOut   `json:"registers"`
	Due        int             `json:"due" doc:"Registers due by now"`
	Waiting    int             `json:"waiting"`
	Mismatches []MismatchView  `json:"mismatches"`
	DueBack    []DueBack       `json:"dueBack"`
	Households []HouseholdView `json:"households"`
	Causes     []CauseView     `json:"causes" doc:"What many of those on the call list have in common"`
	Holds      []HoldView      `json:"holds" doc:"Groups whose homes are not rung yet"`
	Held       int             `json:"held" doc:"Students on the call list who are held"`
	Answers    []AnswerView    `json:"answers" doc:"What homes answered to messages, not dealt with yet"`
	Fetches    []FetchView     `json:"fetches" doc:"Students to be fetched"`
	Tasks      int             `json:"tasks" doc:"What the office has to mend"`
	Overdue    int             `json:"overdue" doc:"Students whose reasons are overdue"`
	Notices    int             `json:"notices" doc:"Notices from home that hold today"`
	Missing    int             `json:"missing" doc:"Students on the call list"`
	NoContact  int             `json:"noContact"`
	Safe       SafeArrival     `json:"safe"`
}

// Today puts the Today page together as at a moment.
func (o *Office) Today(ctx context.Context, asAt string) (TodayView, error) {
	var out TodayView
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	wrongNumbers, err := store.WrongNumbers(ctx, o.store.Read())
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		out = v.today(x, m)
		out.Tasks, out.Overdue = len(v.tasks(x, wrongNumbers, m)), v.overdueReasons(x, m)
		return nil
	})
	return out, err
}

func (v view) today(x *Day, m Moment) TodayView {
	out := TodayView{Date: x.Date.String(), AsAt: day.At(m.Date, m.Minute).String(), Scope: v.settings.Name, Open: x.Open, Roll: len(x.Roll),
		OnSite: []MissingOnSite{}, Holds: []HoldView{}, Answers: []AnswerView{}, Fetches: []FetchView{}, Registers: []RegisterOut{}, Mismatches: []MismatchView{}, DueBack: []DueBack{}}
	positions := make(map[int64]whereabouts.Position, len(x.Roll))
	var count whereabouts.Count
	var missing []followup.Missing
	waiting := map[int64]bool{} // for a register that is still out
	for _, s := range x.Roll {
		p := v.position(x, s.ID, m)
		positions[s.ID] = p
		if p.State == whereabouts.NotYetKnown {
			waiting[s.ID] = true
		}
		count[p.State]++
		search := x.searchOf(s.ID, m)
		switch {
		case p.State == whereabouts.Unaccounted && p.OnSite && (search == nil || search.outcome != "given up"):
			out.OnSite = append(out.OnSite, v.missingOnSite(s, p, search, m))
		case p.State == whereabouts.Unaccounted && x.waitsForRegister(s.ID, p, m):
			waiting[s.ID] = true
		case p.State == whereabouts.Unaccounted:
			missing = append(missing, v.missing(x, s, m))
		}
		if b, ok := v.dueBack(s, p, m); ok {
			out.DueBack = append(out.DueBack, b)
		}
		out.Mismatches = append(out.Mismatches, v.mismatches(x, s, p, m)...)
	}
	out.Count, out.Missing = countParts(count), len(missing)
	sortDueBack(out.DueBack)
	v.registersOut(&out, x, waiting, m)
	out.Households = v.households(x, missing, positions, m)
	out.Causes = v.causes(x, missing, positions)
	out.Holds, out.Answers, out.Fetches = v.holdViews(x, missing, m), v.answers(x, m), v.fetches(x, m)
	for _, n := range x.notices {
		if n.Known <= m.Known && (n.WithdrawnAt == nil || *n.WithdrawnAt > m.Known) {
			out.Notices++
		}
	}
	for _, h := range out.Households {
		if h.Held != "" {
			out.Held += len(h.Students)
		}
		if len(h.Contacts) == 0 {
			out.NoContact += len(h.Students)
		}
	}
	out.Safe = v.safeArrival(x, m)
	return out
}

// waitsForRegister reports whether a register of an earlier slot than the one that
// marked the student absent is still out: it may say where they are, and no home
// is rung before it is in.
func (x *Day) waitsForRegister(student int64, p whereabouts.Position, m Moment) bool {
	for _, d := range x.Evidence[student].Due {
		if d.Slot.Start < p.Slot.Start && (d.Sent == nil || d.Sent.At > m.Known) {
			return true
		}
	}
	return false
}

func (v view) dueBack(s store.Student, p whereabouts.Position, m Moment) (DueBack, bool) {
	expected := p.Until >= 0 && (p.State == whereabouts.Left || p.State == whereabouts.Explained || p.NotBack)
	if !expected {
		return DueBack{}, false
	}
	return DueBack{Student: v.ref(s, m.Date), State: p.State.Slug(), Words: p.Reason, By: p.Until.String(), Overdue: p.NotBack || m.Minute > p.Until}, true
}

// sortDueBack puts who is overdue on top, then who is expected first.
func sortDueBack(list []DueBack) {
	sort.SliceStable(list, func(a, b int) bool {
		if list[a].Overdue != list[b].Overdue {
			return list[a].Overdue
		}
		return list[a].By < list[b].By
	})
}

func (v view) registersOut(out *TodayView, x *Day, waiting map[int64]bool, m Moment) {
	counted := map[int64]bool{}
	for _, r := range x.Registers {
		state := r.stateOf(m, v.settings.RegisterWithin)
		if state == register.NotDue || state == register.Open {
			continue
		}
		out.Due++
		if state == register.Sent {
			continue
		}
		row := RegisterOut{Class: r.Class.ID, Slot: r.Slot.Name, Words: r.Slot.Words(), Title: r.Class.Title, Teacher: v.takersWords(x, r.Class.ID, r.Slot.Name), Room: r.Meeting.Room,
			Overdue: register.Overdue(r.Slot, v.settings.RegisterWithin, m.Minute)}
		for _, s := range r.Roll {
			if waiting[s.ID] {
				row.Waiting++
				counted[s.ID] = true
			}
		}
		row.Reminded, row.Answer = x.trace(r.Class.ID, r.Slot.Name, m.Known)
		out.Registers = append(out.Registers, row)
	}
	out.Waiting = len(counted)
	sort.SliceStable(out.Registers, func(a, b int) bool { return out.Registers[a].Overdue > out.Registers[b].Overdue })
}

package work

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/store"
)

// RegisterRef is a register on a list.
type RegisterRef struct {
	Class    int64  `json:"class"`
	Title    string `json:"title"`
	Slot     string `json:"slot"`
	Words    string `json:"words" doc:"The slot in words"`
	Start    string `json:"start"`
	End      string `json:"end"`
	Room     string `json:"room"`
	Teacher  string `json:"teacher"`
	State    string `json:"state" enum:"not due,open,sent,late,missing"`
	DueBy    string `json:"dueBy"`
	Overdue  int    `json:"overdue"`
	SentAt   string `json:"sentAt"`
	SentBy   string `json:"sentBy"`
	Students int    `json:"students"`
	Mine     bool   `json:"mine"`
}

// RegistersView is a day's registers.
type RegistersView struct {
	Date      string        `json:"date"`
	Words     string        `json:"words"`
	Open      bool          `json:"open"`
	AsAt      string        `json:"asAt"`
	Registers []RegisterRef `json:"registers"`
}

// Registers lists a day's registers: a teacher's own, everyone's for the office.
func (o *Office) Registers(ctx context.Context, p Person, asAt string) (RegistersView, error) {
	out := RegistersView{Registers: []RegisterRef{}}
	m, err := o.registerMoment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		out.Date, out.Words, out.Open, out.AsAt = m.Date.String(), m.Date.Words(), x.Open, m.Minute.String()
		for _, r := range x.Registers {
			if ref := v.registerRef(x, r, p, m); (ref.Mine || p.Role != Teacher) && ref.Students > 0 {
				out.Registers = append(out.Registers, ref)
			}
		}
		return nil
	})
	return out, err
}

// registerMoment reads an "as at" for registers: an earlier day's are shown with what was
// sent and corrected since, an earlier minute's as they were known then.
func (o *Office) registerMoment(asAt string) (Moment, error) {
	m, err := o.moment(asAt)
	if len(asAt) == len("2006-01-02") {
		m.Known = max(m.Known, o.clock.Now())
	}
	return m, err
}

// knownWords is when something of a day became known: the minute, with the date where
// that is another one.
func knownWords(known day.Instant, d day.Date) string {
	if known.Date() == d {
		return known.Minute().String()
	}
	return known.Date().Words() + " " + known.Minute().String()
}

func (v view) registerRef(x *Day, r *registry, p Person, m Moment) RegisterRef {
	out := RegisterRef{Class: r.Class.ID, Title: r.Class.Title, Slot: r.Slot.Name, Words: r.Slot.Words(), Start: r.Slot.Start.String(), End: r.Slot.End.String(),
		Room: r.Meeting.Room, Teacher: v.takersWords(x, r.Class.ID, r.Slot.Name), State: string(r.stateOf(m, v.settings.RegisterWithin)),
		DueBy: register.DueBy(r.Slot, v.settings.RegisterWithin).String(), Students: len(r.Roll),
		Mine: v.school.teaches(p.Staff, r.Class.ID) || v.standsIn(x, p.Staff, r.Class.ID, r.Slot.Name)}
	if r.sentBy(m) {
		out.SentAt, out.SentBy = knownWords(r.Sent.Known, x.Date), r.Sent.By
	} else {
		out.Overdue = register.Overdue(r.Slot, v.settings.RegisterWithin, m.Minute)
	}
	return out
}

// CodeView is a code that can be given.
type CodeView struct {
	Code   string `json:"code"`
	Word   string `json:"word"`
	Counts string `json:"counts"`
	State  string `json:"state" doc:"The state whose shape and colour it has"`
	Late   bool   `json:"late"`
}

// RecentMark is how a student's earlier slot went, for the strip of shapes.
type RecentMark struct {
	Date  string `json:"date"`
	Slot  string `json:"slot"`
	Code  string `json:"code"`
	State string `json:"state"`
}

// VersionView is one version of a mark.
type VersionView struct {
	Code   string `json:"code"`
	From   string `json:"from"`
	To     string `json:"to"`
	At     string `json:"at"`
	By     string `json:"by"`
	Source string `json:"source"`
	Reason string `json:"reason"`
	Note   string `json:"note"`
}

// RegisterRow is one student of a register.
type RegisterRow struct {
	Student  StudentRef    `json:"student"`
	Warnings []string      `json:"warnings"`
	Recent   []RecentMark  `json:"recent" doc:"Oldest first"`
	Known    *KnownMark    `json:"known,omitempty" doc:"What is known from elsewhere"`
	Versions []VersionView `json:"versions" doc:"What was sent, oldest first"`
	Place    Place         `json:"place"`
	Card     string        `json:"card" doc:"Number of the student's card; empty for none"`
	Seat     int           `json:"seat" doc:"Place on the seating plan, counted from the front, row by row; -1 for none"`
	Draft    *DraftView    `json:"draft,omitempty" doc:"How the row stands for all who have the register open"`
}

// KnownMark is a mark that follows from what is known elsewhere.
type KnownMark struct {
	Code   string `json:"code"`
	From   string `json:"from"`
	To     string `json:"to"`
	Words  string `json:"words"`
	Source string `json:"source"`
}

// RegisterView is one register with its rows.
type RegisterView struct {
	Register RegisterRef   `json:"register"`
	Date     string        `json:"date"`
	Words    string        `json:"words"`
	Rows     []RegisterRow `json:"rows"`
	Codes    []CodeView    `json:"codes"`
	Reasons  []Reason      `json:"reasons"`
	CanSend  bool          `json:"canSend"`
	WhyNot   string        `json:"whyNot"`
	Arriving Arriving      `json:"arriving"`
	Seating  SeatingSize   `json:"seating"`

	CheckIn               *CheckInView `json:"checkIn,omitempty" doc:"The newest check-in window of the register"`
	CheckInDays           []CheckInDay `json:"checkInDays" doc:"Next days on which the class meets in the slot"`
	MayCheckInAtADistance bool         `json:"mayCheckInAtADistance"`
}

// Arriving is how someone is marked who comes to a slot now.
type Arriving struct {
	In      string `json:"in" doc:"Code of those who are on time"`
	Late    string `json:"late" doc:"Code of those who come later"`
	InUntil string `json:"inUntil" doc:"Last minute on time"`
}

// SeatingSize is the size of a seating plan.
type SeatingSize struct {
	Columns int `json:"columns"`
	Rows    int `json:"rows"`
}

// codeState is the state whose shape a code has on a page.
func codeState(c policy.Code) string {
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

func codeViews(set *policy.CodeSet) []CodeView {
	out := make([]CodeView, len(set.Codes))
	for i, c := range set.Codes {
		out[i] = CodeView{c.Code, c.Word, c.Counts.String(), codeState(c), c.Late}
	}
	return out
}

// Register returns a register to take or to read. A class that does not meet in
// the slot that day has none, and the answer says why.
func (o *Office) Register(ctx context.Context, p Person, class int64, slot, asAt string) (RegisterView, error) {
	var out RegisterView
	m, err := o.registerMoment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		r, err := v.registry(x, p, class, slot)
		if err != nil {
			return err
		}
		out = v.registerView(x, r, p, m)
		if err := v.addSeats(ctx, &out, r); err != nil {
			return err
		}
		if err := v.addDrafts(ctx, &out, x, r, m); err != nil {
			return err
		}
		return v.addCheckIn(ctx, &out, x, r, m)
	})
	return out, err
}

// registry finds a register that the person may take.
func (v view) registry(x *Day, p Person, class int64, slot string) (*registry, error) {
	c, err := v.school.Class(class)
	if err != nil {
		return nil, err
	}
	if err := v.mayTake(x, p, class, slot); err != nil {
		return nil, err
	}
	if !x.Open {
		return nil, notFound("%s is not a school day: %s has no register", x.Date.Words(), c.Title)
	}
	r := x.byKey[registryKey{class, slot}]
	if r == nil {
		return nil, notFound("%s did not meet in %s on %s: there is no register to take", c.Title, slot, x.Date.Words())
	}
	return r, nil
}

func (v view) registerView(x *Day, r *registry, p Person, m Moment) RegisterView {
	out := RegisterView{Register: v.registerRef(x, r, p, m), Date: x.Date.String(), Words: x.Date.Words(), Rows: []RegisterRow{}, Codes: codeViews(v.codes), Reasons: v.settings.Reasons,
		Arriving: v.arriving(r.Slot), CheckInDays: []CheckInDay{}}
	for _, s := range r.Roll {
		row := RegisterRow{Student: v.ref(s, x.Date), Warnings: warningWords(v.school.warnings[s.ID]), Recent: v.recent(s.ID, x, r.Slot.Name),
			Card: s.Card, Seat: register.Tray, Versions: []VersionView{}, Place: placeOf(v.position(x, s.ID, m))}
		for _, mark := range x.versions[markKey{s.ID, r.Slot.Name}] {
			if mark.Known <= m.Known {
				row.Versions = append(row.Versions, versionView(mark))
			}
		}
		if known, ok := register.PrefillFor(*x.Evidence[s.ID], r.Slot, v.settings.LateGrace, m.Minute, m.Known, v.reasonCode); ok {
			row.Known = &KnownMark{Code: known.Code, From: minuteText(known.From), To: minuteText(known.To), Words: known.Words, Source: known.Source}
		}
		out.Rows = append(out.Rows, row)
	}
	switch {
	case out.Register.State == string(register.Sent):
		out.WhyNot = fmt.Sprintf("sent %s by %s; a change is a correction with a reason", out.Register.SentAt, out.Register.SentBy)
	case out.Register.State == string(register.NotDue):
		out.WhyNot = "not due before " + out.Register.Start
	case !m.Live && m.Date == v.o.clock.Now().Date():
		out.WhyNot = "this is an earlier minute: go back to live to send"
	default:
		out.CanSend = true
	}
	return out
}

// addDrafts adds what is marked so far to a register that is to be taken.
func (v view) addDrafts(ctx context.Context, out *RegisterView, x *Day, r *registry, m Moment) error {
	if !out.CanSend {
		return nil
	}
	drafts, err := store.DraftsOf(ctx, v.o.store.Read(), x.Date, r.Class.ID, r.Slot.Name)
	if err != nil {
		return err
	}
	for i := range out.Rows {
		if d, ok := drafts[out.Rows[i].Student.ID]; ok {
			view := draftView(d)
			out.Rows[i].Draft = &view
		}
	}
	return nil
}

func (v view) reasonCode(reason string, absent bool) string {
	return v.settings.reasonCode(reason, absent)
}

func versionView(m store.Mark) VersionView {
	return VersionView{Code: m.Code, From: minuteText(orMissing(m.AwayFrom)), To: minuteText(orMissing(m.AwayTo)),
		At: knownWords(m.Known, m.Date), By: m.By, Source: m.Source, Reason: m.Reason, Note: m.Note}
}

func minuteText(m day.Minute) string {
	if m < 0 {
		return ""
	}
	return m.String()
}

// recent returns the last twelve marks of a student in the slot, from the ledger.
func (v view) recent(student int64, x *Day, slot string) []RecentMark {
	out := []RecentMark{}
	for d := x.Index - 1; d >= 0 && len(out) < 12; d-- {
		sd := v.school.Calendar.Day(d)
		pos, ok := sd.Pattern.Position(slot)
		if !ok {
			continue
		}
		if mark, marked := v.o.ledger.Mark(v.school.placeOf[student], d, pos); marked {
			c := v.codes.Codes[mark.Code]
			state := codeState(c)
			if c.Unexplained {
				state = "unexcused" // long past: settled by nobody
			}
			out = append(out, RecentMark{sd.Date.String(), slot, c.Code, state})
		}
	}
	for i, j := 0, len(out)-1; i < j; i, j = i+1, j-1 {
		out[i], out[j] = out[j], out[i]
	}
	return out
}

// SentMark is a row of a register as its taker left it.
type SentMark struct {
	Student int64  `json:"student"`
	Code    string `json:"code"`
	Time    string `json:"time,omitempty" doc:"After a late: minutes or the time; after leaving early: the time"`
	Note    string `json:"note,omitempty"`
	Reason  string `json:"reason,omitempty"`
	Source  string `json:"source,omitempty" doc:"Where a filled-in mark came from; empty for the taker's own eyes"`
	Made    string `json:"made,omitempty" doc:"Minute in which the mark was made, HH:MM"`
	Seen    int    `json:"seen,omitempty" doc:"Version of the shared draft's row that the taker had seen"`
}

// Receipt says what was stored.
type Receipt struct {
	Seq   int64   `json:"seq"`
	Words string  `json:"words"`
	IDs   []int64 `json:"ids" doc:"What was made, for taking it back"`
}

// SendRegister stores a whole register. Every student on the roll must be
// marked: a blank row is never an absence. A register that is in is not sent again.
func (o *Office) SendRegister(ctx context.Context, p Person, key, date string, class int64, slot string, marks []SentMark) (Receipt, error) {
	d, err := day.ParseDate(date)
	if err != nil {
		return Receipt{}, wrong("%v", err)
	}
	var out Receipt
	err = o.write(ctx, p, key, "register", &out, func(w *writing) error {
		return o.look(func(v view) error {
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			r, err := v.registry(x, p, class, slot)
			if err != nil {
				return err
			}
			if r.Sent != nil {
				return conflict("%s %s was sent at %s by %s. Your marks are still on this page: change what differs as a correction", r.Class.Title, slot, r.Sent.Known.Minute(), r.Sent.By)
			}
			if w.now < day.At(d, r.Slot.Start) {
				return refused("%s is not due before %s on %s", slot, r.Slot.Start, d.Words())
			}
			drafts, err := store.DraftsOf(ctx, w.tx, d, class, slot)
			if err != nil {
				return err
			}
			if others := unseen(drafts, marks); len(others) > 0 {
				return conflict("%s marked %s otherwise in between; nothing was sent, look at the rows", drafts[others[0]].By, v.namesOf(others))
			}
			rows, err := v.rowsOf(w, x, r, marks)
			if err != nil {
				return err
			}
			if err := w.addMarks(rows); err != nil {
				return err
			}
			if err := store.DropDraft(ctx, w.tx, d, class, slot); err != nil {
				return err
			}
			out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("%s %s sent, %d students", r.Class.Title, slot, len(rows)), IDs: []int64{}}
			return store.AddRegisters(ctx, w.tx, []store.Register{{Date: d, Slot: slot, ClassID: class, Origin: store.Origin{Journal: w.journal.ID}}})
		})
	})
	return out, err
}

func (v view) namesOf(students []int64) string {
	names := make([]string, len(students))
	for i, id := range students {
		s := v.school.Students[v.school.student[id]]
		names[i] = s.Name()
	}
	return strings.Join(names, ", ")
}

// rowsOf turns sent rows into marks and refuses what does not fit, by name.
func (v view) rowsOf(w *writing, x *Day, r *registry, sent []SentMark) ([]store.Mark, error) {
	byStudent := map[int64]SentMark{}
	for _, m := range sent {
		if _, twice := byStudent[m.Student]; twice {
			return nil, wrong("a student is marked twice; nothing was sent")
		}
		byStudent[m.Student] = m
	}
	var out []store.Mark
	var blank []string
	for _, s := range r.Roll {
		m, ok := byStudent[s.ID]
		if !ok || m.Code == "" {
			blank = append(blank, s.Name())
			continue
		}
		delete(byStudent, s.ID)
		mark, err := v.markOf(w, x, r, m)
		if err != nil {
			return nil, wrong("%s: %v; nothing was sent", s.Name(), err)
		}
		mark.Version = len(x.versions[markKey{s.ID, r.Slot.Name}]) + 1
		out = append(out, mark)
	}
	if len(blank) > 0 {
		return nil, wrong("%d still to mark: %s. A blank is never an absence; nothing was sent", len(blank), strings.Join(blank, ", "))
	}
	if len(byStudent) > 0 {
		return nil, wrong("%d marks are of students who are not on this register; nothing was sent", len(byStudent))
	}
	return out, nil
}

// markOf reads one sent row.
func (v view) markOf(w *writing, x *Day, r *registry, m SentMark) (store.Mark, error) {
	code, ok := v.codes.Find(m.Code)
	if !ok {
		return store.Mark{}, fmt.Errorf("there is no code %q", m.Code)
	}
	out := store.Mark{Date: x.Date, Slot: r.Slot.Name, StudentID: m.Student, ClassID: r.Class.ID, Code: m.Code, Note: m.Note, Reason: m.Reason,
		Source: register.SourceRegister, Made: v.madeAt(w, x, r.Slot, m.Made), Origin: store.Origin{Journal: w.journal.ID}}
	if m.Source != "" {
		out.Source = m.Source
	}
	switch {
	case m.Time == "":
	case code.Late:
		at, err := register.ParseLate(r.Slot, m.Time)
		if err != nil {
			return out, err
		}
		out.AwayTo = &at
	case code.OnSite:
		at, err := day.ParseTyped(m.Time)
		if err != nil {
			return out, err
		}
		out.AwayFrom = &at
	}
	return out, nil
}

// madeAt is the minute for which a mark is evidence: the minute in which it was
// made, kept within its slot, and never later than now.
func (v view) madeAt(w *writing, x *Day, slot day.Slot, text string) day.Minute {
	made, err := day.ParseMinute(text)
	if err != nil {
		made = slot.End
		if w.now.Date() == x.Date {
			made = w.now.Minute()
		}
	}
	if w.now.Date() == x.Date {
		made = min(made, w.now.Minute())
	}
	return max(min(made, slot.End), slot.Start)
}

// addMarks stores versions of marks and hands them to the ledger.
func (w *writing) addMarks(marks []store.Mark) error {
	if len(marks) == 0 {
		return nil
	}
	w.marks = append(w.marks, marks...)
	return store.AddMarks(w.ctx, w.tx, marks)
}

// Correction is a change of a mark after its register was sent.
type Correction struct {
	Date    string `json:"date"`
	Slot    string `json:"slot"`
	Student int64  `json:"student"`
	Code    string `json:"code"`
	Time    string `json:"time,omitempty"`
	Reason  string `json:"reason" doc:"Why; stays visible beside both marks"`
}

// Correct replaces a mark by a new version that says why. Both stay visible.
func (o *Office) Correct(ctx context.Context, p Person, key string, c Correction) (Receipt, error) {
	var out Receipt
	d, err := day.ParseDate(c.Date)
	if err != nil {
		return out, wrong("%v", err)
	}
	if strings.TrimSpace(c.Reason) == "" {
		return out, wrong("a correction needs a reason; the mark stays as it is")
	}
	err = o.write(ctx, p, key, "correction", &out, func(w *writing) error {
		return o.look(func(v view) error {
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			s, err := v.school.Student(c.Student)
			if err != nil {
				return err
			}
			versions := x.versions[markKey{c.Student, c.Slot}]
			if len(versions) == 0 {
				return notFound("%s has no mark in %s on %s: send the register first", s.Name(), c.Slot, d.Words())
			}
			last := versions[len(versions)-1]
			r, err := v.registry(x, p, last.ClassID, c.Slot)
			if err != nil {
				return err
			}
			mark, err := v.markOf(w, x, r, SentMark{Student: c.Student, Code: c.Code, Time: c.Time, Reason: c.Reason, Made: last.Made.String()})
			if err != nil {
				return wrong("%s: %v; the mark stays as it is", s.Name(), err)
			}
			if mark.AwayTo != nil {
				mark.Made = max(mark.Made, min(*mark.AwayTo, r.Slot.End))
			}
			mark.Version = last.Version + 1
			out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("%s, %s: %s is now %s", s.Name(), c.Slot, last.Code, c.Code), IDs: []int64{}}
			return w.addMarks([]store.Mark{mark})
		})
	})
	return out, err
}

// recode gives new versions to a student's marks in force where change says so.
func (w *writing) recode(v view, x *Day, student int64, source, reason string, change func(slot day.Slot, m store.Mark, code policy.Code) (store.Mark, bool)) error {
	if !x.Open {
		return nil
	}
	var out []store.Mark
	for _, slot := range x.School.Pattern.Slots {
		versions := x.versions[markKey{student, slot.Name}]
		if len(versions) == 0 {
			continue
		}
		last := versions[len(versions)-1]
		code, _ := v.codes.Find(last.Code)
		next, changed := change(slot, last, code)
		if !changed {
			continue
		}
		next.Version, next.Source, next.Reason = last.Version+1, source, reason
		next.Origin = store.Origin{Journal: w.journal.ID}
		out = append(out, next)
	}
	return w.addMarks(out)
}

// restore gives the marks that a journal entry changed their earlier form back,
// as new versions.
func (w *writing) restore(v view, x *Day, student, entry int64, reason string) error {
	return w.recode(v, x, student, register.SourceDesk, reason, func(slot day.Slot, m store.Mark, _ policy.Code) (store.Mark, bool) {
		versions := x.versions[markKey{student, slot.Name}]
		if m.Journal != entry || len(versions) < 2 {
			return m, false
		}
		return versions[len(versions)-2], true
	})
}

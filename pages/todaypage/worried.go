package todaypage

import (
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/home"
	"meldung/work/morning"
)

// WorriedFor is a student whose home was reached and believes them to be at school, and whom
// nobody has seen.
type WorriedFor struct {
	Student  pages.StudentRef   `json:"student"`
	Place    pages.Place        `json:"place"`
	Since    string             `json:"since"`
	Text     string             `json:"text" doc:"What home said, and what there is of the student"`
	Seen     string             `json:"seen" doc:"When and where the student was last seen on an earlier day; empty for not in the last weeks"`
	Warnings []string           `json:"warnings"`
	Contacts []pages.ContactRef `json:"contacts" doc:"In call order; those who must not be called are left out"`
	Search   Searching          `json:"search"`
	Lesson   *Lesson            `json:"lesson,omitempty" doc:"Where the student should be now"`
}

// Searching says who looks for a student.
type Searching struct {
	ID    ids.Search `json:"id" doc:"0 for nobody"`
	By    string     `json:"by"`
	Since string     `json:"since"`
}

// Lesson is the lesson in which a student should be.
type Lesson struct {
	Class   ids.Class `json:"class"`
	Slot    string    `json:"slot"`
	Title   string    `json:"title"`
	Teacher string    `json:"teacher"`
	Room    string    `json:"room"`
	Asked   string    `json:"asked" doc:"When the teacher was asked about the student; empty for not"`
}

func searching(s *morning.Search) Searching {
	if !s.Runs() {
		return Searching{}
	}
	return Searching{ID: s.ID, By: s.By, Since: s.Since.String()}
}

func worriedFor(v work.Snapshot, x *work.Day, s store.Student, p whereabouts.Position, m work.Moment) WorriedFor {
	out := WorriedFor{Student: pages.Student(v, s, m.Date), Place: pages.PlaceOf(p), Since: p.Worried.String(), Warnings: pages.Warnings(v.School.WarningsOf(s.ID)),
		Contacts: pages.Contacts(followup.Callable(v.School.ContactsOf(s.ID))), Search: searching(morning.SearchOf(x, s.ID, m)), Lesson: lessonNow(v, x, s.ID, m), Seen: seenBefore(v.Of(s.ID), x, s.ID)}
	said := "Home sent " + s.Given + ", who has not come"
	for _, a := range home.Attempts(v, x, s.ID, m) {
		if a.Said == held.BelievesIn {
			said = work.Join(": ", v.School.ContactOf(a.Contact).Name()+" believes "+s.Given+" is at school", a.Note)
		}
	}
	there := work.LastSeen(p.Last)
	if !p.Last.At.IsZero() && p.Last.By != whereabouts.BySight {
		there += ", not seen"
	}
	out.Text = said + " · " + there
	return out
}

// lessonNow returns where a student should be at a moment, or next; nil for nowhere.
func lessonNow(v work.Snapshot, x *work.Day, student ids.Student, m work.Moment) *Lesson {
	for _, r := range x.Registers {
		if !r.Slot.End.After(m.Minute) || !onRoll(r, student) {
			continue
		}
		out := &Lesson{Class: r.Class.ID, Slot: r.Slot.Name, Title: r.Class.Title, Teacher: v.TakerNames(x, r.Class.ID, r.Slot.Name), Room: r.Meeting.Room}
		out.Asked = askedAbout(x, student, r.Slot.Name, m)
		return out
	}
	return nil
}

func onRoll(r *work.Register, student ids.Student) bool {
	for _, s := range r.Roll {
		if s.ID == student {
			return true
		}
	}
	return false
}

// askedAbout is when a teacher was asked about a student in a slot; empty for not.
func askedAbout(x *work.Day, student ids.Student, slot string, m work.Moment) string {
	asked := ""
	for _, msg := range x.Messages {
		if msg.Kind == work.Question && msg.StudentID != nil && *msg.StudentID == student && msg.Slot == slot && msg.Known <= m.Known {
			asked = msg.Minute.String()
		}
	}
	return asked
}

// mostBack is how many school days back one looks for when a student was last seen.
const mostBack = 30

// seenBefore is when and where a student was last marked as there before the day; empty for not
// in the last weeks.
func seenBefore(v work.Section, x *work.Day, student ids.Student) string {
	on := x.Section(v.ID)
	if !on.Open || v.Place(student) < 0 {
		return ""
	}
	for d := on.Index - 1; d >= max(0, on.Index-mostBack); d-- {
		slots := v.Calendar.Day(d).Pattern.Slots
		for pos := len(slots) - 1; pos >= 0; pos-- {
			if mark, marked := v.Ledger.Mark(v.Place(student), d, pos); marked && v.Ledger.Codes(d).Codes[mark.Code].OnSite {
				return v.Calendar.Day(d).Date.Spoken() + ", " + slots[pos].Label()
			}
		}
	}
	return ""
}

package studentpage

import (
	"context"
	"slices"
	"sort"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
	"meldung/work/incidents"
)

// addHistory adds what happened, as it was known.
func addHistory(ctx context.Context, v work.Section, out *StudentSheet, p work.Person, s store.Student, m work.Moment) error {
	q := v.Store()
	add := func(h HappenedView, at day.Instant, known day.Instant, seq ids.Entry) {
		if known > m.Known || at > m.At() {
			return
		}
		h.Date, h.sort, h.seq = at.Date().String(), at, seq
		h.Day = at.Date().Spoken()
		if at.Date() == m.Date {
			h.Day = "Today"
		}
		if h.Kind != "mark" || at.Date() == m.Date {
			h.At = at.Minute().String()
		}
		out.Happened = append(out.Happened, h)
	}
	if err := marksHistory(ctx, v, s, m, add); err != nil {
		return err
	}
	moves, err := store.MovementsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, mv := range moves {
		h := HappenedView{Kind: "desk", State: "in", By: mv.By, Text: map[string]string{work.Arrived: "Signed in", work.Departed: "Signed out", work.Seen: "Found"}[mv.Kind]}
		h.Text = work.Join(" · ", h.Text, mv.Reason, mv.Note, work.Until(mv.Returns))
		if mv.Kind == work.Departed {
			h.State = "left"
		}
		if mv.UndoneBy != nil {
			h.Text += " · taken back"
		}
		add(h, day.At(mv.Date, mv.Minute), mv.Known, mv.Journal)
	}
	if err := awayHistory(ctx, q, s, add); err != nil {
		return err
	}
	if p.May(work.MaySeeConduct) {
		if err := conductHistory(ctx, v.Snapshot, out, s, m, add); err != nil {
			return err
		}
	}
	if p.May(work.MaySeeCases) {
		if err := reviewHistory(ctx, q, s, add); err != nil {
			return err
		}
	}
	if p.May(work.MaySeeContacts) {
		if err := talkHistory(ctx, v.Snapshot, s, add); err != nil {
			return err
		}
	}
	if p.May(work.MaySeeLetter) {
		if err := stepsHistory(ctx, v, s, add); err != nil {
			return err
		}
	}
	sortHappened(out)
	return nil
}

// conductHistory adds the student's own part in incidents, and nobody else's name.
func conductHistory(ctx context.Context, v work.Snapshot, out *StudentSheet, s store.Student, m work.Moment, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	told, err := incidents.Of(ctx, v, s.ID)
	if err != nil {
		return err
	}
	lists, err := incidents.ReadLists(ctx, v.Store())
	for _, t := range told {
		if t.Date <= m.Date {
			out.Incidents++
		}
		role := ""
		for _, x := range t.People {
			if x.Student == s.ID {
				role = string(x.Role)
			}
		}
		var done []string
		for _, a := range t.Actions {
			done = append(done, lists.Name(a))
		}
		at := t.Minute
		if at.IsZero() {
			at = day.Midnight
		}
		h := HappenedView{Kind: "conduct", Text: work.Join(" · ", role, lists.Name(t.Kind), lists.Name(t.Place), strings.Join(done, ", ")), By: t.RecordedBy, Incident: t.ID}
		add(h, day.At(t.Date, at), 0, 0)
	}
	return err
}

// stepsHistory adds what was done about what policies say is due, and the letters that went.
func stepsHistory(ctx context.Context, v work.Section, s store.Student, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	rows, acts, err := store.StepsOf(ctx, v.Store(), s.ID)
	if err != nil {
		return err
	}
	letters, err := store.LettersOf(ctx, v.Store(), s.ID)
	if err != nil {
		return err
	}
	printed := map[ids.Entry]bool{}
	for _, l := range letters {
		h := HappenedView{Kind: "step", Text: "Letter: " + l.Subject, By: l.By, Letter: l.ID}
		if l.UndoneBy != nil {
			h.Text += " · taken back"
		}
		printed[l.Journal] = true
		add(h, l.Known, l.Known, l.Journal)
	}
	for _, a := range acts {
		if printed[a.Journal] {
			continue
		}
		i := slices.IndexFunc(rows, func(r store.Step) bool { return r.ID == a.StepID })
		words := a.Kind
		if a.Kind == "handed" {
			words = "handed to " + a.To
		}
		if a.Until != nil {
			words += " until " + a.Until.Spoken()
		}
		h := HappenedView{Kind: "step", Text: work.Join(" · ", rows[i].Title+": "+words, a.Text), By: a.By}
		if a.UndoneBy != nil {
			h.Text += " · taken back"
		}
		add(h, a.Known, a.Known, a.Journal)
	}
	return nil
}

// awayHistory adds who met the student at roll calls, and what the leaders of trips said.
func awayHistory(ctx context.Context, q store.Queryer, s store.Student, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	ticks, err := store.RollTicksOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, t := range ticks {
		h := HappenedView{Kind: "desk", State: "in", By: t.By, Text: work.Join(" · ", "Met at the roll call", t.Place)}
		if !t.Here {
			h.State, h.Text = "elsewhere", work.Join(" · ", "Roll call: known to be elsewhere", t.Place)
		}
		if t.UndoneBy != nil {
			h.Text += " · taken back"
		}
		add(h, t.At, t.Known, t.Journal)
	}
	said, err := store.ActivityMarksOf(ctx, q, s.ID)
	for _, m := range said {
		h := HappenedView{Kind: "desk", State: "elsewhere", By: m.By, Text: "On " + m.Title}
		if !m.Here {
			h.State, h.Text = "unaccounted", "Missing on "+m.Title
		}
		add(h, day.At(m.Date, m.Minute), m.Known, m.Journal)
	}
	return err
}

// mostHappened bounds a history.
const mostHappened = 60

// sortHappened puts the newest first.
func sortHappened(out *StudentSheet) {
	sort.SliceStable(out.Happened, func(a, b int) bool {
		x, y := out.Happened[a], out.Happened[b]
		if x.sort != y.sort {
			return x.sort > y.sort
		}
		return x.seq > y.seq
	})
	if len(out.Happened) > mostHappened {
		out.Happened = out.Happened[:mostHappened]
	}
}

// talkHistory adds what was said with home.
func talkHistory(ctx context.Context, v work.Snapshot, s store.Student, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	q := v.Store()
	notices, err := store.NoticesOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, n := range notices {
		h := HappenedView{Kind: "home", State: "explained", Text: work.Join(" · ", "Home: "+work.StoredNotice(n).Summary(n.Known.Date()), work.Told(n)), By: n.By}
		if n.WithdrawnBy != nil {
			h.Text += " · withdrawn"
		}
		add(h, n.Known, n.Known, n.Journal)
	}
	calls, err := store.CallsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, c := range calls {
		who := "nobody"
		if c.ContactID != nil {
			who = v.School.ContactOf(*c.ContactID).Name()
		}
		add(HappenedView{Kind: "call", Text: work.Join(" · ", "Rang "+who+": "+c.Outcome, c.Said, c.Note), By: c.By}, day.At(c.Date, c.Minute), c.Known, c.Journal)
	}
	changed, err := store.ContactChangesOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, c := range changed {
		add(HappenedView{Kind: "contact", Text: v.School.ContactOf(c.ContactID).Name() + ": " + c.Text, By: c.By}, c.Known, c.Known, c.Journal)
	}
	warned, err := store.WarningChangesOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, w := range warned {
		add(HappenedView{Kind: "warning", Text: w.Text, By: w.By}, w.Known, w.Known, w.Journal)
	}
	return nil
}

// reviewHistory adds what was said for reviews, decided at them, and what became of cases.
func reviewHistory(ctx context.Context, q store.Queryer, s store.Student, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	decisions, err := store.ReviewDecisionsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, d := range decisions {
		if d.CaseID == nil { // else the case says it
			add(HappenedView{Kind: "follow-up", Text: work.Join(" · ", "Review: "+concerns.DecisionWords(d), d.Text), By: d.By}, d.Known, d.Known, d.Journal)
		}
	}
	followups, err := store.FollowupsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	told := map[ids.Entry]bool{}
	for _, f := range followups {
		told[f.Journal] = true
		with := map[string]string{caseload.WithStudent: "with the student", caseload.WithOutside: "with " + f.Who}[f.With]
		h := HappenedView{Kind: "follow-up", Text: work.Join(" · ", "Follow-up: "+f.Outcome, with, caseload.Shown(f.Kept, f.Note), nextText(f.NextDate)), By: f.By}
		add(h, day.At(f.Date, f.Minute), f.Known, f.Journal)
	}
	changes, err := store.CaseChangesOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	kept := map[ids.Case]string{} // for whom each is now: the newest says it
	for _, c := range changes {
		if _, later := kept[c.CaseID]; !later {
			kept[c.CaseID] = c.Kept
		}
		if told[c.Journal] {
			continue // the contact says it
		}
		h := HappenedView{Kind: "follow-up", Text: work.Join(" · ", "Case "+c.Kind+", with "+c.Owner, caseload.Shown(kept[c.CaseID], c.Text), nextText(c.NextDate)), By: c.By}
		add(h, c.Known, c.Known, c.Journal)
	}
	if err := supportHistory(ctx, q, s, add); err != nil {
		return err
	}
	words, err := store.ConcernWordsOf(ctx, q, s.ID)
	for _, w := range words {
		add(HappenedView{Kind: "follow-up", Text: "For the review: " + w.Text, By: w.By}, w.Known, w.Known, w.Journal)
	}
	return err
}

// supportHistory adds the support sessions that the student was in, and the meetings about them.
func supportHistory(ctx context.Context, q store.Queryer, s store.Student, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	words, err := caseload.Words(ctx, q)
	if err != nil {
		return err
	}
	sessions, err := store.SupportSessionsOf(ctx, q, s.ID)
	if err != nil {
		return err
	}
	for _, x := range sessions {
		at := day.Midnight
		if x.Minute != nil {
			at = *x.Minute
		}
		text := work.Join(" · ", words.Name(&x.Kind)+", "+day.Duration(x.Minutes)+", led by "+x.LedBy, caseload.Shown(x.Kept, x.Note), caseload.Shown(x.Kept, x.OwnNote))
		add(HappenedView{Kind: "follow-up", Text: text, By: x.By}, day.At(x.Date, at), x.Known, x.Journal)
	}
	meetings, err := store.StudentMeetingsOf(ctx, q, s.ID)
	for _, m := range meetings {
		add(HappenedView{Kind: "follow-up", Text: work.Join(" · ", m.Title, m.Room, strings.ReplaceAll(m.People, "\n", ", ")), By: m.By}, day.At(m.Date, m.Minute), m.Known, m.Journal)
	}
	return err
}

// nextText says when the next contact is due.
func nextText(d *day.Date) string {
	if d == nil {
		return ""
	}
	return "again " + d.Spoken()
}

// marksHistory adds the marks of the last sixty school days that were not plain
// presence: a line for a whole day alike, else a line for a mark.
func marksHistory(ctx context.Context, v work.Section, s store.Student, m work.Moment, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) error {
	if v.Calendar == nil {
		return nil
	}
	c := v.Calendar
	from := c.Day(max(0, c.UpTo(m.Date)-60)).Date
	marks, err := store.MarksOf(ctx, v.Store(), s.ID, from, m.Date)
	if err != nil {
		return err
	}
	for len(marks) > 0 {
		n := 1
		for n < len(marks) && marks[n].Date == marks[0].Date {
			n++
		}
		dayHistory(v, marks[:n], m, add)
		marks = marks[n:]
	}
	return nil
}

// dayHistory adds the marks of one day.
func dayHistory(v work.Section, marks []store.Mark, m work.Moment, add func(HappenedView, day.Instant, day.Instant, ids.Entry)) {
	sd, _, ok := v.SchoolDay(marks[0].Date)
	if !ok {
		return
	}
	same, slots := true, map[string]bool{}
	for _, k := range marks {
		same = same && k.Code == marks[0].Code && k.Version == 1
		slots[k.Slot] = true
	}
	first := marks[0]
	codes := v.CodesOn(first.Date)
	code, _ := codes.Find(first.Code)
	if same && len(slots) > 2 && code.Counts != policy.Attended {
		add(HappenedView{Kind: "mark", State: historyState(code), Text: "All day: " + code.Word, By: first.By}, day.At(first.Date, sd.Pattern.Slots[0].Start), first.Known, first.Journal)
		return
	}
	for _, k := range marks {
		code, _ := codes.Find(k.Code)
		pos, ok := sd.Pattern.Position(k.Slot)
		if !ok || (code.Counts == policy.Attended && !code.Late && k.AwayFrom.IsZero() && k.Version == 1) {
			continue
		}
		slot := sd.Pattern.Slots[pos]
		words := slot.Label() + ": " + code.Word
		if !k.AwayTo.IsZero() {
			words += ", came " + k.AwayTo.String()
		}
		if !k.AwayFrom.IsZero() {
			words += " at " + k.AwayFrom.String()
		}
		if k.Version > 1 {
			words = "corrected, " + words
		}
		at := slot.Start
		if k.Known.Date() == k.Date && k.Version > 1 {
			at = k.Known.Minute()
		}
		add(HappenedView{Kind: "mark", State: historyState(code), Text: work.Join(" · ", words, k.Reason, k.Note), By: k.By}, day.At(k.Date, at), k.Known, k.Journal)
	}
}

// historyState is the state whose shape a mark of the past has.
func historyState(c policy.Code) string {
	if c.Unexplained {
		return whereabouts.Unaccounted.Slug()
	}
	return pages.Shape(c)
}

package held

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// Misplaced is a mark in force that enters no figure, since there is no place for it.
type Misplaced struct {
	store.LedgerMark
	Why string
}

// Filled is the ledger of a section's year with every mark in force of its students, and those
// that it has no place for.
type Filled struct {
	Ledger *absence.Ledger
	Lost   []Misplaced
}

// Ledger builds the ledger of the section's year.
func (s *Section) Ledger(ctx context.Context, q store.Queryer) (Filled, error) {
	filled, err := Ledgers(ctx, q, []*Section{s})
	if err != nil {
		return Filled{}, err
	}
	return filled[0], nil
}

// Ledgers builds the ledgers of the years of some sections, each with a year, in one pass over
// the marks of all.
func Ledgers(ctx context.Context, q store.Queryer, sections []*Section) ([]Filled, error) {
	out := make([]Filled, len(sections))
	over := day.Dates{From: day.NoEnd, To: day.NoStart}
	for i, s := range sections {
		first, last := s.Calendar.Span()
		over.From, over.To = min(over.From, first), max(over.To, last)
		out[i].Ledger = s.newLedger()
	}
	set := func(of store.SlotMarks) (lost []placeless) {
		for i, s := range sections {
			first, last := s.Calendar.Span()
			if of.Date < first || of.Date > last {
				continue
			}
			for _, m := range s.setSlot(out[i].Ledger, of) {
				lost = append(lost, placeless{m, i})
			}
		}
		return lost
	}
	lost, err := eachSlot(ctx, q, over, set)
	for _, m := range lost {
		out[m.section].Lost = append(out[m.section].Lost, m.Misplaced)
	}
	return out, err
}

// placeless is a mark without a place in the ledger of one of some sections.
type placeless struct {
	Misplaced
	section int
}

// newLedger returns an empty ledger of the section's year.
func (s *Section) newLedger() *absence.Ledger {
	first, last := s.Calendar.Span()
	sets := s.CodesOver(day.Dates{From: first, To: last})
	var later []absence.CodesFrom
	for _, x := range sets[1:] {
		later = append(later, absence.CodesFrom{From: x.From, Set: x.Codes})
	}
	l := absence.NewLedger(s.Calendar, sets[0].Codes, later...)
	for _, st := range s.Students {
		l.AddStudent(s.school.records.ledgerStudent(s, st))
	}
	return l
}

// eachSlot gives the marks of some dates to set, one slot at a time, while two connections
// read the next; it returns in order what set could not place.
func eachSlot(ctx context.Context, q store.Queryer, over day.Dates, set func(store.SlotMarks) []placeless) ([]placeless, error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	slots, ends := make(chan store.SlotMarks, 64), make(chan error)
	last, marked, err := store.LastMark(ctx, q)
	if err != nil || !marked {
		return nil, err
	}
	middle := over.From + (min(over.To, max(over.From, last))-over.From)/2
	for _, half := range []day.Dates{{From: over.From, To: middle}, {From: middle + 1, To: over.To}} {
		go func() {
			ends <- store.EachSlot(ctx, q, half, func(s store.SlotMarks) error {
				select {
				case slots <- s:
					return nil
				case <-ctx.Done():
					return ctx.Err()
				}
			})
		}()
	}
	var lost []placeless
	var failed error
	for running := 2; running > 0; {
		select {
		case s := <-slots:
			lost = append(lost, set(s)...)
		case err := <-ends:
			running--
			if err != nil && failed == nil {
				failed = err
				cancel()
			}
		}
	}
	for len(slots) > 0 {
		lost = append(lost, set(<-slots)...)
	}
	slices.SortStableFunc(lost, func(a, b placeless) int {
		return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.Slot, b.Slot), cmp.Compare(a.StudentID, b.StudentID))
	})
	return lost, failed
}

// setSlot puts the section's marks of a slot into the ledger and returns those without a place.
func (s *Section) setSlot(l *absence.Ledger, of store.SlotMarks) (lost []Misplaced) {
	if s.closed[of.Date] || s.gone[slotOn{of.Date, of.Slot}] {
		return nil // set aside while the closure stands
	}
	d, pos, why := s.slotPlace(of.Date, of.Slot)
	if why != "" {
		for _, m := range of.Marks {
			if s.Has(m.StudentID, m.Date) {
				lost = append(lost, Misplaced{m, why})
			}
		}
		return lost
	}
	var code int
	known, last := false, ""
	for _, m := range of.Marks {
		if !s.Has(m.StudentID, m.Date) {
			continue // is in another section's ledger
		}
		if m.Code != last {
			code, known = l.Codes(d).Index(m.Code)
			last = m.Code
		}
		if why := s.setMark(l, m, d, pos, code, known); why != "" {
			lost = append(lost, Misplaced{m, why})
		}
	}
	return lost
}

// Has reports whether a student belongs to the section on a date.
func (s *SectionRecords) Has(student ids.Student, d day.Date) bool {
	return !s.Stay(student, d).Empty()
}

// SetInLedger puts a mark of one of the section's students into its ledger, or says why there
// is no place for it.
func (s *Section) SetInLedger(l *absence.Ledger, m store.LedgerMark) (why string) {
	d, pos, why := s.slotPlace(m.Date, m.Slot)
	if why != "" {
		return why
	}
	code, known := l.Codes(d).Index(m.Code)
	return s.setMark(l, m, d, pos, code, known)
}

func (s *Section) setMark(l *absence.Ledger, m store.LedgerMark, d, pos, code int, known bool) (why string) {
	i := s.Place(m.StudentID)
	if i >= 0 && known {
		mark := absence.Mark{Code: code, From: m.AwayFrom, To: m.AwayTo}
		if l.Codes(d).Codes[code].Late {
			mark.Class = s.school.records.classTitle(m.ClassID, m.Date) // is kept of lates alone
		}
		if l.Set(i, d, pos, mark) == nil {
			return ""
		}
	}
	switch {
	case i < 0 || !l.Enrolled(i, d):
		return "the student was not on the roll"
	case !known:
		return fmt.Sprintf("the code %s is not in the codes of that date", m.Code)
	default:
		return "the student was not due in " + m.Slot
	}
}

package absence

import "meldung/core/day"

// Instead is what a student's year comes to were the student absent for a stretch of one day.
type Instead struct {
	Slots         []string // the slots due that it touches, in time order
	Minutes       int      // missed of them
	Before, After Figures  // of the year up to and on that day
}

// Instead returns what a student's year up to the open day d would come to with an absence from one
// minute to another of that day, by a code of the day's set. Slots of which a part is missed keep it
// as times; marks that are there already give way.
func (m *Measure) Instead(i, d, code int, from, to day.Minute) Instead {
	out := Instead{Before: m.Student(i, Span{0, d})}
	l := m.ledger
	counted := m.counted[l.pattern[d]]
	other := l.Alone(i, func(set func(d, pos int, mark Mark)) {
		for n := range counted {
			s := &counted[n]
			missed := day.Overlap(from, to, s.slot.Start, s.slot.End)
			if missed == 0 || !l.Due(i, d, s.pos) {
				continue
			}
			mark := Mark{Code: code}
			if missed < s.minutes {
				mark.From, mark.To = day.Latest(from, s.slot.Start), day.Earliest(to, s.slot.End)
			}
			set(d, s.pos, mark)
			out.Slots, out.Minutes = append(out.Slots, s.slot.Name), out.Minutes+missed
		}
	})
	out.After = NewMeasure(other, m.policy).Student(0, Span{0, d})
	return out
}

package absence

// UnexplainedDay is a school day on which a student was absent and gave no reason yet.
type UnexplainedDay struct {
	Day   int   // the open day
	Slots []int // positions of the slots without a reason, in time order
	Since int   // school days from then to the day looked at
}

// UnexplainedDays returns the student's days without a reason up to and with the open
// day asAt, oldest first. A mark is without a reason while its code says so; when it
// is overdue, which may be after some number of school days, is for the caller to say
// (the policy's UnexplainedAfter).
func (l *Ledger) UnexplainedDays(i, asAt int) []UnexplainedDay {
	r := &l.rows[i]
	var out []UnexplainedDay
	for d := range r.within(Span{0, asAt}) {
		var slots []int
		first, codes := l.offset[d], l.Codes(d).Codes
		for at := first; at < l.offset[d+1]; at++ {
			pos := int(at - first)
			if c := r.cells[at]; c.marked() && codes[c.code()].Unexplained && l.onSchedule(r, d, pos) {
				slots = append(slots, pos)
			}
		}
		if slots != nil {
			out = append(out, UnexplainedDay{Day: d, Slots: slots, Since: asAt - d})
		}
	}
	return out
}

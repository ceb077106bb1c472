package absence

// BandSince returns the open day on which the student's present unbroken stay in
// the given band or a worse one began; ok is false when the student is not in
// one as at the given day.
func (m *Measure) BandSince(i, asAt, band int) (since int, ok bool) {
	since = -1
	r := &m.ledger.rows[i]
	var one stretch
	absent, possible := 0, 0
	for d := range r.within(Span{0, asAt}) {
		m.stretch(&one, r, Span{d, d})
		f := m.sums(&one, r)
		absent, possible = absent+f.Absent, possible+f.Possible
		place, banded := m.policy.Band(absent, possible)
		switch {
		case !banded || place < band:
			since = -1
		case since < 0:
			since = d
		}
	}
	return since, since >= 0
}

// HeldSince returns the open day from which the n-th trigger's count has stood
// at or above its line without a break up to the given day; ok is false when it
// does not stand there. Runs are not held and have no such day.
func (m *Measure) HeldSince(i, n, asAt int) (since int, ok bool) {
	if asAt < 0 || m.windows[n].run {
		return 0, false
	}
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, asAt})
	for since = asAt + 1; since > 0 && m.countOn(n, &s, r, since-1) >= m.policy.Triggers[n].Reach; {
		since--
	}
	return since, since <= asAt
}

// countOn adds up the n-th trigger's window that ends on the open day d.
func (m *Measure) countOn(n int, s *stretch, r *row, d int) int {
	count := 0
	for k := range s.events {
		if e := &s.events[k]; m.windows[n].holds(e.day, d) {
			count += m.amount(&m.policy.Triggers[n], e, r)
		}
	}
	return count
}

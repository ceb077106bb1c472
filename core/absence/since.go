package absence

// BandSince returns the open day on which the student's present unbroken stay in
// the given band or a worse one began; ok is false when the student is not in
// one as at the given day.
func (m *Measure) BandSince(i, asAt, band int) (since int, ok bool) {
	r := &m.ledger.rows[i]
	sh := sharesOf(r.student)
	var f Figures
	var t tally
	since = -1
	for d := max(0, r.lo); d <= min(asAt, r.hi); d++ {
		m.tallyDay(&t, r, sh, d)
		m.add(&f, &t)
		place, banded := m.policy.Band(f.Absent, f.Possible)
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
	tallies := m.tallies(r, asAt)
	t := &m.policy.Triggers[n]
	since = -1
	eachWindow(t, m.windows[n], tallies, func(d, sum int) {
		switch {
		case sum < t.Reach:
			since = -1
		case since < 0:
			since = d
		}
	})
	return since, since >= 0
}

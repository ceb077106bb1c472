package absence

// Occasion is one time that a trigger's count came to its line: once in each instance of its
// window (each year, term, month), and where the window rolls or a run is counted, each time
// that the count rose to the line from below it.
type Occasion struct {
	On        int // the first open day on which the count reached the line
	CountThen int // the count on that day
	From      int // the first open day whose absence can have added to it
	Until     int // the last open day on which it can be told from the next: the instance's last, or the last on which the count stood at the line
}

// Occasions returns every occasion of the n-th trigger for one student in time order, nothing
// after the open day asAt being read. The first is on the day that Triggers returns.
func (m *Measure) Occasions(i, n, asAt int) []Occasion {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, asAt})
	switch w := &m.windows[n]; {
	case w.run:
		return m.runOccasions(n, &s, r)
	case w.group != nil:
		return m.groupOccasions(n, &s, r)
	default:
		return m.rollingOccasions(n, &s, r)
	}
}

// SameInstance reports whether two open days lie in one instance of the n-th trigger's window;
// never where it rolls or runs.
func (m *Measure) SameInstance(n, a, b int) bool {
	g := m.windows[n].group
	return g != nil && g[a] == g[b]
}

func (m *Measure) groupOccasions(n int, s *stretch, r *row) []Occasion {
	w, t := &m.windows[n], &m.policy.Triggers[n]
	sums := make([]int, w.groups)
	var out []Occasion
	for k := range s.events {
		e := &s.events[k]
		g := w.group[e.day]
		before := sums[g]
		sums[g] += m.amount(t, e, r)
		if before < t.Reach && sums[g] >= t.Reach {
			first, last := bounds(w.group, g)
			out = append(out, Occasion{e.day, sums[g], first, last})
		}
	}
	return out
}

// bounds returns the first and the last open day of a group.
func bounds(group []int32, g int32) (first, last int) {
	first = -1
	for d, of := range group {
		if of == g {
			if first < 0 {
				first = d
			}
			last = d
		}
	}
	return first, last
}

func (m *Measure) rollingOccasions(n int, s *stretch, r *row) []Occasion {
	w, t := &m.windows[n], &m.policy.Triggers[n]
	var out []Occasion
	sum, first, next, stands := 0, 0, 0, false
	for d := 0; d <= s.last; d++ {
		if next < len(s.events) && s.events[next].day == d {
			sum += m.amount(t, &s.events[next], r)
			next++
		}
		for ; first < next && s.events[first].day < int(w.start[d]); first++ {
			sum -= m.amount(t, &s.events[first], r)
		}
		was := stands
		stands = sum >= t.Reach
		switch {
		case stands && !was:
			out = append(out, Occasion{d, sum, int(w.start[d]), d})
		case stands:
			out[len(out)-1].Until = d
		}
	}
	return out
}

func (m *Measure) runOccasions(n int, s *stretch, r *row) []Occasion {
	t := &m.policy.Triggers[n]
	var out []Occasion
	stands, begun := false, -1
	c := runCounter{}
	c.added = func(d, amount int) {
		if amount == 0 {
			stands, begun = false, -1
			return
		}
		if begun < 0 {
			begun = d
		}
		if c.now < t.Reach {
			return
		}
		if n := len(out); stands || n > 0 && out[n-1].Until == d {
			// What falls and rises again on one day is one occasion.
			stands = true
			last := &out[n-1]
			last.Until = d
			if last.On == d {
				last.CountThen = max(last.CountThen, c.now)
			}
			return
		}
		stands = true
		out = append(out, Occasion{d, c.now, begun, d})
	}
	for k := range s.events {
		e := &s.events[k]
		c.day = e.day
		if e.present {
			c.reset()
		}
		m.runDay(&c, t, e, r)
	}
	if stands && !s.present {
		out[len(out)-1].Until = max(s.last, out[len(out)-1].On)
	}
	return out
}

// BehindOccasion returns the days that were added up when the n-th trigger came to its line on an
// occasion, as Behind does for the first.
func (m *Measure) BehindOccasion(i, n int, o Occasion) []Added {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, o.On})
	return m.behind(n, &s, r, Reached{Trigger: &m.policy.Triggers[n], Ever: true, On: o.On, CountThen: o.CountThen}, o.On)
}

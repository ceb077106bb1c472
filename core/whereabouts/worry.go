package whereabouts

// settled takes a student out of those who are unaccounted for or not yet known where a named person knows
// where they are, and out of those who are in where that person knows that they are not, until something is
// known of the student since.
func (v *view) settled(p Position, s *Settling) Position {
	switch {
	case v.last >= 0 && v.events[v.last].at.After(s.At) && !v.events[v.last].planned:
		return p
	case p.Missed && p.Since.After(s.At):
		return p // missed after it
	case p.NotBack && p.Until.After(s.At):
		return p // expected after it, and not come
	}
	return Position{State: Explained, Settled: true, Since: s.At, Reason: s.How, Slot: p.Slot, Last: p.Last}
}

// settling returns the last settling by t that was known; nil for none.
func (v *view) settling() *Settling {
	var last *Settling
	for i := range v.Settlings {
		s := &v.Settlings[i]
		if !s.At.After(v.t) && reached(s.Known, s.Undone, v.known) && (last == nil || s.Known.After(last.Known)) {
			last = s
		}
	}
	return last
}

// worried puts a student before everyone else whose home was reached and believes them to be
// at school. It overrides what a home said before, what a card or a whole class says, and a
// plan; a sign-out it contradicts.
func (v *view) worried(p Position) Position {
	w, worried := v.worry()
	if !worried || v.found(w) {
		return p
	}
	p.Worried = w.At
	if p.State == Left && v.last >= 0 && v.events[v.last].place == offSite {
		return p // signed out: both can't be right
	}
	if p.State == Unaccounted {
		return p
	}
	return Position{State: Unaccounted, Worried: w.At, Since: w.At, Slot: p.Slot, Last: p.Last, OnSite: p.OnSite}
}

// worry returns the last worry by t that was known: a call's, or that of a home which had sent
// the student, who has not come.
func (v *view) worry() (w Worry, ok bool) {
	for _, one := range v.Worries {
		if !one.At.After(v.t) && reached(one.Known, one.Undone, v.known) && (!ok || one.Known.After(w.Known)) {
			w, ok = one, true
		}
	}
	if ok {
		return w, true
	}
	for i := range v.Notices {
		if n := &v.Notices[i]; v.sentOff(n) {
			return Worry{At: n.To.Add(v.rules.ReturnGrace), Known: n.Known}, true
		}
	}
	return Worry{}, false
}

// sentOff reports whether home had sent the student off to school by a notice, who has not come
// in time, nor has home said anything else since.
func (v *view) sentOff(n *Notice) bool {
	by := n.To.Add(v.rules.ReturnGrace)
	if !n.OnTheWay || !reached(n.Known, n.Withdrawn, v.known) || !v.t.After(by) || !v.dueSince(n.To) {
		return false
	}
	for i := range v.Notices {
		o := &v.Notices[i]
		if reached(o.Known, o.Withdrawn, v.known) && o.Known.After(n.Known) && !o.From.After(n.To) {
			return false
		}
	}
	for _, ev := range v.events {
		if !ev.planned && !ev.at.After(by) {
			return false
		}
	}
	return true
}

// found reports whether a named person has seen the student since, or knows where they are.
// Who was seen shortly before counts as found too, where they had neither left nor been missed
// by the time of the worry.
func (v *view) found(w Worry) bool {
	if s := v.settling(); s != nil && s.Known.After(w.Known) {
		return true
	}
	left := false // by the time of the worry, after the event looked at
	for i := len(v.events) - 1; i >= 0; i-- {
		ev := v.events[i]
		sight := ev.by == BySight && !ev.planned
		switch {
		case !ev.at.Before(w.At):
			if sight {
				return true
			}
		case ev.place != onSite:
			left = true
		case sight && !left && !absentBetween(v.marks, ev.at, w.At.Add(1), v.t):
			return true
		}
	}
	return false
}

package day

// Dated is what holds on some dates.
type Dated[T any] struct {
	What T
	On   Dates
}

// Supersede returns what holds of one thing once something is said of it over some dates:
// what was said of other dates stays. Of old, in the order of its dates, one at most holds on
// a date; now is nil where nothing holds any more. Stretches of the same that meet are one.
func Supersede[T comparable](old []Dated[T], now *T, over Dates) []Dated[T] {
	var out []Dated[T]
	add := func(what T, on Dates) {
		if on.Empty() {
			return
		}
		if n := len(out); n > 0 && out[n-1].What == what && out[n-1].On.To != NoEnd && out[n-1].On.To+1 == on.From {
			out[n-1].On.To = on.To
			return
		}
		out = append(out, Dated[T]{what, on})
	}
	if over.Empty() {
		return old
	}
	if over.From != NoStart {
		for _, o := range old {
			add(o.What, o.On.Common(Dates{NoStart, over.From - 1}))
		}
	}
	if now != nil {
		add(*now, over)
	}
	if over.To != NoEnd {
		for _, o := range old {
			add(o.What, o.On.Common(Since(over.To+1)))
		}
	}
	return out
}

// HeldOn returns what held on a date; ok is false for nothing.
func HeldOn[T any](list []Dated[T], d Date) (what T, ok bool) {
	for _, x := range list {
		if x.On.Has(d) {
			return x.What, true
		}
	}
	return what, false
}

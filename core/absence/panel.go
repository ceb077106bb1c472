package absence

import (
	"sync"

	"meldung/core/policy"
)

// Panel is several policies made ready for one ledger, which one pass over a
// student's marks serves. It is good for as long as the ledger's calendar and
// code set are, and safe for use by several at once.
type Panel struct {
	measures   []*Measure
	stretches  sync.Pool // *stretch, for their memory
	byCounting map[*counting][]int
}

// NewPanel makes the policies ready for the ledger, in their order.
func NewPanel(l *Ledger, policies ...*policy.Policy) *Panel {
	p := &Panel{stretches: sync.Pool{New: func() any { return new(stretch) }}, byCounting: map[*counting][]int{}}
	shared := map[bool]*counting{}
	for n, one := range policies {
		c := shared[one.RegistrationOnly]
		if c == nil {
			c = newCounting(l, one)
			shared[one.RegistrationOnly] = c
		}
		p.measures = append(p.measures, newMeasure(c, one))
		p.byCounting[c] = append(p.byCounting[c], n)
	}
	return p
}

// Measures returns the policies made ready, in their order.
func (p *Panel) Measures() []*Measure { return p.measures }

// Result is all that one policy says of one student for the year up to a day.
type Result struct {
	Figures  Figures
	Triggers []Reached
	Steps    []StepDue
}

// Student measures one student by every policy over the year up to the open day
// asAt; −1 is before the first. Nothing after it is read.
func (p *Panel) Student(i, asAt int) []Result {
	out := make([]Result, len(p.measures))
	s := p.stretches.Get().(*stretch)
	defer p.stretches.Put(s)
	for c, measures := range p.byCounting {
		r := &c.ledger.rows[i]
		c.stretch(s, r, Span{0, asAt})
		for _, n := range measures {
			out[n] = p.measures[n].year(s, r)
		}
	}
	return out
}

// Year measures one student over the year up to the open day asAt, as Panel does
// for several policies.
func (m *Measure) Year(i, asAt int) Result {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, asAt})
	return m.year(&s, r)
}

func (m *Measure) year(s *stretch, r *row) Result {
	return Result{m.figures(s, r), m.triggers(s, r), m.steps(s, r)}
}

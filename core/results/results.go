// Package results says what course grades come to: credits, what stands lost, and what would still earn
// it. It must not know where grades come from.
package results

// FailingNow is a course whose latest grade fails.
type FailingNow struct {
	Course int
	Grade  Mark
	Since  Quarter // the first of the unbroken run of failing grades
	Before Mark    // the grade before the latest; None where there is none
}

// Failing returns the courses of a student whose latest grade, as at a quarter, fails, in the order of the
// courses. A quarter without a grade breaks no run; who has withdrawn from the half-year fails nothing in it.
func (b *Book) Failing(student int, at Quarter) []FailingNow {
	var out []FailingNow
	for c := range b.Courses {
		now := FailingNow{Course: c, Grade: Mark{Place: None}, Before: Mark{Place: None}}
		for q := Quarter(0); q <= at; q++ {
			r := b.Find(student, c, q.Half())
			if r == nil {
				continue
			}
			st, ok := b.Rule.Stand(b.Courses[c], r, at)
			if !ok || !st.Parts[q%2].Given() {
				continue
			}
			m := st.Parts[q%2]
			if !b.fails(now.Grade) || !b.fails(m) {
				now.Since = q
			}
			now.Grade, now.Before = m, now.Grade
		}
		if b.fails(now.Grade) {
			out = append(out, now)
		}
	}
	return out
}

func (b *Book) fails(m Mark) bool { return m.Given() && b.Rule.Scale[m.Place].Failing }

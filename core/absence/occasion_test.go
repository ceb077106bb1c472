package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/policy"
)

// Hand-worked: days absent without a reason on the days that are marked U; a line of two.
func TestOccasions(t *testing.T) {
	for _, c := range []struct {
		name   string
		window policy.Window
		days   string // a letter a day: U absent, P present
		want   []absence.Occasion
	}{
		{"a year: once", policy.Window{Kind: policy.Year}, "UUPUU", []absence.Occasion{{On: 1, CountThen: 2, From: 0, Until: 4}}},
		{"never", policy.Window{Kind: policy.Year}, "UPPPP", nil},
		{"a month: each month", policy.Window{Kind: policy.Month}, "UUUPU", []absence.Occasion{{On: 1, CountThen: 2, From: 0, Until: 4}}},
		{"rolling: again after it fell", policy.Window{Kind: policy.RollingDays, N: 2}, "UUPUU", []absence.Occasion{{On: 1, CountThen: 2, From: 0, Until: 1}, {On: 4, CountThen: 2, From: 3, Until: 4}}},
		{"rolling: once while it stands", policy.Window{Kind: policy.RollingDays, N: 3}, "UUPUU", []absence.Occasion{{On: 1, CountThen: 2, From: 0, Until: 4}}},
		{"a run: again after it ended", policy.Window{Kind: policy.Run}, "UUUPUU", []absence.Occasion{{On: 1, CountThen: 2, From: 0, Until: 2}, {On: 5, CountThen: 2, From: 4, Until: 5}}},
		{"a run that was too short", policy.Window{Kind: policy.Run}, "UPUPU", nil},
	} {
		l := absence.NewLedger(calendar(t, len(c.days), twoLessons), plain)
		i := l.AddStudent(student("a"))
		for d, code := range c.days {
			put(t, l, i, d, string(code), string(code), string(code))
		}
		p := base(policy.Day)
		p.Triggers = []policy.Trigger{{ID: "two", Count: policy.CountDays, Of: policy.SideUnexcused, Reach: 2, Window: c.window}}
		m := absence.NewMeasure(l, p)
		assert.Equal(t, c.want, m.Occasions(i, 0, len(c.days)-1), c.name)
	}
}

// For every count and window: the first occasion is what Triggers says; each stands on a day on
// which the count, told as at that day, is at the line for the first time since the one before;
// what is behind each adds up to it; and what comes later never changes one.
func TestOccasionsAreThoseOfTheCount(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		p := everyTrigger(t)
		m := absence.NewMeasure(l, p)
		asAt := rapid.IntRange(-1, 14).Draw(t, "as at")
		for n, r := range m.Triggers(0, asAt) {
			all := m.Occasions(0, n, asAt)
			assert.Equal(t, r.Ever, len(all) > 0)
			if r.Ever {
				assert.Equal(t, []int{r.On, r.CountThen}, []int{all[0].On, all[0].CountThen})
			}
			assert.Equal(t, m.Behind(0, n, all0(all, asAt)), behindFirst(m, n, all, asAt))
			for k, o := range all {
				assert.GreaterOrEqual(t, o.CountThen, p.Triggers[n].Reach)
				assert.LessOrEqual(t, o.From, o.On)
				assert.LessOrEqual(t, o.On, o.Until)
				if k > 0 {
					assert.GreaterOrEqual(t, o.On, all[k-1].On)
				}
				sum := 0
				for _, a := range m.BehindOccasion(0, n, o) {
					assert.GreaterOrEqual(t, a.Day, o.From)
					sum += a.Amount
				}
				if p.Triggers[n].Window.Kind != policy.Run || k == 0 {
					assert.Equal(t, o.CountThen, sum)
				}
				assert.Equal(t, o.On, m.Occasions(0, n, o.On)[k].On, "later days add none before")
			}
			for _, o := range all {
				assert.GreaterOrEqual(t, m.Triggers(0, o.Until)[n].CountThen, p.Triggers[n].Reach)
			}
		}
	})
}

func all0(all []absence.Occasion, asAt int) int {
	if len(all) > 0 {
		return all[0].On
	}
	return asAt
}

func behindFirst(m *absence.Measure, n int, all []absence.Occasion, asAt int) []absence.Added {
	if len(all) > 0 {
		return m.BehindOccasion(0, n, all[0])
	}
	return m.Behind(0, n, asAt)
}

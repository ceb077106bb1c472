package followup_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
)

func contact(id ids.Contact, order int, never bool) followup.Contact {
	return followup.Contact{ID: id, Order: order, Name: "c", DoNotCall: never}
}

func names(list []followup.Household) []string {
	out := []string{}
	for _, h := range list {
		out = append(out, h.Students[0].Name)
	}
	return out
}

func TestOneCallCoversSiblings(t *testing.T) {
	list := followup.Households([]followup.Missing{
		{Student: 1, Name: "a", Year: 9, Contacts: []followup.Contact{contact(7, 1, false), contact(8, 2, false)}},
		{Student: 2, Name: "b", Year: 7, Contacts: []followup.Contact{contact(7, 1, false), contact(9, 2, false)}},
		{Student: 3, Name: "c", Year: 8, Contacts: []followup.Contact{contact(10, 1, false)}},
	}, day.MustMinute("09:00"))
	assert.Len(t, list, 2)
	assert.Len(t, list[0].Students, 2)
	assert.Equal(t, []followup.Contact{contact(7, 1, false)}, list[0].Contacts, "those whom both may be asked about")
	assert.Equal(t, 7, list[0].Youngest)
}

func TestWhoMustNotBeCalledIsNotOffered(t *testing.T) {
	list := followup.Households([]followup.Missing{
		{Name: "a", Contacts: []followup.Contact{contact(1, 1, true), contact(2, 2, false)}},
		{Name: "b", Contacts: []followup.Contact{contact(3, 1, true)}},
	}, day.MustMinute("09:00"))
	assert.Equal(t, []followup.Contact{contact(2, 2, false)}, list[0].Contacts)
	assert.True(t, list[1].NoContact, "nobody is left to ring: it says so")
	assert.Equal(t, -1, list[1].Next)
}

func TestOrder(t *testing.T) {
	one := func(name string, year int, care bool, id ids.Contact, attempts ...followup.Attempt) followup.Missing {
		return followup.Missing{Name: name, Year: year, Care: care, Contacts: []followup.Contact{contact(id, 1, false)}, Attempts: attempts}
	}
	list := followup.Households([]followup.Missing{
		one("tried, waits", 7, true, 1, followup.Attempt{Contact: 1, Outcome: followup.NoAnswer, At: day.MustMinute("09:05"), Next: day.MustMinute("09:25")}),
		one("older", 12, false, 2),
		one("young", 7, false, 3),
		one("young, tried", 7, false, 4, followup.Attempt{Contact: 4, Outcome: followup.NoAnswer, At: day.MustMinute("08:50"), Next: day.MustMinute("09:08")}),
		one("care", 12, true, 5),
		one("waits longer", 7, false, 6, followup.Attempt{Contact: 6, Outcome: followup.LeftMessage, At: day.MustMinute("09:09"), Next: day.MustMinute("09:29")}),
	}, day.MustMinute("09:10"))
	assert.Equal(t, []string{"care", "young", "young, tried", "older", "tried, waits", "waits longer"}, names(list))
}

func TestTheNextContactIsRungNext(t *testing.T) {
	contacts := []followup.Contact{contact(1, 1, false), contact(2, 2, false), contact(3, 3, false)}
	next := func(attempts ...followup.Attempt) int {
		return followup.Households([]followup.Missing{{Name: "a", Contacts: contacts, Attempts: attempts}}, day.MustMinute("09:00"))[0].Next
	}
	assert.Equal(t, 0, next())
	assert.Equal(t, 1, next(followup.Attempt{Contact: 1, Outcome: followup.NoAnswer, At: day.MustMinute("08:50")}))
	assert.Equal(t, 0, next(followup.Attempt{Contact: 3, Outcome: followup.WrongNumber, At: day.MustMinute("08:50")}), "after the last the first again")
	assert.Equal(t, 0, next(followup.Attempt{Contact: 1, Outcome: followup.Spoke, At: day.MustMinute("08:50")}))
}

func TestAHoldComesBackByItself(t *testing.T) {
	ferry := followup.Hold{Until: day.MustMinute("09:40"), Reason: "the Petrel is late"}
	held := func(now, next int) followup.Household {
		return followup.Households([]followup.Missing{
			{Name: "a", Contacts: []followup.Contact{contact(1, 1, false)}, Holds: []followup.Hold{ferry}},
			{Name: "b", Contacts: []followup.Contact{contact(2, 1, false)}},
		}, day.MustMinute("09:20"))[next]
	}
	assert.Equal(t, "b", held(560, 0).Students[0].Name, "who is not held is rung first")
	assert.Equal(t, followup.Household{}.Held, held(560, 0).Held)
	last := held(560, 1)
	assert.Equal(t, "the Petrel is late", last.Held)
	assert.Equal(t, day.MustMinute("09:40"), last.Again)

	one := func(now int, holds ...followup.Hold) followup.Household {
		return followup.Households([]followup.Missing{{Name: "a", Contacts: []followup.Contact{contact(1, 1, false)}, Holds: holds,
			Attempts: []followup.Attempt{{Contact: 1, Outcome: followup.NoAnswer, At: day.MustMinute("09:00"), Next: day.MustMinute("09:50")}}}}, day.Midnight.Add(day.Minutes(now)))[0]
	}
	assert.Empty(t, one(580, ferry).Held, "it ends in its minute")
	assert.Equal(t, day.MustMinute("09:50"), one(580, ferry).Again, "what a call said still holds")
	assert.Equal(t, day.MustMinute("09:50"), one(570, ferry).Again, "the later of the two")
	assert.Equal(t, "longer", one(570, ferry, followup.Hold{Until: day.MustMinute("10:00"), Reason: "longer"}).Held, "the newest counts")
}

func TestAHomeIsHeldWhenAllOfItAre(t *testing.T) {
	mother := []followup.Contact{contact(1, 1, false)}
	home := func(second []followup.Hold) followup.Household {
		return followup.Households([]followup.Missing{
			{Name: "a", Contacts: mother, Holds: []followup.Hold{{Until: day.MustMinute("10:00"), Reason: "long"}}},
			{Name: "b", Contacts: mother, Holds: second, Answered: 1},
		}, day.MustMinute("09:20"))[0]
	}
	assert.Empty(t, home(nil).Held)
	assert.Equal(t, "short", home([]followup.Hold{{Until: day.MustMinute("09:30"), Reason: "short"}}).Held, "until the first of them is not")
	assert.Equal(t, day.MustMinute("09:30"), home([]followup.Hold{{Until: day.MustMinute("09:30"), Reason: "short"}}).Again)
	assert.EqualValues(t, 1, home(nil).Answered)
}

func TestATextIsNoRing(t *testing.T) {
	contacts := []followup.Contact{contact(1, 1, false), contact(2, 2, false)}
	h := followup.Households([]followup.Missing{{Name: "a", Contacts: contacts, Attempts: []followup.Attempt{{Contact: 1, Outcome: followup.Texted, At: day.MustMinute("08:50"), Next: day.MustMinute("09:10")}}}}, day.MustMinute("09:00"))[0]
	assert.Equal(t, 0, h.Next, "the same one is rung")
	assert.Equal(t, day.MustMinute("09:10"), h.Again)
}

func TestCollectors(t *testing.T) {
	grandfather := followup.Contact{ID: 3, Order: 3, MayCollect: true, DoNotCall: true}
	mother := followup.Contact{ID: 1, Order: 1, MayCollect: true}
	assert.Equal(t, []followup.Contact{mother, grandfather}, followup.Collectors([]followup.Contact{grandfather, contact(2, 2, false), mother}),
		"in call order; who must not be called may still collect")
}

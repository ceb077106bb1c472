package followup_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/followup"
)

func contact(id int64, order int, never bool) followup.Contact {
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
		{Student: "1", Name: "a", Year: 9, Contacts: []followup.Contact{contact(7, 1, false), contact(8, 2, false)}},
		{Student: "2", Name: "b", Year: 7, Contacts: []followup.Contact{contact(7, 1, false), contact(9, 2, false)}},
		{Student: "3", Name: "c", Year: 8, Contacts: []followup.Contact{contact(10, 1, false)}},
	}, 540)
	assert.Len(t, list, 2)
	assert.Len(t, list[0].Students, 2)
	assert.Equal(t, []followup.Contact{contact(7, 1, false)}, list[0].Contacts, "those whom both may be asked about")
	assert.Equal(t, 7, list[0].Youngest)
}

func TestWhoMustNotBeCalledIsNotOffered(t *testing.T) {
	list := followup.Households([]followup.Missing{
		{Name: "a", Contacts: []followup.Contact{contact(1, 1, true), contact(2, 2, false)}},
		{Name: "b", Contacts: []followup.Contact{contact(3, 1, true)}},
	}, 540)
	assert.Equal(t, []followup.Contact{contact(2, 2, false)}, list[0].Contacts)
	assert.True(t, list[1].NoContact, "nobody is left to ring: it says so")
	assert.Equal(t, -1, list[1].Next)
}

func TestOrder(t *testing.T) {
	one := func(name string, year int, care bool, id int64, attempts ...followup.Attempt) followup.Missing {
		return followup.Missing{Name: name, Year: year, Care: care, Contacts: []followup.Contact{contact(id, 1, false)}, Attempts: attempts}
	}
	list := followup.Households([]followup.Missing{
		one("tried, waits", 7, true, 1, followup.Attempt{Contact: 1, Outcome: followup.NoAnswer, At: 545, Next: 565}),
		one("older", 12, false, 2),
		one("young", 7, false, 3),
		one("young, tried", 7, false, 4, followup.Attempt{Contact: 4, Outcome: followup.NoAnswer, At: 530, Next: 548}),
		one("care", 12, true, 5),
		one("waits longer", 7, false, 6, followup.Attempt{Contact: 6, Outcome: followup.LeftMessage, At: 549, Next: 569}),
	}, 550)
	assert.Equal(t, []string{"care", "young", "young, tried", "older", "tried, waits", "waits longer"}, names(list))
}

func TestTheNextContactIsRungNext(t *testing.T) {
	contacts := []followup.Contact{contact(1, 1, false), contact(2, 2, false), contact(3, 3, false)}
	next := func(attempts ...followup.Attempt) int {
		return followup.Households([]followup.Missing{{Name: "a", Contacts: contacts, Attempts: attempts}}, 540)[0].Next
	}
	assert.Equal(t, 0, next())
	assert.Equal(t, 1, next(followup.Attempt{Contact: 1, Outcome: followup.NoAnswer, At: 530}))
	assert.Equal(t, 0, next(followup.Attempt{Contact: 3, Outcome: followup.WrongNumber, At: 530}), "after the last the first again")
	assert.Equal(t, 0, next(followup.Attempt{Contact: 1, Outcome: followup.Spoke, At: 530}))
}

package held

import (
	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
)

// index are the records by what is asked for, whenever they held: the school of every date
// looks things up in it.
type index struct {
	spans             map[ids.Student][]day.Dates
	details           map[ids.Student][]store.StudentDetail
	slots             map[ids.Student][]store.StudentSlot
	enrollments       map[ids.Student][]store.Enrollment
	rolls             map[ids.Class][]store.Enrollment // by class
	named             map[ids.Class][]store.ClassDetail
	staff             map[ids.Staff]store.Staff
	contacts          map[ids.Contact]store.Contact
	ties              map[ids.Student][]store.StudentContact
	studentsOfContact map[ids.Contact][]ids.Student
	warnings          map[ids.Student][]store.Warning
	courses           map[ids.Course]store.Course
	callable          map[ids.Student][]followup.Contact // those who have not ended, in call order
}

func newIndex(rows store.School) *index {
	x := &index{
		spans:       map[ids.Student][]day.Dates{},
		details:     grouped(rows.Details, func(r store.StudentDetail) ids.Student { return r.StudentID }),
		slots:       grouped(rows.Slots, func(r store.StudentSlot) ids.Student { return r.StudentID }),
		enrollments: grouped(rows.Enrollments, func(r store.Enrollment) ids.Student { return r.StudentID }),
		rolls:       grouped(rows.Enrollments, func(r store.Enrollment) ids.Class { return r.ClassID }),
		named:       grouped(rows.ClassDetails, func(r store.ClassDetail) ids.Class { return r.ClassID }),
		staff:       byID(rows.Staff, func(r store.Staff) ids.Staff { return r.ID }),
		courses:     byID(rows.Courses, func(r store.Course) ids.Course { return r.ID }),
	}
	for _, r := range rows.Spans {
		x.spans[r.StudentID] = append(x.spans[r.StudentID], r.Dates())
	}
	return x.contacted(rows)
}

// contacted returns the index with other contacts and warnings.
func (x *index) contacted(rows store.School) *index {
	out := *x
	out.contacts = byID(rows.Contacts, func(r store.Contact) ids.Contact { return r.ID })
	out.ties = grouped(rows.StudentContacts, func(r store.StudentContact) ids.Student { return r.StudentID })
	out.warnings = grouped(rows.Warnings, func(r store.Warning) ids.Student { return r.StudentID })
	out.studentsOfContact = map[ids.Contact][]ids.Student{}
	for _, r := range rows.StudentContacts {
		out.studentsOfContact[r.ContactID] = append(out.studentsOfContact[r.ContactID], r.StudentID)
	}
	out.callable = make(map[ids.Student][]followup.Contact, len(out.ties))
	for student, own := range out.ties {
		out.callable[student] = out.contactsOf(own)
	}
	return &out
}

func (x *index) contactsOf(ties []store.StudentContact) []followup.Contact {
	out := make([]followup.Contact, 0, len(ties))
	for _, t := range ties {
		c := x.contacts[t.ContactID]
		if c.Ended {
			continue
		}
		out = append(out, followup.Contact{ID: c.ID, Order: t.CallOrder, Name: c.Name(), Relation: t.Relation, Phone: c.Phone,
			MayCollect: t.MayCollect, LivesWith: t.LivesWith, DoNotCall: t.DoNotCall})
	}
	return out
}

// grouped puts rows together by a key, in their order.
func grouped[K comparable, R any](rows []R, key func(R) K) map[K][]R {
	out := map[K][]R{}
	for _, r := range rows {
		out[key(r)] = append(out[key(r)], r)
	}
	return out
}

func byID[K comparable, R any](rows []R, id func(R) K) map[K]R {
	out := make(map[K]R, len(rows))
	for _, r := range rows {
		out[id(r)] = r
	}
	return out
}

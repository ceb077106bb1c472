package roster

import (
	"cmp"
	"context"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/files/oneroster"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// readKept reads what the school itself has changed about contacts and warnings, the last of each.
func (c *rosterChange) readKept(ctx context.Context, q store.Queryer) error {
	c.keptPerson, c.keptTies, c.keptWarnings = map[ids.Contact]store.ContactChange{}, map[ids.Student]store.ContactChange{}, map[ids.Student]store.WarningChange{}
	contacts, err := store.ContactChanges(ctx, q)
	if err != nil {
		return err
	}
	for _, x := range contacts {
		if x.Person {
			c.keptPerson[x.ContactID] = x
		}
		c.keptTies[x.StudentID] = x
	}
	warnings, err := store.WarningChanges(ctx, q)
	if err != nil {
		return err
	}
	for _, x := range warnings {
		c.keptWarnings[x.StudentID] = x
	}
	return nil
}

// contactOf returns a contact of the files, or as the school itself has changed them, and says where
// the two differ. An address that the files do not have stays, as they often have none.
func (c *rosterChange) contactOf(file store.Contact) store.Contact {
	i := slices.IndexFunc(c.old.Contacts, func(x store.Contact) bool { return x.SourcedID == file.SourcedID })
	if i >= 0 {
		file.Address, file.Language = cmp.Or(file.Address, c.old.Contacts[i].Address), cmp.Or(file.Language, c.old.Contacts[i].Language)
	}
	if i < 0 || c.opt.TakeFiles {
		return file
	}
	was := c.old.Contacts[i]
	own, kept := c.keptPerson[was.ID]
	file.ID, file.Ended = was.ID, was.Ended
	if kept && was != file {
		c.p.Kept = append(c.p.Kept, fmt.Sprintf("%s: here %s (%s, %s); in the files %s", was.Name(), work.Join(", ", was.Phone, was.SMS, was.Email), own.By, own.Known.Date().Spoken(), work.Join(", ", file.Name(), file.Phone, file.SMS, file.Email)))
		return was
	}
	file.ID, file.Ended = 0, false
	return file
}

// ties compares each student's contacts and warnings as a whole.
func (c *rosterChange) ties() {
	type own struct {
		ties     []store.StudentContact
		warnings []store.Warning
	}
	before := map[ids.Student]*own{}
	at := func(id ids.Student) *own {
		if before[id] == nil {
			before[id] = &own{}
		}
		return before[id]
	}
	for _, t := range c.old.StudentContacts {
		at(t.StudentID).ties = append(at(t.StudentID).ties, t)
	}
	for _, w := range c.old.Warnings {
		at(w.StudentID).warnings = append(at(w.StudentID).warnings, w)
	}
	part := plans.PlanPart{What: "student's contacts and warnings"}
	c.next.StudentContacts, c.next.Warnings = nil, nil
	inRoster := map[ids.Student]bool{}
	for _, s := range c.read.Bundle.Students {
		id := c.students[s.ID]
		inRoster[id] = true
		now := &own{}
		for i, t := range s.Ties {
			now.ties = append(now.ties, store.StudentContact{StudentID: id, ContactID: c.contacts[t.Contact], CallOrder: i + 1, Relation: t.Relation,
				MayCollect: t.MayCollect, LivesWith: t.LivesWith, DoNotCall: t.DoNotCall})
		}
		was := at(id)
		now.warnings = c.warningsOf(s, id, was.warnings)
		if own, kept := c.keptTies[id]; kept && !c.opt.TakeFiles {
			if !slices.EqualFunc(was.ties, now.ties, func(a, b store.StudentContact) bool { a.CallOrder, b.CallOrder = 0, 0; return a == b }) {
				c.p.Kept = append(c.p.Kept, fmt.Sprintf("contacts of %s %s: here %d, changed by %s on %s; in the files %d", s.Given, s.Family, len(was.ties), own.By, own.Known.Date().Spoken(), len(now.ties)))
			}
			now.ties = was.ties
		}
		same := slices.EqualFunc(was.ties, now.ties, func(a, b store.StudentContact) bool { return a.ContactID == b.ContactID })
		for i := range was.ties {
			if same { // the order counts, not its numbers
				now.ties[i].CallOrder = was.ties[i].CallOrder
			}
		}
		switch {
		case reflect.DeepEqual(was, now):
			part.Same++
		case len(was.ties)+len(was.warnings) == 0:
			part.Added++
		default:
			part.Changed++
			c.p.Detail("change contacts or warnings of %s %s: %s", s.Given, s.Family, work.Join(", ", count(len(was.ties), len(now.ties), "contact"), count(len(was.warnings), len(now.warnings), "warning")))
		}
		c.next.StudentContacts = append(c.next.StudentContacts, now.ties...)
		c.next.Warnings = append(c.next.Warnings, now.warnings...)
	}
	for _, t := range c.old.StudentContacts {
		if !inRoster[t.StudentID] {
			c.next.StudentContacts = append(c.next.StudentContacts, t)
		}
	}
	for _, w := range c.old.Warnings {
		if !inRoster[w.StudentID] {
			c.next.Warnings = append(c.next.Warnings, w)
		}
	}
	c.p.Parts = append(c.p.Parts, part)
}

// warningsOf returns a student's warnings of the files, or as the school itself has changed them, and
// says where the two differ. What stays is the same warning, with its document.
func (c *rosterChange) warningsOf(s oneroster.Student, id ids.Student, was []store.Warning) []store.Warning {
	var now []store.Warning
	left := slices.Clone(was)
	for _, w := range s.Warnings {
		one := store.Warning{StudentID: id, Text: w.Text, CareFirst: w.CareFirst}
		if i := slices.IndexFunc(left, func(x store.Warning) bool { return x.Text == w.Text }); i >= 0 {
			one.ID, one.Document = left[i].ID, left[i].Document
			left = slices.Delete(left, i, i+1)
		}
		now = append(now, one)
	}
	own, kept := c.keptWarnings[id]
	if !kept || c.opt.TakeFiles {
		return now
	}
	said := func(list []store.Warning) string {
		var out []string
		for _, w := range list {
			out = append(out, map[bool]string{true: w.Text + " (rung about first)", false: w.Text}[w.CareFirst])
		}
		slices.Sort(out)
		return cmp.Or(strings.Join(out, ", "), "none")
	}
	if here, files := said(was), said(now); here != files {
		c.p.Kept = append(c.p.Kept, fmt.Sprintf("warnings of %s %s: here %s, changed by %s on %s; in the files %s", s.Given, s.Family, here, own.By, own.Known.Date().Spoken(), files))
	}
	return was
}

// Package contacts keeps up whom to ring about a student: who, by which number, in which order, who
// may collect and who must not be called, each change with who made it and when.
package contacts

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Contact is a contact of a student as it is to be.
type Contact struct {
	Student    ids.Student `json:"student"`
	Contact    ids.Contact `json:"contact,omitempty" doc:"0 for one who is added"`
	Given      string      `json:"given" maxLength:"60"`
	Family     string      `json:"family" maxLength:"60"`
	Relation   string      `json:"relation,omitempty" maxLength:"40"`
	Phone      string      `json:"phone,omitempty" maxLength:"40" doc:"Exactly as given"`
	SMS        string      `json:"sms,omitempty" maxLength:"40" doc:"Number for texts, where it is another"`
	EMail      string      `json:"email,omitempty" maxLength:"120"`
	Address    string      `json:"address,omitempty" maxLength:"300" doc:"Where letters go, in lines"`
	Language   string      `json:"language,omitempty" maxLength:"40" doc:"Of letters; empty for the school's own"`
	Place      int         `json:"place,omitempty" minimum:"0" maximum:"30" doc:"In the call order, from 1 on; 0 for where they are, or last"`
	MayCollect bool        `json:"mayCollect,omitempty"`
	LivesWith  bool        `json:"livesWith,omitempty"`
	DoNotCall  bool        `json:"doNotCall,omitempty"`
	work.Since
}

// Set adds a contact of a student or changes one. A name or a number is changed for every student
// whose contact they are; order, relation and what they may is the student's own.
func Set(ctx context.Context, o *work.Office, p work.Person, key string, c Contact) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetContacts, Kind: "contact", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(c.Student)
		if err != nil {
			return err
		}
		next := store.Contact{ID: c.Contact, Given: strings.TrimSpace(c.Given), Family: strings.TrimSpace(c.Family), Phone: strings.TrimSpace(c.Phone), SMS: strings.TrimSpace(c.SMS), Email: strings.TrimSpace(c.EMail),
			Address: lines(c.Address), Language: strings.TrimSpace(c.Language)}
		switch {
		case next.Given == "" && next.Family == "":
			return work.Wrongf("a contact needs a name; nothing was saved")
		case next.Phone == "" && next.SMS == "" && next.Email == "" && next.Address == "":
			return work.Wrongf("a contact needs a number or an address; nothing was saved")
		}
		if err := news(ctx, tx, c); err != nil {
			return err
		}
		ties := slices.Clone(v.School.TiesOf(s.ID))
		at := slices.IndexFunc(ties, func(t store.StudentContact) bool { return t.ContactID == c.Contact })
		if c.Contact != 0 && at < 0 {
			return work.NotFoundf("that is no contact of %s; nothing was saved", s.Name())
		}
		var words []string
		person := false
		if at < 0 {
			if next.ID, err = store.AddContact(ctx, tx.Tx, next); err != nil {
				return err
			}
			ties, at = append(ties, store.StudentContact{StudentID: s.ID, ContactID: next.ID}), len(ties)
			words, person = []string{"added, " + work.Join(", ", next.Phone, next.SMS, next.Email)}, true
		} else {
			was := v.School.ContactOf(c.Contact)
			next.SourcedID, next.Ended = was.SourcedID, was.Ended
			if was.SMS == was.Phone && next.SMS == was.SMS {
				next.SMS = next.Phone // texts go to the same telephone as before
			}
			if changed := changes(was, next); len(changed) > 0 {
				words, person = changed, true
				if err := store.SetContact(ctx, tx.Tx, next); err != nil {
					return err
				}
			}
		}
		before := ties[at]
		ties[at].Relation, ties[at].MayCollect, ties[at].LivesWith, ties[at].DoNotCall = strings.TrimSpace(c.Relation), c.MayCollect, c.LivesWith, c.DoNotCall
		words = append(words, tieChanges(before, ties[at])...)
		if c.Place > 0 && c.Place-1 != at {
			ties = moved(ties, at, c.Place-1)
			words = append(words, fmt.Sprintf("called %s", ordinal(min(c.Place, len(ties)))))
		}
		if len(words) == 0 {
			return work.Conflictf("that is how it is already; nothing was saved")
		}
		out = work.ReceiptOf(tx, next.Name()+", "+s.Name()+": "+strings.Join(words, "; "), next.ID)
		if person && c.Contact != 0 {
			if others := alsoOf(v, c.Contact, s.ID); others != "" {
				out.Text += "; for " + others + " too"
			}
		}
		return keep(ctx, tx, s.ID, ties, store.ContactChange{StudentID: s.ID, ContactID: next.ID, Text: strings.Join(words, "; "), Person: person})
	})
	return out, err
}

// Ending says that somebody is no contact of a student any more.
type Ending struct {
	Student ids.Student `json:"student"`
	Contact ids.Contact `json:"contact"`
	Why     string      `json:"why" maxLength:"200"`
}

// End takes a contact off a student, with the reason. What was said on their telephone stays.
func End(ctx context.Context, o *work.Office, p work.Person, key string, e Ending) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndContact, Kind: "contact", In: e, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(e.Student)
		if err != nil {
			return err
		}
		why := strings.TrimSpace(e.Why)
		if why == "" {
			return work.Wrongf("say why; nothing was changed")
		}
		ties := slices.Clone(v.School.TiesOf(s.ID))
		at := slices.IndexFunc(ties, func(t store.StudentContact) bool { return t.ContactID == e.Contact })
		if at < 0 {
			return work.NotFoundf("that is no contact of %s; nothing was changed", s.Name())
		}
		c := v.School.ContactOf(e.Contact)
		out = work.ReceiptOf(tx, c.Name()+" is no contact of "+s.Name()+" any more: "+why, e.Contact)
		return keep(ctx, tx, s.ID, slices.Delete(ties, at, at+1), store.ContactChange{StudentID: s.ID, ContactID: e.Contact, Text: "no contact any more: " + why})
	})
	return out, err
}

// TakeOver makes people contacts of a student, as somebody else has had them: after those whom the student has, in their
// order. One whose id is given is somebody's contact here already. words say where they come from.
func TakeOver(ctx context.Context, tx *work.Tx, v work.Snapshot, s store.Student, list []Contact, words string) error {
	ties := slices.Clone(v.School.TiesOf(s.ID))
	var changed []store.ContactChange
	for _, c := range list {
		id := c.Contact
		if id == 0 {
			var err error
			if id, err = store.AddContact(ctx, tx.Tx, store.Contact{Given: c.Given, Family: c.Family, Phone: c.Phone, SMS: c.SMS, Email: c.EMail, Address: lines(c.Address), Language: c.Language}); err != nil {
				return err
			}
		}
		ties = append(ties, store.StudentContact{StudentID: s.ID, ContactID: id, Relation: c.Relation, MayCollect: c.MayCollect, LivesWith: c.LivesWith, DoNotCall: c.DoNotCall})
		numbers := []string{c.Phone, c.SMS, c.EMail}
		if c.SMS == c.Phone {
			numbers = []string{c.Phone, c.EMail}
		}
		changed = append(changed, store.ContactChange{StudentID: s.ID, ContactID: id, Text: words + ", " + work.Join(", ", numbers...), Person: c.Contact == 0})
	}
	return keep(ctx, tx, s.ID, ties, changed...)
}

// keep writes a student's contacts in their order, and what was changed.
func keep(ctx context.Context, tx *work.Tx, student ids.Student, ties []store.StudentContact, changed ...store.ContactChange) error {
	for i := range ties {
		ties[i].CallOrder = i + 1
	}
	if err := store.SetTies(ctx, tx.Tx, student, ties); err != nil {
		return err
	}
	tx.ContactsAndWarnings()
	for _, c := range changed {
		c.Origin = tx.Origin()
		if err := store.AddContactChange(ctx, tx.Tx, c); err != nil {
			return err
		}
	}
	return nil
}

// news refuses once what somebody else has changed about the same student's contacts since.
func news(ctx context.Context, tx *work.Tx, c Contact) error {
	changed, err := store.ContactChangesOf(ctx, tx.Tx, c.Student)
	if err != nil {
		return err
	}
	for _, x := range changed {
		if (c.Contact == 0 || x.ContactID == c.Contact) && c.IsNews(tx, x.Origin) {
			return work.FirstTold(x.Origin, "a contact: "+x.Text)
		}
	}
	return nil
}

// changes says in words what is another about a contact.
func changes(was, is store.Contact) []string {
	var out []string
	for _, f := range []struct{ name, was, is string }{{"name", was.Name(), is.Name()}, {"phone", was.Phone, is.Phone}, {"texts", was.SMS, is.SMS}, {"e-mail", was.Email, is.Email},
		{"address", strings.ReplaceAll(was.Address, "\n", ", "), strings.ReplaceAll(is.Address, "\n", ", ")}, {"language of letters", was.Language, is.Language}} {
		switch {
		case f.was == f.is:
		case f.is == "":
			out = append(out, "no "+f.name+", was "+f.was)
		case f.was == "":
			out = append(out, f.name+" "+f.is)
		default:
			out = append(out, f.name+" "+f.was+" → "+f.is)
		}
	}
	return out
}

// lines leaves the lines of an address that say anything.
func lines(address string) string {
	var out []string
	for line := range strings.Lines(address) {
		if line = strings.TrimSpace(line); line != "" {
			out = append(out, line)
		}
	}
	return strings.Join(out, "\n")
}

func tieChanges(was, is store.StudentContact) []string {
	var out []string
	if was.Relation != is.Relation {
		out = append(out, work.Join(" → ", was.Relation, is.Relation))
	}
	for _, f := range []struct {
		was, is bool
		on, off string
	}{{was.MayCollect, is.MayCollect, "may collect", "may not collect"}, {was.LivesWith, is.LivesWith, "lives with", "does not live with"}, {was.DoNotCall, is.DoNotCall, "must not be called", "may be called"}} {
		if f.was != f.is {
			out = append(out, map[bool]string{true: f.on, false: f.off}[f.is])
		}
	}
	return out
}

// moved puts one of a list at another place; the last, where there are fewer.
func moved(list []store.StudentContact, from, to int) []store.StudentContact {
	one := list[from]
	list = slices.Delete(list, from, from+1)
	return slices.Insert(list, min(to, len(list)), one)
}

func ordinal(n int) string {
	if n == 1 {
		return "first"
	}
	return fmt.Sprintf("in place %d", n)
}

// alsoOf names the other students whose contact somebody is.
func alsoOf(v work.Snapshot, contact ids.Contact, but ids.Student) string {
	others := slices.DeleteFunc(slices.Clone(v.School.StudentsOfContact(contact)), func(s ids.Student) bool { return s == but })
	if len(others) == 0 {
		return ""
	}
	return v.School.Names(others)
}

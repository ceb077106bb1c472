// Package former brings in what an earlier school has handed on about a student: the record is kept whole, to be read
// beside what happens here, and contacts, warnings and the photo can be taken over. Marks of another school are no marks of
// this one and enter none of its figures.
package former

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/files/paper"
	"meldung/files/studentfile"
	"meldung/store"
	"meldung/work"
	"meldung/work/contacts"
)

// MostBytes bounds a record.
const MostBytes = 20 << 20

// RecordFile is a record as it was chosen.
type RecordFile struct {
	Name    string `json:"name" maxLength:"200"`
	Content []byte `json:"content" doc:"A zip archive, base64"`
}

// Brought is a record to bring in, with what is taken over of it.
type Brought struct {
	Student ids.Student `json:"student"`
	File    RecordFile  `json:"file"`
	Take    []string    `json:"take,omitempty" maxItems:"200" doc:"The parts that are taken over"`
	Same    bool        `json:"same,omitempty" doc:"Somebody has said that it is the same student, where name or birthday differ"`
}

// Kinds of what can be taken over.
const (
	AContact = "contact"
	AWarning = "warning"
	APhoto   = "photo"
)

// Part is something that can be taken over.
type Part struct {
	ID    string
	Kind  string
	Text  string
	Note  string // what there is to know before it is taken over, or why it can't be
	May   bool   // it can be taken over
	Usual bool   // it usually is
}

// Plan is what bringing a record in would do.
type Plan struct {
	Record studentfile.Record
	Wrong  []string // what is wrong in the file; nothing of it can be brought in
	Others []string // what says that it may be of somebody else
	There  string   // it is here already, since when; empty where it is not
	Parts  []Part
}

// parts are what can be taken over, by their ids.
type parts struct {
	list     []Part
	contacts map[string]contacts.Contact
	warnings map[string]contacts.Warning
	photo    []byte
}

// Look says what a record holds and what bringing it in would do. It changes nothing.
func Look(ctx context.Context, o *work.Office, p work.Person, in Brought) (Plan, error) {
	var out Plan
	err := o.Look(ctx, work.Job{By: p, Needs: work.MayLookAtFormer, In: in}, func(v work.Snapshot) (err error) {
		out, _, err = look(ctx, v, v.Store(), in)
		return err
	})
	return out, err
}

func look(ctx context.Context, v work.Snapshot, q store.Queryer, in Brought) (out Plan, take parts, err error) {
	s, err := v.Student(in.Student)
	if err != nil {
		return out, take, err
	}
	if len(in.File.Content) > MostBytes {
		return out, take, work.Wrongf("that file has %.1f MB; a record has at most %d MB. Nothing was saved", float64(len(in.File.Content))/(1<<20), MostBytes>>20)
	}
	record, wrong := studentfile.Read(in.File.Content)
	out.Record = record
	for _, w := range wrong {
		out.Wrong = append(out.Wrong, w.String())
	}
	if len(wrong) > 0 {
		return out, take, nil
	}
	about := record.About
	if !strings.EqualFold(about.Name(), s.Given+" "+s.Family) {
		out.Others = append(out.Others, "The record is of "+about.Name()+", this is "+s.Name())
	}
	if about.Born != "" && s.Born != "" && about.Born != s.Born {
		out.Others = append(out.Others, "The record says born "+about.Born+", here it is "+s.Born)
	}
	there, err := store.FormerRecords(ctx, q, s.ID)
	if err != nil {
		return out, take, err
	}
	for _, f := range there {
		if f.Digest == digest(in.File.Content) {
			out.There = work.Join(", ", f.By, f.Known.Date().Spoken())
		}
	}
	take = parts{contacts: map[string]contacts.Contact{}, warnings: map[string]contacts.Warning{}}
	take.findContacts(v, s, record)
	take.findWarnings(v, s, record)
	if err := take.findPhoto(ctx, q, s, record); err != nil {
		return out, take, err
	}
	out.Parts = take.list
	return out, take, nil
}

func digest(content []byte) string {
	sum := sha256.Sum256(content)
	return hex.EncodeToString(sum[:])
}

// findContacts are the contacts of a record: those whom the student has already are said to be there; one who is somebody
// else's contact here is the same person, so that a number is put right once for both.
func (t *parts) findContacts(v work.Snapshot, s store.Student, r studentfile.Record) {
	n := 0
	var before []contacts.Contact
	r.Table("contacts").Each(func(get func(string) string) {
		n++
		cut := false
		clip := func(s string, most int) string {
			s = strings.TrimSpace(s)
			if r := []rune(s); len(r) > most {
				cut = true
				return string(r[:most])
			}
			return s
		}
		c := contacts.Contact{Student: s.ID, Given: clip(get("given"), 60), Family: clip(get("family"), 60), Relation: clip(get("relation"), 40), Phone: clip(get("phone"), 40), SMS: clip(get("sms"), 40), EMail: clip(get("email"), 120), Address: clip(get("address"), 300),
			Language: clip(get("language"), 40), MayCollect: yes(get("may_collect")), LivesWith: yes(get("lives_with")), DoNotCall: yes(get("do_not_call"))}
		name := strings.TrimSpace(c.Given + " " + c.Family)
		part := Part{ID: fmt.Sprintf("contact-%d", n), Kind: AContact, Text: work.Join(", ", name, c.Relation, c.Phone, c.EMail), May: true, Usual: true}
		if c.DoNotCall {
			part.Note = "must not be called"
		}
		if cut {
			part.Note = work.Join("; ", part.Note, "is longer than there is room for here: the record has it whole")
		}
		for _, tie := range v.School.TiesOf(s.ID) {
			switch has := v.School.ContactOf(tie.ContactID); {
			case same(has, c):
				part.May, part.Usual, part.Note = false, false, "is a contact here already"
				if c.DoNotCall && !tie.DoNotCall {
					part.Note += "; there it says: must not be called"
				}
			case strings.EqualFold(has.Name(), name) && part.May:
				part.Usual, part.Note = false, work.Join("; ", part.Note, "is a contact here already, with "+work.Join(", ", has.Phone, has.Email))
			}
		}
		if name == "" || c.Phone == "" && c.SMS == "" && c.EMail == "" && c.Address == "" {
			part.May, part.Usual, part.Note = false, false, "has no name, or nothing to reach them by"
		}
		if part.May {
			for _, other := range v.School.Records().Rows.Contacts {
				if others := v.School.StudentsOfContact(other.ID); !other.Ended && len(others) > 0 && same(v.School.ContactOf(other.ID), c) {
					c.Contact = other.ID
					part.Note = work.Join("; ", part.Note, "is a contact of "+v.School.Names(others)+" here: the same person")
					break
				}
			}
		}
		if slices.ContainsFunc(before, func(b contacts.Contact) bool {
			return b.Contact != 0 && b.Contact == c.Contact || same(store.Contact{Given: b.Given, Family: b.Family, Phone: b.Phone, SMS: b.SMS, Email: b.EMail}, c)
		}) {
			part.May, part.Usual, part.Note = false, false, "is in the record twice"
		}
		before = append(before, c)
		t.contacts[part.ID] = c
		t.list = append(t.list, part)
	})
}

// same reports whether a contact here is the person of a record: the same name, and a number or address in common.
func same(has store.Contact, c contacts.Contact) bool {
	if !strings.EqualFold(has.Name(), strings.TrimSpace(c.Given+" "+c.Family)) {
		return false
	}
	for _, one := range []string{has.Phone, has.SMS} {
		for _, other := range []string{c.Phone, c.SMS} {
			if digits(one) != "" && digits(one) == digits(other) {
				return true
			}
		}
	}
	return has.Email != "" && strings.EqualFold(has.Email, c.EMail)
}

func digits(s string) string {
	return strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, s)
}

func yes(s string) bool {
	return s == "1" || strings.EqualFold(s, "true") || strings.EqualFold(s, "yes")
}

// findWarnings are the warnings of a record that hold, each with the document that it goes by.
func (t *parts) findWarnings(v work.Snapshot, s store.Student, r studentfile.Record) {
	n := 0
	used := map[string]bool{}
	r.Table("warnings").Each(func(get func(string) string) {
		n++
		if yes(get("ended")) {
			return
		}
		w := contacts.Warning{Student: s.ID, Text: strings.Join(strings.Fields(get("words")), " "), CareFirst: yes(get("care_first"))}
		part := Part{ID: fmt.Sprintf("warning-%d", n), Kind: AWarning, Text: w.Text, May: true, Usual: true}
		if document := get("document"); document != "" {
			part.Note = "its document is not in the record"
			for _, name := range filesOf(r) {
				if strings.HasPrefix(name, "documents/") && strings.HasSuffix(name, "-"+document) && !used[name] {
					used[name] = true
					w.Document, part.Note = &contacts.Document{Name: document, Content: r.Files[name]}, "with "+document
					if _, err := w.Document.Checked(); err != nil {
						w.Document, part.Note = nil, document+" is left in the record: it is no whole PDF, PNG or JPEG of at most 5 MB"
					}
					break
				}
			}
		}
		twice := slices.ContainsFunc(t.list, func(p Part) bool { return p.Kind == AWarning && strings.EqualFold(p.Text, w.Text) })
		switch {
		case twice:
			part.May, part.Usual, part.Note = false, false, "is in the record twice"
		case slices.ContainsFunc(v.School.WarningsOf(s.ID), func(x store.Warning) bool { return strings.EqualFold(x.Text, w.Text) }):
			part.May, part.Usual, part.Note = false, false, "is a warning here already"
		case w.Text == "" || len([]rune(w.Text)) > 120 || strings.ContainsRune(w.Text, '|'):
			part.May, part.Usual, part.Note = false, false, "is too long for a warning here, or holds the sign |: write it anew"
		}
		t.warnings[part.ID] = w
		t.list = append(t.list, part)
	})
}

func filesOf(r studentfile.Record) []string {
	var out []string
	for name := range r.Files {
		out = append(out, name)
	}
	slices.Sort(out)
	return out
}

func (t *parts) findPhoto(ctx context.Context, q store.Queryer, s store.Student, r studentfile.Record) error {
	if len(r.Files["photo.png"]) == 0 {
		return nil
	}
	part := Part{ID: "photo", Kind: APhoto, Text: "The photo", May: true, Usual: true}
	kept, err := paper.Picture(r.Files["photo.png"])
	has, problem := store.Photo(ctx, q, s.ID)
	switch {
	case problem != nil:
		return problem
	case err != nil:
		part.May, part.Usual, part.Note = false, false, "is no picture that can be read"
	case bytes.Equal(has, kept):
		part.May, part.Usual, part.Note = false, false, "is the photo here already"
	case len(has) > 0:
		part.Usual, part.Note = false, "there is a photo here, which it would replace"
	}
	t.photo = kept
	t.list = append(t.list, part)
	return nil
}

// Bring keeps a record with a student, whole, and takes over the parts that are named: all of it or nothing.
func Bring(ctx context.Context, o *work.Office, p work.Person, key string, in Brought) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayBringFormer, Kind: "former record", In: in, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		plan, take, err := look(ctx, v, tx.Tx, in)
		switch {
		case err != nil:
			return err
		case len(plan.Wrong) > 0:
			return work.Wrongf("%s; nothing was saved", plan.Wrong[0])
		case plan.There != "":
			return work.Conflictf("that record is here already: %s; nothing was saved", plan.There)
		case len(plan.Others) > 0 && !in.Same:
			return work.Conflictf("%s; nothing was saved. Say that it is the same student, or look for the right one", strings.Join(plan.Others, "; "))
		}
		s, err := v.Student(in.Student)
		if err != nil {
			return err
		}
		about := plan.Record.About
		id, err := store.AddFormerRecord(ctx, tx.Tx, store.FormerRecord{StudentID: s.ID, School: about.School, Made: about.Made, Digest: digest(in.File.Content), Archive: in.File.Content, Origin: tx.Origin()})
		if err != nil {
			return err
		}
		if err := take.over(ctx, tx, v, s, in.Take, "from the record of "+about.School); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, fmt.Sprintf("The record of %s is with %s, and %s taken over", about.School, s.Name(), work.Count(len(in.Take), "part")), id)
		return nil
	})
	return out, err
}

// over takes over what is named.
func (t *parts) over(ctx context.Context, tx *work.Tx, v work.Snapshot, s store.Student, names []string, words string) error {
	var people []contacts.Contact
	for _, part := range t.list {
		if !slices.Contains(names, part.ID) {
			continue
		}
		if !part.May {
			return work.Conflictf("%s: %s; nothing was saved", part.Text, part.Note)
		}
		switch part.Kind {
		case AContact:
			people = append(people, t.contacts[part.ID])
		case AWarning:
			if err := contacts.TakeOverWarning(ctx, tx, s, t.warnings[part.ID], words); err != nil {
				return err
			}
		case APhoto:
			if err := store.SetPhoto(ctx, tx.Tx, store.StudentPhoto{StudentID: s.ID, Picture: t.photo, Journal: tx.Entry}); err != nil {
				return err
			}
		}
	}
	for _, name := range names {
		if !slices.ContainsFunc(t.list, func(p Part) bool { return p.ID == name }) {
			return work.Wrongf("the record has no part %q; nothing was saved", name)
		}
	}
	if len(people) == 0 {
		return nil
	}
	return contacts.TakeOver(ctx, tx, v, s, people, words)
}

// RecordEnding takes a record off a student.
type RecordEnding struct {
	Student ids.Student      `json:"student"`
	Record  ids.FormerRecord `json:"record"`
}

// End takes a record off a student, as one that was brought in to somebody else: what was in it is forgotten. What was
// taken over of it stays.
func End(ctx context.Context, o *work.Office, p work.Person, key string, e RecordEnding) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndFormer, Kind: "former record ended", In: e, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(e.Student)
		if err != nil {
			return err
		}
		took, err := store.EndFormerRecord(ctx, tx.Tx, s.ID, e.Record, tx.Entry)
		if err == nil && !took {
			err = work.NotFoundf("%s has no such record; nothing was changed", s.Name())
		}
		out = tx.Receipt("The record is taken off " + s.Name() + "; what was taken over of it stays")
		return err
	})
	return out, err
}

// One returns a record of a student.
func One(ctx context.Context, q store.Queryer, student ids.Student, id ids.FormerRecord) (studentfile.Record, []byte, error) {
	archive, err := store.FormerArchive(ctx, q, student, id)
	if err != nil {
		return studentfile.Record{}, nil, err
	}
	if archive == nil {
		return studentfile.Record{}, nil, work.NotFoundf("there is no such record of that student")
	}
	r, wrong := studentfile.Read(archive)
	if len(wrong) > 0 {
		return r, nil, fmt.Errorf("a record that is kept: %s", wrong[0])
	}
	return r, archive, nil
}

package contacts

import (
	"bytes"
	"context"
	"image"
	_ "image/jpeg" // documents may be photographed
	_ "image/png"
	"path"
	"slices"
	"strings"
	"unicode"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Bounds of a document, in bytes and dots.
const (
	MaxDocument = 5 << 20
	maxDots     = 80_000_000
)

// Warning is something to know when dealing with a student, as it is to be.
type Warning struct {
	Student    ids.Student `json:"student"`
	Warning    ids.Warning `json:"warning,omitempty" doc:"0 for one that is added"`
	Text       string      `json:"text" maxLength:"120"`
	CareFirst  bool        `json:"careFirst,omitempty" doc:"The student is rung about first"`
	Document   *Document   `json:"document,omitempty" doc:"What it goes by; none leaves what is there"`
	NoDocument bool        `json:"noDocument,omitempty" doc:"It goes by nothing any more"`
	work.Since
}

// Document is what a warning goes by, as it was chosen.
type Document struct {
	Name    string `json:"name" maxLength:"200"`
	Content []byte `json:"content"`
}

// SetWarning adds a warning of a student or changes one, with the document that it goes by.
func SetWarning(ctx context.Context, o *work.Office, p work.Person, key string, w Warning) (work.Receipt, error) {
	var out work.Receipt
	doc, err := w.Document.Checked()
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetWarning, Kind: "warning", In: w, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(w.Student)
		if err != nil {
			return err
		}
		next := store.Warning{ID: w.Warning, StudentID: s.ID, Text: strings.Join(strings.Fields(w.Text), " "), CareFirst: w.CareFirst}
		if next.Text == "" {
			return work.Wrongf("say what there is to know; nothing was saved")
		}
		if strings.ContainsRune(next.Text, '|') {
			return work.Wrongf("a warning can't hold the sign | which parts warnings in files; nothing was saved")
		}
		if sameWords(v, next) {
			return work.Conflictf("%s has that warning already; nothing was saved", s.Name())
		}
		var was store.Warning
		if w.Warning != 0 {
			if was, err = warningOf(v, s, w.Warning); err != nil {
				return err
			}
		}
		if err := changedSince(ctx, tx, s.ID, w); err != nil {
			return err
		}
		words := warned(was, next)
		switch {
		case doc != nil:
			words = append(words, "document "+doc.Name)
		case w.NoDocument && was.Document != "":
			words = append(words, "no document any more, was "+was.Document)
			doc = &store.WarningDocument{}
		}
		if len(words) == 0 {
			return work.Conflictf("that is how it is already; nothing was saved")
		}
		if next.ID, err = store.SetWarning(ctx, tx.Tx, next); err != nil {
			return err
		}
		if doc != nil {
			doc.WarningID, doc.Journal = next.ID, tx.Entry
			if err := store.SetDocument(ctx, tx.Tx, *doc); err != nil {
				return err
			}
		}
		out = work.ReceiptOf(tx, s.Name()+", "+next.Text+": "+strings.Join(words, "; "), next.ID)
		return warn(ctx, tx, s.ID, next.ID, next.Text+": "+strings.Join(words, "; "))
	})
	return out, err
}

// TakeOverWarning gives a student a warning that somebody else has had, with the document that it goes by. words say
// where it comes from.
func TakeOverWarning(ctx context.Context, tx *work.Tx, s store.Student, w Warning, words string) error {
	doc, err := w.Document.Checked()
	if err != nil {
		return err
	}
	id, err := store.SetWarning(ctx, tx.Tx, store.Warning{StudentID: s.ID, Text: w.Text, CareFirst: w.CareFirst})
	if err != nil {
		return err
	}
	if doc != nil {
		doc.WarningID, doc.Journal = id, tx.Entry
		if err := store.SetDocument(ctx, tx.Tx, *doc); err != nil {
			return err
		}
	}
	return warn(ctx, tx, s.ID, id, w.Text+": "+words)
}

// WarningEnd says that a warning holds no longer.
type WarningEnd struct {
	Student ids.Student `json:"student"`
	Warning ids.Warning `json:"warning"`
	Why     string      `json:"why" maxLength:"200"`
}

// EndWarning ends a warning, with the reason. It stays on record with its document, and can be taken
// back.
func EndWarning(ctx context.Context, o *work.Office, p work.Person, key string, e WarningEnd) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndWarning, Kind: "warning ended", In: e, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(e.Student)
		if err != nil {
			return err
		}
		why := strings.TrimSpace(e.Why)
		if why == "" {
			return work.Wrongf("say why; nothing was changed")
		}
		w, err := warningOf(v, s, e.Warning)
		if err != nil {
			return err
		}
		out = work.ReceiptOf(tx, "“"+w.Text+"” is no warning of "+s.Name()+" any more: "+why, w.ID)
		if err := store.EndWarning(ctx, tx.Tx, w.ID, tx.Entry); err != nil {
			return err
		}
		return warn(ctx, tx, s.ID, w.ID, w.Text+": holds no longer, "+why)
	})
	return out, err
}

// HaveBack takes back that an entry of the journal has ended a warning, and reports whether there was
// one to have back.
func HaveBack(ctx context.Context, tx *work.Tx, v work.Snapshot, ended ids.Entry) (bool, error) {
	w, err := store.WarningEndedBy(ctx, tx.Tx, ended)
	if err != nil || w == nil {
		return false, err
	}
	if sameWords(v, *w) {
		return false, work.Conflictf("“%s” is a warning again already; nothing was changed", w.Text)
	}
	if err := store.RestoreWarning(ctx, tx.Tx, w.ID); err != nil {
		return false, err
	}
	return true, warn(ctx, tx, w.StudentID, w.ID, w.Text+": holds after all")
}

func warningOf(v work.Snapshot, s store.Student, id ids.Warning) (store.Warning, error) {
	for _, w := range v.School.WarningsOf(s.ID) {
		if w.ID == id {
			return w, nil
		}
	}
	return store.Warning{}, work.NotFoundf("that is no warning of %s; nothing was changed", s.Name())
}

// sameWords reports whether the student has another warning of the same words.
func sameWords(v work.Snapshot, w store.Warning) bool {
	return slices.ContainsFunc(v.School.WarningsOf(w.StudentID), func(x store.Warning) bool {
		return x.ID != w.ID && strings.EqualFold(x.Text, w.Text)
	})
}

// warn writes what was changed about a student's warnings.
func warn(ctx context.Context, tx *work.Tx, student ids.Student, warning ids.Warning, words string) error {
	tx.ContactsAndWarnings()
	return store.AddWarningChange(ctx, tx.Tx, store.WarningChange{StudentID: student, WarningID: warning, Text: words, Origin: tx.Origin()})
}

// changedSince refuses once what somebody else has changed about the same warning since.
func changedSince(ctx context.Context, tx *work.Tx, student ids.Student, w Warning) error {
	changed, err := store.WarningChangesOf(ctx, tx.Tx, student)
	if err != nil {
		return err
	}
	for _, x := range changed {
		if (w.Warning == 0 || x.WarningID == w.Warning) && w.IsNews(tx, x.Origin) {
			return work.FirstTold(x.Origin, "a warning: "+x.Text)
		}
	}
	return nil
}

// warned says in words what is another about a warning.
func warned(was, is store.Warning) []string {
	var out []string
	switch {
	case was.ID == 0:
		out = append(out, "added")
	case was.Text != is.Text:
		out = append(out, "was “"+was.Text+"”")
	}
	if was.CareFirst != is.CareFirst {
		out = append(out, map[bool]string{true: "rung about first", false: "not rung about first"}[is.CareFirst])
	}
	return out
}

// Checked returns a document that may be kept: a PDF, PNG or JPEG that is what it says, of a size
// that can be opened at a desk. Its name is one of a file, without folders and signs that can't be seen.
func (d *Document) Checked() (*store.WarningDocument, error) {
	if d == nil {
		return nil, nil
	}
	if len(d.Content) > MaxDocument {
		return nil, work.Wrongf("that document has %.1f MB; at most %d MB are kept. Nothing was saved", float64(len(d.Content))/(1<<20), MaxDocument>>20)
	}
	name := strings.TrimSpace(strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || !unicode.IsGraphic(r) || strings.ContainsRune(`"<>:|?*`, r) {
			return -1
		}
		return r
	}, path.Base(strings.ReplaceAll(d.Name, `\`, "/"))))
	out := &store.WarningDocument{Name: name, Content: d.Content}
	switch size, kind, err := image.DecodeConfig(bytes.NewReader(d.Content)); {
	case bytes.HasPrefix(d.Content, []byte("%PDF-")) && bytes.Contains(d.Content[max(0, len(d.Content)-2048):], []byte("%%EOF")):
		out.Type = "application/pdf"
	case err != nil || kind != "png" && kind != "jpeg":
		return nil, work.Wrongf("that is no whole PDF, PNG or JPEG; nothing was saved")
	case size.Width*size.Height > maxDots:
		return nil, work.Wrongf("that picture has %d × %d dots, too many to open; nothing was saved", size.Width, size.Height)
	default:
		out.Type = "image/" + kind
	}
	if name == "" || name == "." || name == "/" {
		out.Name = "document." + path.Base(out.Type)
	}
	return out, nil
}

package followuppage

import (
	"context"

	"meldung/files/supportfile"
	"meldung/pages"
	"meldung/work"
	"meldung/work/caseload"
)

// SupportWordsView is the school's own words of support, to be set.
type SupportWordsView struct {
	Kinds  []caseload.SupportEntry `json:"kinds"`
	Ends   []caseload.SupportEntry `json:"ends"`
	Seen   WordStamps              `json:"seen"`
	MaySet bool                    `json:"maySet"`
}

// WordStamps are the stamps of the lists, to send along with a change.
type WordStamps struct {
	Kind string `json:"kind"`
	End  string `json:"end"`
}

// Words returns the school's own words.
func Words(ctx context.Context, o *work.Office, p work.Person) (SupportWordsView, error) {
	out := SupportWordsView{MaySet: p.May(work.MaySetSupport)}
	err := o.Read(ctx, func(v work.Snapshot) error {
		words, err := caseload.Words(ctx, v.Store())
		entries := func(list string) []caseload.SupportEntry {
			out := []caseload.SupportEntry{}
			for _, w := range words.List(list) {
				out = append(out, caseload.SupportEntry{ID: w.ID, Name: w.Name, Belongs: w.Belongs, Retired: w.Retired})
			}
			return out
		}
		out.Kinds, out.Ends, out.Seen = entries(caseload.Kinds), entries(caseload.Ends), WordStamps{words.Stamp(caseload.Kinds), words.Stamp(caseload.Ends)}
		return err
	})
	return out, err
}

// KeepFiles returns contacts.csv or sessions.csv, as they are brought in again.
func KeepFiles(ctx context.Context, o *work.Office, which string) (pages.File, error) {
	name, export := supportfile.Contacts, caseload.ExportContacts
	if which == "sessions" {
		name, export = supportfile.Sessions, caseload.ExportSessions
	}
	files, err := export(ctx, o)
	return pages.File{Name: name, Type: "text/csv; charset=utf-8", Content: files[name]}, err
}

package concerns

import (
	"context"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
)

// ChangeCase opens a case with what the rules find of its student now, or changes one.
func ChangeCase(ctx context.Context, o *work.Office, p work.Person, key string, c caseload.CaseChange) (work.Receipt, error) {
	looks := map[ids.Section]Look{}
	if c.Kind == caseload.CaseOpened {
		var err error
		if looks, err = LookNow(ctx, o); err != nil {
			return work.Receipt{}, err
		}
	}
	return caseload.ChangeCase(ctx, o, p, key, c, func(v work.Snapshot, s store.Student) (string, error) {
		look := looks[v.Of(s.ID).ID]
		found, any := look.Found[s.ID]
		if !any && look.School != nil {
			found, _ = look.FiguresOf(s.ID)
		}
		return text(found)
	})
}

package demo

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/held/dated"
	"meldung/store"
)

// The two whom the office has not settled on the last day before the demonstration: one whom
// nobody could be rung about, and one whom somebody looks for still.
const (
	unreached = "Della Fairhurst"
	lookedFor = "Fenja Inchcape"
)

// settleAllBut has the office settle the last day that is written, but for two, and close safe
// arrival of one section.
func (s *School) settleAllBut(ctx context.Context, tx *sqlx.Tx, d day.Date, accounts map[string]ids.Account) error {
	records, err := held.Load(ctx, tx)
	if err != nil {
		return err
	}
	left, err := dated.ReadUnsettled(ctx, tx, records.On(d), d, day.At(d, dated.LastMinute))
	if err != nil {
		return err
	}
	entry := func(at string, kind, who string) (store.Origin, error) {
		account := accounts[who]
		j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(d, day.MustMinute(at)), Account: &account, Kind: kind})
		return store.Origin{Journal: j.ID}, err
	}
	for _, o := range left.Students {
		switch o.Student.Name() {
		case unreached:
		case lookedFor:
			from, err := entry("14:20", "search", "kersey")
			if err != nil {
				return err
			}
			if _, err := store.AddSearch(ctx, tx, store.Search{StudentID: o.Student.ID, Date: d, Minute: day.MustMinute("14:20"), Searcher: "caretaker", Origin: from}); err != nil {
				return err
			}
		default:
			from, err := entry("09:30", "student settled", "tolvan")
			if err != nil {
				return err
			}
			if _, err := store.AddSettling(ctx, tx, store.Settling{Date: d, Minute: day.MustMinute("09:30"), StudentID: &o.Student.ID, How: "at home, said by the form's tutor", Origin: from}); err != nil {
				return fmt.Errorf("settling %s: %w", d, err)
			}
		}
	}
	from, err := entry("09:36", "safe arrival closed", "tolvan")
	if err != nil {
		return err
	}
	_, err = store.AddClosing(ctx, tx, store.Closing{SectionID: upper, Date: d, Slot: upperShape[0].Slot, Minute: day.MustMinute("09:36"), Origin: from})
	return err
}

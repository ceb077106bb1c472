package work

import (
	"context"
	"fmt"

	"meldung/store"
)

// Check compares what is kept in memory with a fresh computation and looks for
// damage in the store. It returns what is wrong, a line each.
func (o *Office) Check(ctx context.Context) ([]string, error) {
	wrong, err := o.store.Check(ctx)
	if err != nil {
		return nil, err
	}
	o.writing.Lock()
	defer o.writing.Unlock()
	err = o.Read(func(v Snapshot) error {
		if v.Ledger == nil {
			return nil
		}
		fresh, err := fillLedger(ctx, o.store.Read(), v.School, v.Codes)
		if err != nil {
			return err
		}
		for i := range fresh.Len() {
			differ := 0
			for d := range v.School.Calendar.Days() {
				for pos := range v.School.Calendar.Day(d).Pattern.Slots {
					a, okA := v.Ledger.Mark(i, d, pos)
					b, okB := fresh.Mark(i, d, pos)
					if a != b || okA != okB {
						differ++
					}
				}
			}
			if differ > 0 {
				wrong = append(wrong, fmt.Sprintf("ledger: %d marks of student %s differ from the store", differ, fresh.Student(i).ID))
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	orphans, err := unknownCodes(ctx, o)
	return append(wrong, orphans...), err
}

func unknownCodes(ctx context.Context, o *Office) ([]string, error) {
	var out []string
	seen := map[string]bool{}
	err := store.EachMark(ctx, o.store.Read(), func(m store.LedgerMark) error {
		if _, ok := o.codes.Find(m.Code); !ok && !seen[m.Code] {
			seen[m.Code] = true
			out = append(out, fmt.Sprintf("mark: code %q is not in the school's code set", m.Code))
		}
		return nil
	})
	return out, err
}

package incidents

import (
	"context"
	"fmt"
	"hash/fnv"
	"slices"
	"strconv"
	"strings"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// ConductList is one of the school's lists as it is to be, in its order.
type ConductList struct {
	List  string         `json:"list" enum:"kind,place,action,break"`
	Seen  string         `json:"seen" maxLength:"20" doc:"The stamp of the list that was open; where another stands by now, nothing is saved"`
	Words []ConductEntry `json:"words" maxItems:"200"`
}

// ConductEntry is a word of a list as it is to be.
type ConductEntry struct {
	ID      ids.ConductWord `json:"id,omitempty" doc:"0 for a new one"`
	Name    string          `json:"name" maxLength:"60"`
	OfTime  string          `json:"ofTime,omitempty" maxLength:"100" doc:"Of a break: which time is called so"`
	Retired bool            `json:"retired,omitempty" doc:"Offered no more; what used it keeps it"`
}

// Stamp tells wordings of a list apart.
func (l Lists) Stamp(list string) string {
	h := fnv.New64a()
	for _, w := range l.words[list] {
		_, _ = fmt.Fprintf(h, "%d %q %d %t;", w.ID, w.Name, w.Place, w.Retired)
	}
	return strconv.FormatUint(h.Sum64(), 36)
}

// SetList renames, orders, retires and adds words of a list. None goes: what used it keeps it.
func SetList(ctx context.Context, o *work.Office, p work.Person, key string, in ConductList) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetConductLists, Kind: "conduct list", In: in, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		lists, err := ReadLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		if in.Seen != lists.Stamp(in.List) {
			return work.Conflictf("somebody has changed the list meanwhile; nothing was saved. Look at it as it is now")
		}
		rows, err := in.rows(lists.words[in.List], tx.Entry)
		if err != nil {
			return err
		}
		for _, row := range rows {
			if row.ID != 0 { // out of the way of a name that another takes
				if _, err := store.SaveConductWord(ctx, tx.Tx, store.ConductWord{ID: row.ID, Name: fmt.Sprintf("\x00%d", row.ID), Place: row.Place, Retired: row.Retired}); err != nil {
					return err
				}
			}
		}
		for _, row := range rows {
			if _, err := store.SaveConductWord(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		out = tx.Receipt("List saved")
		return nil
	})
	return out, err
}

// rows are the words as they are to be saved. A break whose name is taken out is called by what it lies
// between again.
func (in ConductList) rows(was []store.ConductWord, entry ids.Entry) ([]store.ConductWord, error) {
	var out []store.ConductWord
	seen := map[string]bool{}
	kept := 0
	for n, e := range in.Words {
		row := store.ConductWord{ID: e.ID, List: in.List, Name: strings.TrimSpace(e.Name), OfTime: e.OfTime, Place: n + 1, Retired: e.Retired, Journal: entry}
		if e.ID != 0 {
			i := slices.IndexFunc(was, func(x store.ConductWord) bool { return x.ID == e.ID })
			if i < 0 {
				return nil, work.NotFoundf("the list has no such word; nothing was saved")
			}
			kept++
			if in.List == Breaks && row.Name == "" {
				row.Name, row.Retired = was[i].Name, true
			}
		}
		if in.List == Breaks && row.Name == "" {
			continue
		}
		if row.Name == "" {
			return nil, work.Wrongf("a word of the list is empty; nothing was saved")
		}
		name := strings.ToLower(row.Name)
		if in.List == Breaks {
			name = row.OfTime
		}
		if seen[name] {
			return nil, work.Wrongf("%q is there twice; nothing was saved", row.Name)
		}
		seen[name] = true
		out = append(out, row)
	}
	if kept != len(was) {
		return nil, work.Wrongf("a word is missing: it can be retired, and stays in the list; nothing was saved")
	}
	return out, nil
}

// ConductChange is something that the school changes on a date, before and after which incidents are counted.
type ConductChange struct {
	Date string `json:"date" minLength:"10" maxLength:"10" doc:"YYYY-MM-DD"`
	Name string `json:"name" maxLength:"60"`
}

// MarkChange marks a change.
func MarkChange(ctx context.Context, o *work.Office, p work.Person, key string, c ConductChange) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayMarkChange, Kind: "conduct change", In: c, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		d, err := day.ParseDate(c.Date)
		if err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		row := store.ConductChange{Date: d, Name: strings.TrimSpace(c.Name), Journal: tx.Entry}
		if row.Name == "" {
			return work.Wrongf("say what changed; nothing was saved")
		}
		if row.ID, err = store.AddConductChange(ctx, tx.Tx, row); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, row.Name+" marked from "+d.Spoken()+" on", row.ID)
		return nil
	})
	return out, err
}

// TakeChangeBack takes a marked change off.
func TakeChangeBack(ctx context.Context, o *work.Office, p work.Person, key string, id ids.ConductChange) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayUnmarkChange, Kind: "conduct change off", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		done, err := store.TakeConductChangeBack(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !done {
			err = work.NotFoundf("there is no such change, or it is off already")
		}
		out = tx.Receipt("The change is taken off")
		return err
	})
	return out, err
}

// BreaksOf returns the times between slots that a section's days have, those of ten minutes and more.
func BreaksOf(columns []conduct.Column) []conduct.Time {
	var out []conduct.Time
	for _, c := range columns {
		if strings.HasPrefix(string(c.Time), "between:") && c.Minutes >= ShortBreak {
			out = append(out, c.Time)
		}
	}
	return out
}

// ShortBreak is from how many minutes on what lies between two slots is a break, and not the way from one
// to the next: a column of its own also where nothing happened.
const ShortBreak = 10

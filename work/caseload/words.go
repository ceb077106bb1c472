package caseload

import (
	"context"
	"fmt"
	"hash/fnv"
	"slices"
	"strconv"
	"strings"

	"meldung/core/ids"
	"meldung/core/support"
	"meldung/store"
	"meldung/work"
)

// The school's lists of words.
const (
	Kinds = "kind" // of support sessions
	Ends  = "end"  // how cases end
)

// Vocabulary are the school's own words of support.
type Vocabulary struct{ all []store.SupportWord }

// Words reads the school's words.
func Words(ctx context.Context, q store.Queryer) (Vocabulary, error) {
	all, err := store.SupportWords(ctx, q)
	return Vocabulary{all}, err
}

// List returns a list in its order, what is retired too.
func (v Vocabulary) List(list string) []store.SupportWord {
	var out []store.SupportWord
	for _, w := range v.all {
		if w.List == list {
			out = append(out, w)
		}
	}
	return out
}

// Of returns a word of a list; nil for none.
func (v Vocabulary) Of(list string, id ids.SupportWord) *store.SupportWord {
	for i := range v.all {
		if v.all[i].ID == id && v.all[i].List == list {
			return &v.all[i]
		}
	}
	return nil
}

// Name returns a word; empty for none.
func (v Vocabulary) Name(id *ids.SupportWord) string {
	for _, w := range v.all {
		if id != nil && w.ID == *id {
			return w.Name
		}
	}
	return ""
}

// Stamp tells wordings of a list apart.
func (v Vocabulary) Stamp(list string) string {
	h := fnv.New64a()
	for _, w := range v.List(list) {
		_, _ = fmt.Fprintf(h, "%d %q %q %d %t;", w.ID, w.Name, w.Belongs, w.Place, w.Retired)
	}
	return strconv.FormatUint(h.Sum64(), 36)
}

// SupportList is one of the school's lists as it is to be, in its order.
type SupportList struct {
	List  string         `json:"list" enum:"kind,end"`
	Seen  string         `json:"seen" maxLength:"20" doc:"The stamp of the list that was open; where another holds by now, nothing is saved"`
	Words []SupportEntry `json:"words" maxItems:"100"`
}

// SupportEntry is a word of a list as it is to be.
type SupportEntry struct {
	ID      ids.SupportWord `json:"id,omitempty" doc:"0 for a new one"`
	Name    string          `json:"name" maxLength:"60"`
	Belongs string          `json:"belongs,omitempty" enum:"in,outside,either," doc:"Of a kind: in school time, outside it, or either"`
	Retired bool            `json:"retired,omitempty" doc:"Offered no more; what used it keeps it"`
}

// SetWords renames, orders, retires and adds words of a list. None goes: what used it keeps it.
func SetWords(ctx context.Context, o *work.Office, p work.Person, key string, in SupportList) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetSupport, Kind: "support list", In: in, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		all, err := Words(ctx, tx.Tx)
		if err != nil {
			return err
		}
		if in.Seen != all.Stamp(in.List) {
			return work.Conflictf("somebody has changed the list meanwhile; nothing was saved. Look at it as it is now")
		}
		rows, err := in.rows(all.List(in.List), tx.Entry)
		if err != nil {
			return err
		}
		for _, row := range rows {
			if row.ID != 0 { // out of the way of a name that another takes
				aside := row
				aside.Name = fmt.Sprintf("\x00%d", row.ID)
				if _, err := store.SaveSupportWord(ctx, tx.Tx, aside); err != nil {
					return err
				}
			}
		}
		for _, row := range rows {
			if _, err := store.SaveSupportWord(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		out = tx.Receipt("List saved")
		return nil
	})
	return out, err
}

func (in SupportList) rows(was []store.SupportWord, entry ids.Entry) ([]store.SupportWord, error) {
	var out []store.SupportWord
	seen := map[string]bool{}
	kept := 0
	for n, e := range in.Words {
		row := store.SupportWord{ID: e.ID, List: in.List, Name: strings.Join(strings.Fields(e.Name), " "), Place: n + 1, Retired: e.Retired, Journal: &entry}
		if in.List == Kinds {
			row.Belongs = keptOr(e.Belongs, string(support.Either))
		}
		if e.ID != 0 {
			if !slices.ContainsFunc(was, func(x store.SupportWord) bool { return x.ID == e.ID }) {
				return nil, work.NotFoundf("the list has no such word; nothing was saved")
			}
			kept++
		}
		if row.Name == "" {
			return nil, work.Wrongf("a word of the list is empty; nothing was saved")
		}
		if seen[strings.ToLower(row.Name)] {
			return nil, work.Wrongf("%q is there twice; nothing was saved", row.Name)
		}
		seen[strings.ToLower(row.Name)] = true
		out = append(out, row)
	}
	if kept != len(was) {
		return nil, work.Wrongf("a word is missing: it can be retired, and stays in the list; nothing was saved")
	}
	return out, nil
}

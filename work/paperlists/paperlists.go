// Package paperlists keeps lists as they are shaped on paper: their columns, order and students, under a name, one's
// own or shared with named colleagues, each version.
package paperlists

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Setup is how a list is shaped, and who is on it.
type Setup struct {
	Title   string            `json:"title" maxLength:"120"`
	Above   string            `json:"above,omitempty" maxLength:"4000" doc:"A note; what stands between two ** is bold"`
	Below   string            `json:"below,omitempty" maxLength:"4000"`
	Kind    string            `json:"kind" enum:"table,labels"`
	A5      bool              `json:"a5,omitempty"`
	Across  bool              `json:"across,omitempty"`
	Points  int               `json:"points" minimum:"6" maximum:"14" doc:"The size of the text"`
	Shade   bool              `json:"shade,omitempty" doc:"Every other row"`
	Columns []PaperListColumn `json:"columns" maxItems:"40"`
	Order   []Order           `json:"order" maxItems:"6"`
	Group   string            `json:"group,omitempty" maxLength:"80" doc:"The field by which rows are grouped; empty for none"`
	NewPage bool              `json:"newPage,omitempty" doc:"Each group begins a page"`
	Sign    []string          `json:"sign" maxItems:"9" doc:"Lines to sign, by what stands under them"`
	Labels  string            `json:"labels,omitempty" maxLength:"10" doc:"Of labels: the sheet"`
	Skip    int               `json:"skip,omitempty" minimum:"0" maximum:"60" doc:"Of labels: how many of the first sheet are gone"`

	Who     string        `json:"who,omitempty" maxLength:"40000" doc:"A group of students; empty for everyone"`
	Extra   []ids.Student `json:"extra" maxItems:"2500" doc:"Who is on it besides"`
	Without []ids.Student `json:"without" maxItems:"2500" doc:"Who of the group is not"`
}

// PaperListColumn is a column of a list.
type PaperListColumn struct {
	Field   string `json:"field" minLength:"1" maxLength:"80"`
	Heading string `json:"heading" maxLength:"80"`
	Width   int    `json:"width" minimum:"4" maximum:"400" doc:"In millimetres; all of them together are fitted to the page"`
}

// Order is a field that rows are ordered by.
type Order struct {
	Field string `json:"field" minLength:"1" maxLength:"80"`
	Down  bool   `json:"down,omitempty"`
}

// Saved is a list that is saved: a new one, a further version of one's own, or another name of it.
type Saved struct {
	List  ids.PaperList `json:"list,omitempty" doc:"0 for a new one"`
	Name  string        `json:"name" maxLength:"60"`
	Setup Setup         `json:"setup"`
	Seen  ids.Entry     `json:"seen,omitempty" doc:"The version that was open when this one was made; a newer one stops the write"`
}

// Save stores a list under a name; the versions before are kept.
func Save(ctx context.Context, o *work.Office, p work.Person, key string, in Saved) (work.Receipt, error) {
	var out work.Receipt
	in.Name = strings.TrimSpace(in.Name)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySavePaper, Kind: "paper list", In: in, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		if in.Name == "" {
			return work.Wrongf("a list needs a name; nothing was saved")
		}
		if len(in.Setup.Columns) == 0 {
			return work.Wrongf("a list needs a column; nothing was saved")
		}
		setup, err := json.Marshal(in.Setup)
		if err != nil {
			return err
		}
		all, err := store.PaperLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		if slices.ContainsFunc(all, func(l store.PaperList) bool {
			return l.AccountID == p.Account && l.Name == in.Name && l.ID != in.List
		}) {
			return work.Conflictf("you have a list called %s already; nothing was saved", in.Name)
		}
		id := in.List
		if id == 0 {
			if id, err = store.AddPaperList(ctx, tx.Tx, store.PaperList{AccountID: p.Account, Name: in.Name, Origin: tx.Origin()}); err != nil {
				return err
			}
		} else if err := in.again(ctx, tx, all, p); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, in.Name+" saved", id)
		return store.AddPaperVersion(ctx, tx.Tx, id, string(setup), tx.Entry)
	})
	return out, err
}

// again judges a further version of a list.
func (in Saved) again(ctx context.Context, tx *work.Tx, all []store.PaperList, p work.Person) error {
	l, err := ownOf(all, p, in.List)
	if err != nil {
		return err
	}
	if in.Seen != 0 && l.Journal != in.Seen {
		return work.Conflictf("%s was saved meanwhile in another window; yours was not saved. Save it under another name, or open the list again", l.Name)
	}
	if l.Name == in.Name {
		return nil
	}
	return store.NamePaperList(ctx, tx.Tx, l.ID, in.Name)
}

func ownOf(all []store.PaperList, p work.Person, id ids.PaperList) (store.PaperList, error) {
	i := slices.IndexFunc(all, func(l store.PaperList) bool { return l.ID == id && l.AccountID == p.Account })
	if i < 0 {
		return store.PaperList{}, work.NotFoundf("you have no such list; nothing was changed")
	}
	return all[i], nil
}

// Sharing is with whom a list is shared from now on.
type Sharing struct {
	List ids.PaperList `json:"list"`
	With []ids.Account `json:"with" maxItems:"200" doc:"All of them; whoever is not named has it no more"`
}

// Share shares one of a person's own lists with named colleagues who see papers: they run it and make their own of
// it, and get no cell that they may not see.
func Share(ctx context.Context, o *work.Office, p work.Person, key string, in Sharing) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySharePaper, Kind: "paper list", In: in, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		all, err := store.PaperLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		l, err := ownOf(all, p, in.List)
		if err != nil {
			return err
		}
		colleagues, err := Colleagues(ctx, tx.Tx, p)
		if err != nil {
			return err
		}
		readers, err := store.PaperReaders(ctx, tx.Tx)
		if err != nil {
			return err
		}
		var names []string
		for _, with := range in.With {
			i := slices.IndexFunc(colleagues, func(a store.Account) bool { return a.ID == with })
			if i < 0 {
				return work.Wrongf("a list is shared with colleagues who see papers; nothing was changed")
			}
			names = append(names, colleagues[i].Name)
			if _, err := store.SharePaperList(ctx, tx.Tx, l.ID, with, true, tx.Entry); err != nil {
				return err
			}
		}
		for _, r := range readers {
			if r.ListID == l.ID && !slices.Contains(in.With, r.AccountID) {
				if _, err := store.SharePaperList(ctx, tx.Tx, l.ID, r.AccountID, false, tx.Entry); err != nil {
					return err
				}
			}
		}
		out = work.ReceiptOf(tx, fmt.Sprintf("%s shared with %s", l.Name, cmp.Or(strings.Join(names, ", "), "nobody")), l.ID)
		return nil
	})
	return out, err
}

// Colleagues are the accounts that a person can share a list with, by name.
func Colleagues(ctx context.Context, q store.Queryer, p work.Person) ([]store.Account, error) {
	all, err := store.Accounts(ctx, q)
	if err != nil {
		return nil, err
	}
	all = slices.DeleteFunc(all, func(a store.Account) bool {
		return a.EndedBy != nil || a.ID == p.Account || !work.Role(a.Role).May(work.MaySeePapers)
	})
	slices.SortStableFunc(all, func(a, b store.Account) int { return strings.Compare(a.Name, b.Name) })
	return all, nil
}

// End takes one of a person's own lists away.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.PaperList) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndPaper, Kind: "paper list", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		all, err := store.PaperLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		l, err := ownOf(all, p, id)
		if err != nil {
			return err
		}
		if _, err := store.EndPaperList(ctx, tx.Tx, id, tx.Entry); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, l.Name+" taken away", id)
		return nil
	})
	return out, err
}

// Offered is a list as a person has it.
type Offered struct {
	store.PaperList
	Own     bool
	Readers []store.PaperReader
}

// Of returns the lists that a person has: the own, then those that others share with them.
func Of(ctx context.Context, q store.Queryer, p work.Person) ([]Offered, error) {
	all, err := store.PaperLists(ctx, q)
	if err != nil {
		return nil, err
	}
	readers, err := store.PaperReaders(ctx, q)
	if err != nil {
		return nil, err
	}
	with := map[ids.PaperList][]store.PaperReader{}
	for _, r := range readers {
		with[r.ListID] = append(with[r.ListID], r)
	}
	var out []Offered
	own := func(l store.PaperList) bool { return l.AccountID == p.Account }
	shared := func(l store.PaperList) bool {
		return slices.ContainsFunc(with[l.ID], func(r store.PaperReader) bool { return r.AccountID == p.Account })
	}
	for _, l := range work.OwnFirst(all, own, shared) {
		out = append(out, Offered{l, own(l), with[l.ID]})
	}
	return out, nil
}

// One returns a list that a person has, and how it is shaped.
func One(ctx context.Context, q store.Queryer, p work.Person, id ids.PaperList) (Offered, Setup, error) {
	all, err := Of(ctx, q, p)
	if err != nil {
		return Offered{}, Setup{}, err
	}
	i := slices.IndexFunc(all, func(l Offered) bool { return l.ID == id })
	if i < 0 {
		return Offered{}, Setup{}, work.NotFoundf("there is no such list, or it is not shared with you")
	}
	setup, err := Read(all[i].Setup)
	return all[i], setup, err
}

// Read returns a set-up as it was saved.
func Read(text string) (Setup, error) {
	var out Setup
	if err := json.Unmarshal([]byte(text), &out); err != nil {
		return out, fmt.Errorf("reading how a list is shaped: %w", err)
	}
	return out, nil
}

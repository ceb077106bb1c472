// Package views keeps what people look at again: a page with everything that was chosen, under a
// name, their own or shared.
package views

import (
	"context"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// places are the pages of which views are kept, with what seeing one needs.
var places = map[string]work.Permission{"absence": work.MaySeeAbsence, "courses": work.MaySeeCourses, "conduct": work.MaySeeConduct, "papers": work.MaySeeLates}

// View is a page under a name.
type View struct {
	Place   string `json:"place" enum:"absence,conduct,courses,papers"`
	Name    string `json:"name" minLength:"1" maxLength:"60"`
	Address string `json:"address" minLength:"1" maxLength:"1000" doc:"The page's own, from its first stroke on"`
	Shared  bool   `json:"shared,omitempty" doc:"Others who may see the page are offered it too"`
}

// Save stores a view; one of the same name of the same person gives way to it.
func Save(ctx context.Context, o *work.Office, p work.Person, key string, w View) (work.Receipt, error) {
	var out work.Receipt
	w.Name = strings.TrimSpace(w.Name)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySaveView, Kind: "view saved", In: w, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		needs, known := places[w.Place]
		switch {
		case !known || !p.May(needs):
			return work.Refusedf("your account does not see that page; nothing was saved")
		case w.Name == "":
			return work.Wrongf("a view needs a name; nothing was saved")
		case w.Address != "/"+w.Place && !strings.HasPrefix(w.Address, "/"+w.Place+"?") && !strings.HasPrefix(w.Address, "/"+w.Place+"/"):
			return work.Wrongf("that is no address of the page; nothing was saved")
		}
		all, err := store.SavedViews(ctx, tx.Tx)
		if err != nil {
			return err
		}
		for _, x := range all {
			if x.AccountID == p.Account && x.Place == w.Place && x.Name == w.Name {
				if _, err := store.EndSavedView(ctx, tx.Tx, x.ID, tx.Entry); err != nil {
					return err
				}
			}
		}
		id, err := store.AddSavedView(ctx, tx.Tx, store.SavedView{AccountID: p.Account, Place: w.Place, Name: w.Name, Address: w.Address, Shared: w.Shared, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, w.Name+" saved", id)
		return err
	})
	return out, err
}

// End takes one of a person's own views off, or for an administrator any.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.SavedView) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndView, Kind: "view ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		all, err := store.SavedViews(ctx, tx.Tx)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(all, func(x store.SavedView) bool { return x.ID == id })
		if i < 0 || (all[i].AccountID != p.Account && !(all[i].Shared && p.Role == work.Administrator)) {
			return work.NotFoundf("you have no such view; nothing was changed")
		}
		if _, err := store.EndSavedView(ctx, tx.Tx, id, tx.Entry); err != nil {
			return err
		}
		out = tx.Receipt(all[i].Name + " taken off")
		return nil
	})
	return out, err
}

// Offered is a view as it is offered to somebody.
type Offered struct {
	ID      ids.SavedView `json:"id"`
	Name    string        `json:"name"`
	Address string        `json:"address"`
	Own     bool          `json:"own"`
	By      string        `json:"by" doc:"Whose it is, of another's"`
}

// Of returns the views of a place that a person is offered: the own, then those that others share.
func Of(ctx context.Context, o *work.Office, p work.Person, place string) ([]Offered, error) {
	out := []Offered{}
	needs, known := places[place]
	if !known || !p.May(needs) {
		return out, work.Refusedf("your account does not see that page")
	}
	all, err := store.SavedViews(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	own := func(x store.SavedView) bool { return x.Place == place && x.AccountID == p.Account }
	for _, x := range work.OwnFirst(all, own, func(x store.SavedView) bool { return x.Place == place && x.Shared }) {
		one := Offered{ID: x.ID, Name: x.Name, Address: x.Address, Own: own(x)}
		if !one.Own {
			one.By = x.By
		}
		out = append(out, one)
	}
	return out, nil
}

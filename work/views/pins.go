package views

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// mostPins is how many pages can be first.
const mostPins = 9

// Pinned is a page to put first.
type Pinned struct {
	Path  string `json:"path" minLength:"1" maxLength:"400" doc:"Of the page, from its first stroke on"`
	Title string `json:"title" minLength:"1" maxLength:"60"`
}

// PinRef is a page that a person has put first.
type PinRef struct {
	ID    ids.Pin `json:"id"`
	Path  string  `json:"path"`
	Title string  `json:"title"`
}

// Pin puts a page first for a person: it is offered before anything is asked.
func Pin(ctx context.Context, o *work.Office, p work.Person, key string, in Pinned) (work.Receipt, error) {
	var out work.Receipt
	in.Title = strings.TrimSpace(in.Title)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayPin, Kind: "pin", In: in, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		if in.Title == "" {
			return work.Wrongf("a page needs a name to be found by; nothing was saved")
		}
		if !strings.HasPrefix(in.Path, "/") || strings.HasPrefix(in.Path, "//") || strings.ContainsFunc(in.Path, func(r rune) bool { return unicode.IsControl(r) || r == '\\' }) {
			return work.Wrongf("that is no page of this program; nothing was saved")
		}
		pins, err := store.Pins(ctx, tx.Tx, p.Account)
		if err != nil {
			return err
		}
		if slices.ContainsFunc(pins, func(x store.Pin) bool { return x.Path == in.Path }) {
			return work.Conflictf("that page is pinned already; nothing was saved")
		}
		if len(pins) >= mostPins {
			return work.Conflictf("%d pages are pinned, and no more are offered at once: take one off first", mostPins)
		}
		id, err := store.AddPin(ctx, tx.Tx, store.Pin{AccountID: p.Account, Path: in.Path, Title: in.Title, Journal: tx.Entry})
		out = work.ReceiptOf(tx, fmt.Sprintf("%s comes first under / and ?", in.Title), id)
		return err
	})
	return out, err
}

// Unpin has a page first no more.
func Unpin(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Pin) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayUnpin, Kind: "pin", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		pins, err := store.Pins(ctx, tx.Tx, p.Account)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(pins, func(x store.Pin) bool { return x.ID == id })
		if i < 0 {
			return work.NotFoundf("you have pinned no such page; nothing was changed")
		}
		_, err = store.EndPin(ctx, tx.Tx, p.Account, id, tx.Entry)
		out = work.ReceiptOf(tx, pins[i].Title+" is pinned no more", id)
		return err
	})
	return out, err
}

// Pins are the pages that a person has put first.
func Pins(ctx context.Context, o *work.Office, p work.Person) ([]PinRef, error) {
	out := []PinRef{}
	pins, err := store.Pins(ctx, o.Store().Read(), p.Account)
	for _, x := range pins {
		out = append(out, PinRef{x.ID, x.Path, x.Title})
	}
	return out, err
}

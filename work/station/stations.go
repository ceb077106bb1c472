// Package station holds the devices at the doors on which students sign themselves in and
// out: their codes, and what is done on them.
package station

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"fmt"
	"math/big"
	"strings"

	"meldung/core/ids"
	"meldung/held/names"
	"meldung/store"
	"meldung/work"
)

// NewStation is a device that students are to sign in and out on.
type NewStation struct {
	Name string `json:"name" minLength:"1" maxLength:"60" doc:"Where it stands"`
}

// StationCode is what ties a device to a station, once.
type StationCode struct {
	ID    ids.Station `json:"id"`
	Name  string      `json:"name"`
	Code  string      `json:"code"`
	Until string      `json:"until" doc:"When the code is no longer taken"`
}

func hashed(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// Add names a new station and returns the code to type on its device. The code is
// shown this once and kept nowhere: a repeat is refused, since the name is taken.
func Add(ctx context.Context, o *work.Office, p work.Person, n NewStation) (StationCode, error) {
	out := StationCode{Name: strings.TrimSpace(n.Name)}
	if out.Name == "" {
		return out, work.Wrongf("say where the station stands; nothing was saved")
	}
	limit := new(big.Int).Exp(big.NewInt(10), big.NewInt(stationCodeDigits), nil)
	number, err := rand.Int(rand.Reader, limit)
	if err != nil {
		return out, fmt.Errorf("drawing a code: %w", err)
	}
	err = o.Write(ctx, work.Job{By: p, Needs: work.MayAddStation, Kind: "station", In: n}, func(tx *work.Tx, _ work.Snapshot) error {
		all, err := store.Stations(ctx, tx.Tx)
		if err != nil {
			return err
		}
		for _, s := range all {
			waits := s.Bound == nil && s.CodeUntil > tx.Now
			if s.EndedBy == nil && strings.EqualFold(s.Name, out.Name) && (waits || s.Bound != nil) {
				return work.Conflictf("there is a station at %s: take it out of use first", s.Name)
			}
		}
		out.Code = fmt.Sprintf("%0*d", stationCodeDigits, number)
		until := tx.Now + stationCodeMinutes
		out.Until = until.Minute().String()
		out.ID, err = store.AddStation(ctx, tx.Tx, store.Station{Name: out.Name, Code: hashed(out.Code), CodeUntil: until, Origin: tx.Origin()})
		return err
	})
	if err != nil {
		return StationCode{}, err
	}
	return out, nil
}

// End takes a station out of use; its device shows so.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Station) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndStation, Kind: "station ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		done, err := store.EndStation(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !done {
			err = work.Conflictf("there is no such station in use")
		}
		out = work.ReceiptOf(tx, "The station is out of use", id)
		return err
	})
	return out, err
}

// Bind ties the device that shows a code to its station, once, and returns the
// token by which the device is known from then on.
func Bind(ctx context.Context, o *work.Office, code string) (token string, err error) {
	code = names.Digits(code)
	err = o.Write(ctx, work.Job{Kind: "station bound"}, func(tx *work.Tx, _ work.Snapshot) error {
		all, err := store.Stations(ctx, tx.Tx)
		if err != nil {
			return err
		}
		for _, s := range all {
			if s.EndedBy != nil || s.Token != nil || s.CodeUntil <= tx.Now || subtle.ConstantTimeCompare([]byte(s.Code), []byte(hashed(code))) != 1 {
				continue
			}
			token = rand.Text()
			done, err := store.BindStation(ctx, tx.Tx, s.ID, hashed(token), tx.Now)
			if err == nil && !done {
				err = work.Conflictf("that code was used already")
			}
			return err
		}
		return work.Refusedf("that code is wrong, was used, or its time has passed: ask an administrator for another")
	})
	return token, err
}

// InUse returns the station in use that a device's token belongs to.
func InUse(ctx context.Context, o *work.Office, token string) (store.Station, error) {
	all, err := store.Stations(ctx, o.Store().Read())
	if err != nil {
		return store.Station{}, err
	}
	if token != "" {
		for _, s := range all {
			if s.Token != nil && s.EndedBy == nil && *s.Token == hashed(token) {
				return s, nil
			}
		}
	}
	return store.Station{}, work.Refusedf("this device is no station")
}

const (
	stationCodeDigits  = 8
	stationCodeMinutes = 30 // for which a code may be typed
)

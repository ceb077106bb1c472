// Package accounts holds who can sign in, and their passwords.
package accounts

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"fmt"
	"runtime"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// passwordParams keep signing in under a tenth of a second on two cores and a
// guess expensive: 32 MiB, two passes, after RFC 9106's advice for small memory.
var passwordParams = &argon2id.Params{Memory: 32 * 1024, Iterations: 2, Parallelism: 2, SaltLength: 16, KeyLength: 32}

// Hash returns the argon2id hash of a password.
func Hash(password string) (string, error) { return argon2id.CreateHash(password, passwordParams) }

// hashing bounds how many passwords are worked on at once, each of which takes 32 MiB: half of the
// cores are left to those signed in. longest is how long one waits for a place.
var hashing = make(chan struct{}, max(1, runtime.NumCPU()/2))

const longest = 3 * time.Second

// inTurn does something with a password when there is a place for it.
func inTurn(ctx context.Context, f func() error) error {
	waited, cancel := context.WithTimeout(ctx, longest)
	defer cancel()
	select {
	case hashing <- struct{}{}:
		defer func() { <-hashing }()
		return f()
	case <-waited.Done():
		return work.Busyf("too many are signing in at once: try again in a moment")
	}
}

// Canonical returns the form in which a username is compared and counted.
func Canonical(username string) string { return strings.ToLower(strings.TrimSpace(username)) }

// decoy is compared with when nobody has the username, so that the time taken
// does not tell.
var decoy, _ = Hash("nobody has this password")

// SignIn returns who has this username and password. An account that has ended is none.
func SignIn(ctx context.Context, o *work.Office, username, password string) (p work.Person, oneTime bool, err error) {
	found, err := store.AccountNamed(ctx, o.Store().Read(), Canonical(username))
	if err != nil {
		return work.Person{}, false, err
	}
	hash := decoy
	if found != nil && found.EndedBy == nil {
		hash = found.Password
	}
	ok, err := fits(ctx, password, hash)
	if err != nil {
		return work.Person{}, false, err
	}
	if !ok || hash == decoy {
		return work.Person{}, false, work.Refusedf("name and password do not fit together")
	}
	return personOf(*found), found.OneTime, nil
}

// fits reports whether a password is the one of a hash.
func fits(ctx context.Context, password, hash string) (ok bool, err error) {
	err = inTurn(ctx, func() (err error) {
		if ok, err = argon2id.ComparePasswordAndHash(password, hash); err != nil {
			return fmt.Errorf("checking the password: %w", err)
		}
		return nil
	})
	return ok, err
}

func personOf(a store.Account) work.Person {
	p := work.Person{Account: a.ID, Name: a.Name, Role: work.Role(a.Role)}
	if a.StaffID != nil {
		p.Staff = *a.StaffID
	}
	return p
}

// PersonOf returns the person of an account, and whether the password is still
// the one-time one.
func PersonOf(ctx context.Context, o *work.Office, account ids.Account) (p work.Person, oneTime bool, err error) {
	a, err := store.AccountByID(ctx, o.Store().Read(), account)
	if err != nil {
		return work.Person{}, false, err
	}
	if a == nil || a.EndedBy != nil {
		return work.Person{}, false, work.Refusedf("that account is no more")
	}
	return personOf(*a), a.OneTime, nil
}

// SetPassword gives the person a password of their own, in place of the present one, which is
// asked for unless it is the one-time password that they have just signed in with.
func SetPassword(ctx context.Context, o *work.Office, p work.Person, old, password string) error {
	account, err := store.AccountByID(ctx, o.Store().Read(), p.Account)
	if err != nil {
		return err
	}
	if account == nil || account.EndedBy != nil {
		return work.Refusedf("that account is no more")
	}
	if !account.OneTime {
		ok, err := fits(ctx, old, account.Password)
		if err != nil {
			return err
		}
		if !ok {
			return work.Refusedf("the present password is another; it still holds")
		}
	}
	if err := worthy(password, *account); err != nil {
		return err
	}
	hash := ""
	if err := inTurn(ctx, func() (err error) { hash, err = Hash(password); return err }); err != nil {
		return err
	}
	return o.Write(ctx, work.Job{By: p, Needs: work.MaySetPassword, Kind: "password"}, func(tx *work.Tx, _ work.Snapshot) error {
		tx.Untold = true
		now, err := store.AccountByID(ctx, tx.Tx, p.Account)
		if err != nil {
			return err
		}
		if now.Password != account.Password {
			return work.Conflictf("the password was changed a moment ago; this one was not kept")
		}
		now.Password, now.OneTime = hash, false
		return store.SaveAccount(ctx, tx.Tx, *now)
	})
}

// FirstAdministrator makes an administrator with a one-time password where there
// is no account yet, and returns the password; empty where there is one.
func FirstAdministrator(ctx context.Context, s *store.Store) (string, error) {
	accounts, err := store.Accounts(ctx, s.Read())
	if err != nil || len(accounts) > 0 {
		return "", err
	}
	password, hash, err := oneTimePassword()
	if err != nil {
		return "", err
	}
	return password, s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := store.AddAccount(ctx, tx, store.Account{Username: "admin", Name: "Administrator", Role: string(work.Administrator), Password: hash, OneTime: true})
		return err
	})
}

// oneTimePassword makes a password that has to be replaced at the first sign-in.
func oneTimePassword() (password, hash string, err error) {
	raw := make([]byte, 10)
	if _, err := rand.Read(raw); err != nil {
		return "", "", err
	}
	password = strings.ToLower(base32.StdEncoding.EncodeToString(raw))
	hash, err = Hash(password)
	return password, hash, err
}

// Package accounts holds who can sign in, and their passwords.
package accounts

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"fmt"
	"strings"

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

// decoy is compared with when nobody has the username, so that the time taken
// does not tell.
var decoy, _ = Hash("nobody has this password")

// SignIn returns the person with this username and password; oneTime says that
// the password has to be replaced before anything else.
func SignIn(ctx context.Context, o *work.Office, username, password string) (p work.Person, oneTime bool, err error) {
	accounts, err := store.Accounts(ctx, o.Store().Read())
	if err != nil {
		return work.Person{}, false, err
	}
	hash := decoy
	var found *store.Account
	for i := range accounts {
		if strings.EqualFold(accounts[i].Username, strings.TrimSpace(username)) {
			found, hash = &accounts[i], accounts[i].Password
		}
	}
	ok, err := argon2id.ComparePasswordAndHash(password, hash)
	if err != nil {
		return work.Person{}, false, fmt.Errorf("checking the password: %w", err)
	}
	if !ok || found == nil {
		return work.Person{}, false, work.Refusedf("name and password do not fit together")
	}
	return personOf(*found), found.OneTime, nil
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
	accounts, err := store.Accounts(ctx, o.Store().Read())
	if err != nil {
		return work.Person{}, false, err
	}
	for _, a := range accounts {
		if a.ID == account {
			return personOf(a), a.OneTime, nil
		}
	}
	return work.Person{}, false, work.Refusedf("that account is no more")
}

// SetPassword gives the person a password of their own.
func SetPassword(ctx context.Context, o *work.Office, p work.Person, password string) error {
	if len([]rune(password)) < 10 {
		return work.Wrongf("a password has at least 10 characters; the old one still holds")
	}
	hash, err := Hash(password)
	if err != nil {
		return err
	}
	return o.Store().Write(ctx, func(tx *sqlx.Tx) error { return store.SetPassword(ctx, tx, p.Account, hash) })
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

// NewAccount is an account to make.
type NewAccount struct {
	Username string    `json:"username" maxLength:"80"`
	Name     string    `json:"name,omitempty" doc:"Empty takes the name of the staff" maxLength:"120"`
	Role     string    `json:"role" enum:"officer,pastoral,teacher,desk,leader,administrator"`
	Staff    ids.Staff `json:"staff,omitempty" doc:"Whose account it is; a teacher needs one to reach their classes"`
}

// MadeAccount is an account with the password for its first sign-in.
type MadeAccount struct {
	Username string `json:"username"`
	Password string `json:"password" doc:"Shown once; it has to be replaced at the first sign-in"`
}

// Add makes an account with a one-time password.
func Add(ctx context.Context, o *work.Office, p work.Person, key string, a NewAccount) (MadeAccount, error) {
	var out MadeAccount
	a.Username, a.Name = strings.ToLower(strings.TrimSpace(a.Username)), strings.TrimSpace(a.Name)
	if a.Username == "" || strings.ContainsAny(a.Username, " \t") {
		return out, work.Wrongf("a username is one word; nothing was stored")
	}
	password, hash, err := oneTimePassword()
	if err != nil {
		return out, err
	}
	row := store.Account{Username: a.Username, Name: a.Name, Role: a.Role, Password: hash, OneTime: true}
	if a.Staff != 0 {
		err = o.Read(ctx, func(v work.Snapshot) error {
			staff, ok := v.School.StaffMember(a.Staff)
			if !ok {
				return work.NotFoundf("there is no staff %d", a.Staff)
			}
			row.StaffID = &a.Staff
			if row.Name == "" {
				row.Name = staff.Short()
			}
			return nil
		})
		if err != nil {
			return out, err
		}
	}
	switch {
	case row.Name == "":
		return out, work.Wrongf("an account needs a name; nothing was stored")
	case work.Role(a.Role) == work.Teacher && row.StaffID == nil:
		return out, work.Wrongf("a teacher's account belongs to one of the staff; nothing was stored")
	}
	// The password is not kept with the answer: a repeat is refused as taken.
	err = o.Write(ctx, work.Job{By: p, Needs: work.MayAddAccount, Kind: "account", In: a}, func(tx *work.Tx, _ work.Snapshot) error {
		accounts, err := store.Accounts(ctx, tx.Tx)
		if err != nil {
			return err
		}
		for _, old := range accounts {
			if strings.EqualFold(old.Username, a.Username) {
				return work.Conflictf("the username %s is taken; nothing was stored", a.Username)
			}
		}
		_, err = store.AddAccount(ctx, tx.Tx, row)
		return err
	})
	return MadeAccount{a.Username, password}, err
}

package accounts

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"meldung/core/ids"
	"meldung/files/table"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// NewAccount is an account to make.
type NewAccount struct {
	Username string    `json:"username" maxLength:"80"`
	Name     string    `json:"name,omitempty" doc:"Empty takes the name of the staff" maxLength:"120"`
	Role     string    `json:"role" enum:"officer,pastoral,teacher,desk,leader,administrator"`
	Staff    ids.Staff `json:"staff,omitempty" doc:"Whose account it is; a teacher needs one to reach their classes"`
}

// MadeAccount is an account with the password for its next sign-in.
type MadeAccount struct {
	Username string `json:"username"`
	Name     string `json:"name"`
	Password string `json:"password" doc:"Shown once; it has to be replaced at the first sign-in"`
}

// Add makes an account with a one-time password.
func Add(ctx context.Context, o *work.Office, p work.Person, key string, a NewAccount) (MadeAccount, error) {
	made, err := addAll(ctx, o, p, []NewAccount{a})
	if err != nil {
		return MadeAccount{}, err
	}
	return made[0], nil
}

// mostAccounts bounds a list of accounts.
const mostAccounts = 500

// List is accounts as a table: username, name, role and staff, which is the sourcedId, the
// identifier, the e-mail address or the name of one of the staff.
type List struct {
	Name    string `json:"name" maxLength:"200"`
	Content []byte `json:"content" doc:"CSV, base64"`
}

// Import makes the accounts of a list: all of them or, where a line is wrong, none.
func Import(ctx context.Context, o *work.Office, p work.Person, l List) ([]MadeAccount, error) {
	read := table.Read(l.Name, l.Content, []string{"username", "role"}, []string{"name", "staff"})
	if len(read.Problems) == 0 && len(read.Rows) == 0 {
		return nil, work.Wrongf("%s has no line under its header; nothing was saved", l.Name)
	}
	var wrong []string
	for _, problem := range read.Problems {
		wrong = append(wrong, problem.String())
	}
	var list []NewAccount
	err := o.Read(ctx, func(v work.Snapshot) error {
		for _, r := range read.Rows {
			a := NewAccount{Username: r.Get("username"), Name: r.Get("name"), Role: strings.ToLower(r.Get("role"))}
			if named := r.Get("staff"); named != "" {
				staff, err := staffNamed(v.School, named)
				if err != nil {
					wrong = append(wrong, fmt.Sprintf("%s:%d: %v", l.Name, r.Line, err))
				}
				a.Staff = staff
			}
			list = append(list, a)
		}
		return nil
	})
	switch {
	case err != nil:
		return nil, err
	case len(wrong) > 0:
		return nil, work.Wrongf("%s; nothing was saved", strings.Join(wrong, "; "))
	}
	return addAll(ctx, o, p, list)
}

// staffNamed returns the one of the staff whom a list names.
func staffNamed(s *held.School, named string) (ids.Staff, error) {
	var found []ids.Staff
	for _, m := range s.Records().Rows.Staff {
		full := work.Join(" ", m.Given, m.Family)
		if !m.Ended && slices.ContainsFunc([]string{m.SourcedID, m.Number, m.Email, full}, func(name string) bool { return name != "" && strings.EqualFold(name, named) }) {
			found = append(found, m.ID)
		}
	}
	switch len(found) {
	case 0:
		return 0, fmt.Errorf("none of the staff has the sourcedId, the identifier, the e-mail address or the name %q", named)
	case 1:
		return found[0], nil
	}
	return 0, fmt.Errorf("%d of the staff are called %q: say which by sourcedId", len(found), named)
}

// addAll makes accounts, all or none. The passwords are not kept with the answer: a repeat is
// refused as taken.
func addAll(ctx context.Context, o *work.Office, p work.Person, list []NewAccount) ([]MadeAccount, error) {
	job := work.Job{By: p, Needs: work.MayAddAccount, Kind: "account", In: list}
	if !p.May(job.Needs) {
		return nil, work.Refusedf("your account may not do that")
	}
	if len(list) > mostAccounts {
		return nil, work.Wrongf("%d accounts are more than the %d that are made at once; nothing was saved", len(list), mostAccounts)
	}
	made, rows := make([]MadeAccount, len(list)), make([]store.Account, len(list))
	err := o.Read(ctx, func(v work.Snapshot) error {
		seen := map[string]bool{}
		for i, a := range list {
			row, err := newRow(v, a)
			switch {
			case err != nil:
				return err
			case seen[row.Username]:
				return work.Wrongf("the user name %s is given twice; nothing was saved", row.Username)
			}
			seen[row.Username], rows[i] = true, row
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	for i := range rows {
		password := ""
		if err := inTurn(ctx, func() (err error) { password, rows[i].Password, err = oneTimePassword(); return err }); err != nil {
			return nil, err
		}
		made[i] = MadeAccount{rows[i].Username, rows[i].Name, password}
	}
	return made, o.Write(ctx, job, func(tx *work.Tx, _ work.Snapshot) error {
		for _, row := range rows {
			switch old, err := store.AccountNamed(ctx, tx.Tx, row.Username); {
			case err != nil:
				return err
			case old != nil:
				return work.Conflictf("the user name %s is taken; nothing was saved", row.Username)
			}
			if _, err := store.AddAccount(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		return nil
	})
}

// newRow returns an account as it is stored, without its password.
func newRow(v work.Snapshot, a NewAccount) (store.Account, error) {
	row := store.Account{Username: Canonical(a.Username), Name: strings.TrimSpace(a.Name), OneTime: true}
	if row.Username == "" || strings.ContainsFunc(row.Username, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) }) {
		return row, work.Wrongf("a user name is one word, not %q; nothing was saved", a.Username)
	}
	if row.Name == "" && a.Staff == 0 {
		return row, work.Wrongf("the account %s needs a name; nothing was saved", row.Username)
	}
	return row, give(v, &row, work.Role(a.Role), a.Staff)
}

// give gives an account a role and whose it is.
func give(v work.Snapshot, row *store.Account, role work.Role, of ids.Staff) error {
	if !slices.Contains(work.Roles, role) {
		return work.Wrongf("%q is no role: it is one of %s; nothing was saved", role, strings.Join(roleNames(), ", "))
	}
	row.Role, row.StaffID = string(role), nil
	if of != 0 {
		staff, ok := v.School.StaffMember(of)
		if !ok {
			return work.NotFoundf("there is no staff %d; nothing was saved", of)
		}
		row.StaffID = &of
		row.Name = cmp.Or(row.Name, staff.Short())
	}
	if role == work.Teacher && row.StaffID == nil {
		return work.Wrongf("a teacher's account belongs to one of the staff; nothing was saved")
	}
	return nil
}

func roleNames() []string {
	var out []string
	for _, r := range work.Roles {
		out = append(out, string(r))
	}
	return out
}

// Reset gives an account a new one-time password in place of its own; one that has ended is
// open again.
func Reset(ctx context.Context, o *work.Office, p work.Person, id ids.Account) (MadeAccount, error) {
	var out MadeAccount
	job := work.Job{By: p, Needs: work.MayResetAccount, Kind: "account reset"}
	if !p.May(job.Needs) {
		return out, work.Refusedf("your account may not do that")
	}
	password, hash := "", ""
	if err := inTurn(ctx, func() (err error) { password, hash, err = oneTimePassword(); return err }); err != nil {
		return out, err
	}
	err := o.Write(ctx, job, func(tx *work.Tx, _ work.Snapshot) error {
		a, err := accountToChange(ctx, tx, id)
		if err != nil {
			return err
		}
		a.Password, a.OneTime, a.EndedBy = hash, true, nil
		out = MadeAccount{a.Username, a.Name, password}
		return store.SaveAccount(ctx, tx.Tx, *a)
	})
	return out, err
}

// End ends an account: nobody signs in with it any more. What it did stays on record.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Account) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndAccount, Kind: "account ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		a, err := accountToChange(ctx, tx, id)
		switch {
		case err != nil:
			return err
		case a.ID == p.Account:
			return work.Refusedf("that is your own account: another administrator ends it")
		case a.EndedBy != nil:
			return work.Conflictf("the account %s has ended already", a.Username)
		}
		a.EndedBy = &tx.Entry
		out = work.ReceiptOf(tx, a.Name+" can no longer sign in", a.ID)
		return store.SaveAccount(ctx, tx.Tx, *a)
	})
	return out, err
}

// Part is what an account may do, and whose it is.
type Part struct {
	Role  string    `json:"role" enum:"officer,pastoral,teacher,desk,leader,administrator"`
	Staff ids.Staff `json:"staff,omitempty" doc:"Whose account it is; a teacher needs one"`
}

// SetPart gives an account another role; it holds from the next thing that is asked with it.
func SetPart(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Account, part Part) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayChangeAccount, Kind: "account changed", Of: id, In: part, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		a, err := accountToChange(ctx, tx, id)
		switch {
		case err != nil:
			return err
		case a.ID == p.Account:
			return work.Refusedf("that is your own account: another administrator changes it")
		}
		if err := give(v, a, work.Role(part.Role), part.Staff); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, a.Name+" is "+a.Role+" now", a.ID)
		return store.SaveAccount(ctx, tx.Tx, *a)
	})
	return out, err
}

func accountToChange(ctx context.Context, tx *work.Tx, id ids.Account) (*store.Account, error) {
	a, err := store.AccountByID(ctx, tx.Tx, id)
	if err == nil && a == nil {
		err = work.NotFoundf("there is no account %d; nothing was saved", id)
	}
	return a, err
}

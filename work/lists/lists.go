// Package lists keeps students under a name: a person's own lists, or such as others may use too.
package lists

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// ListChange is what becomes of a list, or a list that is new. Students are put on and taken off one by
// one, so that two windows lose nothing of each other.
type ListChange struct {
	List   ids.StudentList `json:"list,omitempty" doc:"0 for a new one"`
	Name   string          `json:"name,omitempty" maxLength:"60" doc:"Empty leaves it"`
	Shared *bool           `json:"shared,omitempty" doc:"Others may use it too; none leaves it"`
	Add    []ids.Student   `json:"add,omitempty" maxItems:"5000"`
	Remove []ids.Student   `json:"remove,omitempty" maxItems:"5000"`
}

// Save makes a list or changes one of the person's own.
func Save(ctx context.Context, o *work.Office, p work.Person, key string, c ListChange) (work.Receipt, error) {
	var out work.Receipt
	c.Name = strings.TrimSpace(c.Name)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayKeepList, Kind: "list", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		all, err := store.StudentLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		list := store.StudentList{AccountID: p.Account, Name: c.Name, Origin: tx.Origin()}
		if c.List != 0 {
			i := slices.IndexFunc(all, func(l store.StudentList) bool { return l.ID == c.List && l.AccountID == p.Account })
			if i < 0 {
				return work.NotFoundf("you have no such list; nothing was changed")
			}
			list = all[i]
			list.Name = cmp.Or(c.Name, list.Name)
		}
		if c.Shared != nil {
			list.Shared = *c.Shared
		}
		for _, l := range all {
			if l.AccountID == p.Account && l.Name == list.Name && l.ID != list.ID {
				return work.Conflictf("you have a list called %s already; nothing was changed", l.Name)
			}
		}
		switch {
		case list.Name == "":
			return work.Wrongf("a list needs a name; nothing was saved")
		case c.List == 0:
			list.ID, err = store.AddStudentList(ctx, tx.Tx, list)
		default:
			err = store.NameStudentList(ctx, tx.Tx, list)
		}
		if err != nil {
			return err
		}
		words, moved, err := c.members(ctx, tx, v, list)
		out = work.ReceiptOf(tx, words, list.ID)
		out.Undo = out.Undo && (moved || c.List == 0) // a name is changed back by hand
		return err
	})
	return out, err
}

// members puts students on the list and takes others off, and says in words what was done; moved where
// anybody came on or off.
func (c ListChange) members(ctx context.Context, tx *work.Tx, v work.Snapshot, list store.StudentList) (words string, moved bool, err error) {
	on, off := 0, 0
	for _, id := range c.Add {
		if _, err := v.Student(id); err != nil {
			return "", false, err
		}
		did, err := store.PutOnList(ctx, tx.Tx, list.ID, id, tx.Entry)
		if err != nil {
			return "", false, err
		}
		if did {
			on++
		}
	}
	for _, id := range c.Remove {
		did, err := store.TakeOffList(ctx, tx.Tx, list.ID, id, tx.Entry)
		if err != nil {
			return "", false, err
		}
		if did {
			off++
		}
	}
	words = list.Name + " saved"
	if on > 0 {
		words += fmt.Sprintf(", %d put on", on)
	}
	if off > 0 {
		words += fmt.Sprintf(", %d taken off", off)
	}
	return words, on+off > 0, nil
}

// End takes one of a person's own lists away, or for an administrator any that is shared.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.StudentList) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndList, Kind: "list", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		list, err := usable(ctx, tx.Tx, p, id)
		if err != nil || (list.AccountID != p.Account && p.Role != work.Administrator) {
			return work.NotFoundf("you have no such list; nothing was changed")
		}
		if _, err := store.EndStudentList(ctx, tx.Tx, id, tx.Entry); err != nil {
			return err
		}
		out = tx.Receipt(list.Name + " taken away")
		return nil
	})
	return out, err
}

// usable finds a list that a person may use: an own one, or one that is shared.
func usable(ctx context.Context, q store.Queryer, p work.Person, id ids.StudentList) (store.StudentList, error) {
	all, err := store.StudentLists(ctx, q)
	if err != nil {
		return store.StudentList{}, err
	}
	for _, l := range all {
		if l.ID == id && (l.AccountID == p.Account || l.Shared) {
			return l, nil
		}
	}
	return store.StudentList{}, work.NotFoundf("there is no such list, or it is not shared with you")
}

// Offered is a list as it is offered to somebody.
type Offered struct {
	List     store.StudentList
	Own      bool
	Students []ids.Student // in the order in which they came on
}

// Of returns the lists that a person may use: the own, then those that others share.
func Of(ctx context.Context, q store.Queryer, p work.Person) ([]Offered, error) {
	all, err := store.StudentLists(ctx, q)
	if err != nil {
		return nil, err
	}
	members, err := store.ListMembers(ctx, q)
	if err != nil {
		return nil, err
	}
	on := map[ids.StudentList][]ids.Student{}
	for _, m := range members {
		on[m.ListID] = append(on[m.ListID], m.StudentID)
	}
	var out []Offered
	own := func(l store.StudentList) bool { return l.AccountID == p.Account }
	for _, l := range work.OwnFirst(all, own, func(l store.StudentList) bool { return l.Shared }) {
		out = append(out, Offered{List: l, Own: own(l), Students: on[l.ID]})
	}
	return out, nil
}

// Group returns a group as pages take it: list:ID as its students with its name, for somebody who
// may use that list, and every other as it is.
func Group(ctx context.Context, q store.Queryer, p work.Person, group string) (string, error) {
	number, is := strings.CutPrefix(group, "list:")
	if !is {
		return group, nil
	}
	var id ids.StudentList
	if _, err := fmt.Sscanf(number, "%d", &id); err != nil {
		return "", work.Wrongf("%q is no list", group)
	}
	list, err := usable(ctx, q, p, id)
	if err != nil {
		return "", err
	}
	members, err := store.ListMembers(ctx, q)
	if err != nil {
		return "", err
	}
	var students []string
	for _, m := range members {
		if m.ListID == id {
			students = append(students, fmt.Sprint(m.StudentID))
		}
	}
	return "students:" + strings.Join(students, ",") + " " + list.Name, nil
}

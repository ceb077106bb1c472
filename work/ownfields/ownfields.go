// Package ownfields keeps a school's own fields on its students: what there is, who may see and change
// it, and what it holds.
package ownfields

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/ownfield"
	"meldung/store"
	"meldung/work"
)

// OwnField is a field as it is set on the School page.
type OwnField struct {
	ID      ids.OwnField  `json:"id,omitempty" doc:"0 for a new one"`
	Name    string        `json:"name" minLength:"1" maxLength:"60"`
	Kind    ownfield.Kind `json:"kind" enum:"text,choice,date,time span,number" doc:"Of a field that is there it stays"`
	Choices []string      `json:"choices,omitempty" maxItems:"60"`
	Icon    string        `json:"icon,omitempty" enum:",star,heart,flag,clock,drop,bell,key,book" doc:"Empty for none"`
	Sees    []work.Role   `json:"sees" maxItems:"6" doc:"Roles that see it; administrators always do"`
	Changes []work.Role   `json:"changes" maxItems:"6" doc:"Roles that change it, among those that see it"`
	Shown   []string      `json:"shown" maxItems:"3" doc:"Where beside the student's sheet: roll, call, desk"`
	Retired bool          `json:"retired,omitempty" doc:"Offered no more; what it holds stays on record"`
}

// Places are where a field can be shown beside the sheet.
var Places = []string{"roll", "call", "desk"}

// OwnFieldSet is all the fields as they are to be, in their order.
type OwnFieldSet struct {
	Fields []OwnField `json:"fields" maxItems:"60"`
	Seen   string     `json:"seen" maxLength:"40" doc:"The stamp of the fields that were looked at"`
}

// Stamp tells fields from others.
func Stamp(fields []OwnField) string {
	text, _ := json.Marshal(fields) // of texts only
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:8])
}

// All returns the fields in their order, the retired ones too.
func All(ctx context.Context, q store.Queryer) ([]OwnField, error) {
	rows, err := store.OwnFields(ctx, q)
	out := []OwnField{}
	for _, r := range rows {
		out = append(out, OwnField{ID: r.ID, Name: r.Name, Kind: ownfield.Kind(r.Kind), Choices: r.Choices, Icon: r.Icon, Sees: roles(r.Sees), Changes: roles(r.Changes), Shown: r.Shown, Retired: r.Retired})
	}
	return out, err
}

func roles(words []string) []work.Role {
	out := []work.Role{}
	for _, w := range words {
		out = append(out, work.Role(w))
	}
	return out
}

func words(list []work.Role) store.Words {
	out := store.Words{}
	for _, r := range list {
		out = append(out, string(r))
	}
	return out
}

// SeenBy reports whether a person sees the field.
func (f OwnField) SeenBy(p work.Person) bool {
	return p.Role == "" || p.Role == work.Administrator || slices.Contains(f.Sees, p.Role)
}

// ChangedBy reports whether a person changes what the field holds.
func (f OwnField) ChangedBy(p work.Person) bool {
	return !f.Retired && (p.Role == "" || p.Role == work.Administrator || f.SeenBy(p) && slices.Contains(f.Changes, p.Role))
}

// SetFields stores the fields. One that holds something keeps its kind, and is retired, not taken away.
func SetFields(ctx context.Context, o *work.Office, p work.Person, key string, in OwnFieldSet) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetOwnFields, Kind: "own fields", In: in, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		now, err := All(ctx, tx.Tx)
		if err != nil {
			return err
		}
		if Stamp(now) != in.Seen {
			return work.Conflictf("somebody else has changed the fields since you opened them; nothing was saved. Load the page again to see theirs")
		}
		if err := checkFields(now, in.Fields); err != nil {
			return err
		}
		for _, old := range now { // one that is left out is retired
			if !slices.ContainsFunc(in.Fields, func(f OwnField) bool { return f.ID == old.ID }) {
				old.Retired = true
				in.Fields = append(in.Fields, old)
			}
		}
		for place, f := range in.Fields {
			row := store.OwnField{ID: f.ID, Place: place, Name: strings.TrimSpace(f.Name), Kind: string(f.Kind), Choices: store.Words(f.Choices), Icon: f.Icon,
				Sees: words(f.Sees), Changes: words(f.Changes), Shown: store.Words(f.Shown), Retired: f.Retired, Origin: tx.Origin()}
			if _, err := store.SaveOwnField(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		out = tx.Receipt("Own fields saved")
		return nil
	})
	return out, err
}

// longestChoice bounds what can be chosen, so that it can name a group in an address.
const longestChoice = 60

// checkFields refuses fields without a name, of one name, of another kind than before, choices without
// any, and roles and places that are none.
func checkFields(now, next []OwnField) error {
	names := map[string]bool{}
	for _, f := range next {
		name := strings.ToLower(strings.TrimSpace(f.Name))
		i := slices.IndexFunc(now, func(o OwnField) bool { return o.ID == f.ID })
		switch {
		case name == "":
			return work.Wrongf("a field needs a name; nothing was saved")
		case names[name]:
			return work.Wrongf("there are two fields called %s; nothing was saved", f.Name)
		case slices.Contains([]string{"number", "student", "form"}, name):
			return work.Wrongf("%s is a column of its own in files; give the field another name; nothing was saved", f.Name)
		case f.ID != 0 && i < 0:
			return work.NotFoundf("there is no field %d; nothing was saved", f.ID)
		case f.ID != 0 && now[i].Kind != f.Kind:
			return work.Wrongf("%s holds a %s and stays one: retire it and make another; nothing was saved", f.Name, now[i].Kind)
		case slices.ContainsFunc(f.Choices, func(c string) bool { return len(c) > longestChoice }):
			return work.Wrongf("what can be chosen in %s has at most %d letters; nothing was saved", f.Name, longestChoice)
		case f.Kind == ownfield.Choice && len(f.Choices) == 0:
			return work.Wrongf("%s has nothing to choose from; nothing was saved", f.Name)
		}
		names[name] = true
		for _, r := range append(slices.Clone(f.Sees), f.Changes...) {
			if !slices.Contains(work.Roles, r) {
				return work.Wrongf("%q is no role; nothing was saved", r)
			}
		}
		for _, place := range f.Shown {
			if !slices.Contains(Places, place) {
				return work.Wrongf("%q is no place to show a field; nothing was saved", place)
			}
		}
		for _, r := range f.Changes {
			if !slices.Contains(f.Sees, r) {
				return work.Wrongf("who changes %s has to see it: %s does not; nothing was saved", f.Name, r)
			}
		}
	}
	return nil
}

// OwnValue is what a field is to hold for a student.
type OwnValue struct {
	Student ids.Student  `json:"student"`
	Field   ids.OwnField `json:"field"`
	Value   string       `json:"value" maxLength:"400" doc:"As typed; empty for nothing"`
	Seen    string       `json:"seen,omitempty" maxLength:"400" doc:"What it held when the change was begun"`
}

// SetValue stores what a field holds for a student, for who may change it and see the student.
func SetValue(ctx context.Context, o *work.Office, p work.Person, key string, in OwnValue) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetOwn, Kind: "own field", In: in, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		st, err := v.Student(in.Student)
		if err != nil {
			return err
		}
		if err := v.MaySee(p, in.Student); err != nil {
			return err
		}
		f, err := fieldFor(ctx, tx.Tx, p, in.Field)
		if err != nil {
			return err
		}
		value, err := f.Kind.Read(in.Value, f.Choices)
		if err != nil {
			return work.Wrongf("%s: %v; nothing was saved", f.Name, err)
		}
		held, err := heldBy(ctx, tx.Tx, in.Student, in.Field)
		if err != nil {
			return err
		}
		switch {
		case held != in.Seen && held != value:
			return work.Conflictf("somebody else has set %s of %s to %s in between; nothing was saved", f.Name, st.Name(), orNothing(f.Kind.Words(held)))
		case held == value:
			out = tx.Receipt(f.Name + " as it was")
			return nil
		}
		out = tx.Receipt(fmt.Sprintf("%s: %s %s", st.Name(), f.Name, orNothing(f.Kind.Words(value))))
		return store.SetOwnValue(ctx, tx.Tx, store.OwnValue{FieldID: f.ID, StudentID: in.Student, Value: value, Origin: tx.Origin()})
	})
	return out, err
}

func orNothing(text string) string {
	if text == "" {
		return "nothing"
	}
	return text
}

// fieldFor finds a field that a person may change. One that the person does not see is none.
func fieldFor(ctx context.Context, q store.Queryer, p work.Person, id ids.OwnField) (OwnField, error) {
	all, err := All(ctx, q)
	if err != nil {
		return OwnField{}, err
	}
	i := slices.IndexFunc(all, func(f OwnField) bool { return f.ID == id })
	switch {
	case i < 0 || !all[i].SeenBy(p):
		return OwnField{}, work.NotFoundf("there is no such field")
	case !all[i].ChangedBy(p):
		return OwnField{}, work.Refusedf("%s is not yours to change", all[i].Name)
	}
	return all[i], nil
}

func heldBy(ctx context.Context, q store.Queryer, student ids.Student, field ids.OwnField) (string, error) {
	values, err := store.OwnValues(ctx, q, student)
	for _, x := range values {
		if x.FieldID == field {
			return x.Value, err
		}
	}
	return "", err
}

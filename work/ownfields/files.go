package ownfields

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
)

// OwnImport is values from a CSV file: a column number, and one for each field, by its name.
type OwnImport struct {
	Text  string `json:"text" maxLength:"5000000" doc:"CSV, UTF-8"`
	Apply bool   `json:"apply,omitempty" doc:"Else it is only looked at"`
}

// OwnImportPlan is what values from a file would change, or have changed.
type OwnImportPlan struct {
	Applied  bool          `json:"applied"`
	Set      int           `json:"set" doc:"Values that are new or another"`
	Taken    int           `json:"taken" doc:"Values that are taken away, since the file has nothing there"`
	Same     int           `json:"same"`
	Problems []string      `json:"problems" doc:"Every line that is wrong"`
	Receipt  *work.Receipt `json:"receipt,omitempty"`
}

// numberColumn is the column by which a file names students.
const numberColumn = "number"

// ImportValues looks at values from a file, or takes them: all of them, or nothing where a line is wrong.
// A column that is there says what its field holds for each student of the file; students who are not in
// it keep what they have.
func ImportValues(ctx context.Context, o *work.Office, p work.Person, key string, in OwnImport) (OwnImportPlan, error) {
	var out OwnImportPlan
	job := work.Job{By: p, Key: key, Needs: work.MayImportOwn, Kind: "own fields imported", In: in, Out: &out}
	if !in.Apply {
		return out, o.Look(ctx, job, func(v work.Snapshot) error {
			_, err := in.plan(ctx, v, v.Store(), &out)
			return err
		})
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		values, err := in.plan(ctx, v, tx.Tx, &out)
		if err != nil {
			return err
		}
		if len(out.Problems) > 0 {
			return work.Wrongf("%s, the first: %s; nothing was saved", work.Count(len(out.Problems), "line is wrong"), out.Problems[0])
		}
		for _, x := range values {
			x.Origin = tx.Origin()
			if err := store.SetOwnValue(ctx, tx.Tx, x); err != nil {
				return err
			}
		}
		receipt := tx.Receipt(fmt.Sprintf("%d values set, %d taken away", out.Set, out.Taken))
		out.Applied, out.Receipt = true, &receipt
		return nil
	})
	return out, err
}

// asWritten takes off the apostrophe that files put before what a spreadsheet would take for a formula.
func asWritten(cell string) string {
	if len(cell) > 1 && cell[0] == '\'' && strings.ContainsRune("=+-@", rune(cell[1])) {
		return cell[1:]
	}
	return cell
}

// plan reads the file, and returns the values that are other than what is held.
func (in OwnImport) plan(ctx context.Context, v work.Snapshot, q store.Queryer, out *OwnImportPlan) ([]store.OwnValue, error) {
	*out = OwnImportPlan{Problems: []string{}}
	fields, err := All(ctx, q)
	if err != nil {
		return nil, err
	}
	held, err := store.OwnValues(ctx, q, 0)
	if err != nil {
		return nil, err
	}
	type place struct {
		student ids.Student
		field   ids.OwnField
	}
	now := map[place]string{}
	for _, x := range held {
		now[place{x.StudentID, x.FieldID}] = x.Value
	}
	names := []string{"student", "form"}
	of := map[string]OwnField{}
	for _, f := range fields {
		if !f.Retired {
			names, of[f.Name] = append(names, f.Name), f
		}
	}
	byNumber := map[string]ids.Student{}
	for _, s := range v.School.Students {
		byNumber[s.Number] = s.ID
	}
	t := table.Read("own-fields.csv", []byte(in.Text), []string{numberColumn}, names)
	var values []store.OwnValue
	seen := map[string]bool{}
	for _, row := range t.Rows {
		number := row.Get(numberColumn)
		student, known := byNumber[number]
		switch {
		case !known:
			t.Wrong(row, "there is no student with the number %q", number)
			continue
		case seen[number]:
			t.Wrong(row, "the number %q is there twice", number)
			continue
		}
		seen[number] = true
		for name, f := range of {
			if !t.Has(name) {
				continue
			}
			value, err := f.Kind.Read(asWritten(row.Get(name)), f.Choices)
			if err != nil {
				t.Wrong(row, "%s: %v", name, err)
				continue
			}
			switch was := now[place{student, f.ID}]; {
			case was == value:
				out.Same++
			case value == "":
				out.Taken++
				values = append(values, store.OwnValue{FieldID: f.ID, StudentID: student})
			default:
				out.Set++
				values = append(values, store.OwnValue{FieldID: f.ID, StudentID: student, Value: value})
			}
		}
	}
	for _, name := range t.Unknown {
		out.Problems = append(out.Problems, fmt.Sprintf("the column %q is no field", name))
	}
	for _, p := range t.Problems {
		out.Problems = append(out.Problems, p.String())
	}
	slices.SortFunc(values, func(a, b store.OwnValue) int {
		return strings.Compare(fmt.Sprintf("%9d %9d", a.StudentID, a.FieldID), fmt.Sprintf("%9d %9d", b.StudentID, b.FieldID))
	})
	return values, nil
}

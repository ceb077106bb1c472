package pages

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/ownfield"
	"meldung/files/sheet"
	"meldung/store"
	"meldung/work"
	"meldung/work/ownfields"
)

// OwnFieldsView is the school's own fields, to be set.
type OwnFieldsView struct {
	Fields []ownfields.OwnField `json:"fields"`
	Seen   string               `json:"seen" doc:"The stamp of these fields, to send along with a change"`
	Roles  []work.Role          `json:"roles"`
	Held   []OwnCount           `json:"held" doc:"Of how many students each field holds something"`
}

// OwnCount is of how many students a field holds something.
type OwnCount struct {
	Field    ids.OwnField `json:"field"`
	Students int          `json:"students"`
}

// OwnFields returns the school's own fields.
func OwnFields(ctx context.Context, o *work.Office) (OwnFieldsView, error) {
	out := OwnFieldsView{Roles: slices.DeleteFunc(slices.Clone(work.Roles), func(r work.Role) bool { return r == work.Administrator }), Held: []OwnCount{}}
	return out, o.Read(ctx, func(v work.Snapshot) (err error) {
		if out.Fields, err = ownfields.All(ctx, v.Store()); err != nil {
			return err
		}
		out.Seen = ownfields.Stamp(out.Fields)
		values, err := store.OwnValues(ctx, v.Store(), 0)
		for _, x := range values {
			i := slices.IndexFunc(out.Held, func(c OwnCount) bool { return c.Field == x.FieldID })
			if i < 0 {
				out.Held = append(out.Held, OwnCount{Field: x.FieldID})
				i = len(out.Held) - 1
			}
			out.Held[i].Students++
		}
		return err
	})
}

// OwnShown is what is shown beside a student's name.
type OwnShown struct {
	Student ids.Student `json:"student"`
	Marks   []OwnMark   `json:"marks"`
}

// OwnMark is one field that holds something.
type OwnMark struct {
	Name  string `json:"name"`
	Icon  string `json:"icon"`
	Words string `json:"words"`
}

// OwnShownIn returns what fields hold that are shown in a place, for who sees them: of a teacher's own
// students alone.
func OwnShownIn(ctx context.Context, o *work.Office, p work.Person, where string) ([]OwnShown, error) {
	out := []OwnShown{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		fields, err := ownfields.All(ctx, v.Store())
		if err != nil {
			return err
		}
		shown := map[ids.OwnField]ownfields.OwnField{}
		for _, f := range fields {
			if !f.Retired && f.SeenBy(p) && slices.Contains(f.Shown, where) {
				shown[f.ID] = f
			}
		}
		if len(shown) == 0 {
			return nil
		}
		values, err := store.OwnValues(ctx, v.Store(), 0)
		if err != nil {
			return err
		}
		for _, x := range values {
			f, is := shown[x.FieldID]
			if !is || v.MaySee(p, x.StudentID) != nil {
				continue
			}
			if n := len(out); n == 0 || out[n-1].Student != x.StudentID {
				out = append(out, OwnShown{Student: x.StudentID, Marks: []OwnMark{}})
			}
			last := &out[len(out)-1]
			last.Marks = append(last.Marks, OwnMark{f.Name, f.Icon, f.Kind.Words(x.Value)})
		}
		return nil
	})
	return out, err
}

// OwnLine is a field with what it holds of a student.
type OwnLine struct {
	Field     ids.OwnField  `json:"field"`
	Name      string        `json:"name"`
	Kind      ownfield.Kind `json:"kind" enum:"text,choice,date,time span,number"`
	Choices   []string      `json:"choices"`
	Icon      string        `json:"icon"`
	Value     string        `json:"value" doc:"Empty for nothing"`
	Words     string        `json:"words"`
	By        string        `json:"by" doc:"Who set it and when; empty for nothing"`
	MayChange bool          `json:"mayChange"`
}

// OwnOf returns what fields hold of a student, for who sees the fields and the student.
func OwnOf(ctx context.Context, o *work.Office, p work.Person, student ids.Student) ([]OwnLine, error) {
	out := []OwnLine{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		if _, err := v.Student(student); err != nil {
			return err
		}
		if err := v.MaySee(p, student); err != nil {
			return err
		}
		fields, err := ownfields.All(ctx, v.Store())
		if err != nil {
			return err
		}
		values, err := store.OwnValues(ctx, v.Store(), student)
		if err != nil {
			return err
		}
		for _, f := range fields {
			if f.Retired || !f.SeenBy(p) {
				continue
			}
			line := OwnLine{Field: f.ID, Name: f.Name, Kind: f.Kind, Choices: append([]string{}, f.Choices...), Icon: f.Icon, MayChange: f.ChangedBy(p)}
			for _, x := range values {
				if x.FieldID == f.ID {
					line.Value, line.Words, line.By = x.Value, f.Kind.Words(x.Value), x.By+" "+x.Known.Date().Spoken()
				}
			}
			out = append(out, line)
		}
		return nil
	})
	return out, err
}

// OwnGroups offers, of each field to choose from that a person sees, those for whom something is chosen.
func OwnGroups(ctx context.Context, o *work.Office, p work.Person) ([]Choice, error) {
	out := []Choice{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		fields, err := ownfields.All(ctx, v.Store())
		if err != nil {
			return err
		}
		values, err := store.OwnValues(ctx, v.Store(), 0)
		if err != nil {
			return err
		}
		for _, f := range fields {
			if f.Retired || f.Kind != ownfield.Choice || !f.SeenBy(p) {
				continue
			}
			for _, c := range f.Choices {
				if slices.ContainsFunc(values, func(x store.OwnValue) bool { return x.FieldID == f.ID && x.Value == c }) {
					out = append(out, Choice{Value: fmt.Sprintf("own:%d:%s", f.ID, c), Label: f.Name + ": " + c, Kind: "own field"})
				}
			}
		}
		return nil
	})
	return out, err
}

// ownGroup returns the students for whom something is chosen in a field, as a group, for who sees the
// field; own is its number and what is chosen.
func ownGroup(ctx context.Context, q store.Queryer, p work.Person, own string) (string, error) {
	number, chosen, _ := strings.Cut(own, ":")
	fields, err := ownfields.All(ctx, q)
	if err != nil {
		return "", err
	}
	i := slices.IndexFunc(fields, func(f ownfields.OwnField) bool { return fmt.Sprint(f.ID) == number && f.SeenBy(p) })
	if i < 0 {
		return "", work.NotFoundf("there is no such field")
	}
	values, err := store.OwnValues(ctx, q, 0)
	if err != nil {
		return "", err
	}
	var students []string
	for _, x := range values {
		if x.FieldID == fields[i].ID && x.Value == chosen {
			students = append(students, fmt.Sprint(x.StudentID))
		}
	}
	return "students:" + strings.Join(students, ",") + " " + fields[i].Name + ": " + chosen, nil
}

// KeepOwn writes what fields hold of a group's students, those that the person sees, as a file that can
// be imported again.
func KeepOwn(ctx context.Context, o *work.Office, p work.Person, group, format string) (File, error) {
	list := sheet.List{Title: "Own fields", Columns: []sheet.Column{{Heading: "number", Width: 12}, {Heading: "student", Width: 26}, {Heading: "form", Width: 14}}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		students, words, err := GroupOf(v, nil, v.On, group)
		if err != nil {
			return err
		}
		list.About = []string{"As at " + v.On.Spoken(), words, "Holds data of students: keep it where nobody else can read it"}
		fields, err := ownfields.All(ctx, v.Store())
		if err != nil {
			return err
		}
		fields = slices.DeleteFunc(fields, func(f ownfields.OwnField) bool { return f.Retired || !f.SeenBy(p) })
		values, err := store.OwnValues(ctx, v.Store(), 0)
		if err != nil {
			return err
		}
		held := map[ids.Student]map[ids.OwnField]string{}
		for _, x := range values {
			if held[x.StudentID] == nil {
				held[x.StudentID] = map[ids.OwnField]string{}
			}
			held[x.StudentID][x.FieldID] = x.Value
		}
		for _, f := range fields {
			list.Columns = append(list.Columns, sheet.Column{Heading: f.Name, Width: 18, Date: f.Kind == ownfield.Date})
		}
		for _, s := range students {
			row := []string{s.Number, s.Name(), v.School.Form(s.ID, v.On)}
			for _, f := range fields {
				row = append(row, held[s.ID][f.ID])
			}
			list.Rows = append(list.Rows, row)
		}
		return nil
	})
	if err != nil {
		return File{}, err
	}
	return ListFile("own-fields", list, format)
}

package frame

import (
	"context"
	"strings"

	"meldung/pages"
	"meldung/work"
)

// FoundStudent is a student that a search found.
type FoundStudent struct {
	Student  pages.StudentRef `json:"student"`
	Place    pages.Place      `json:"place"`
	Through  string           `json:"through" doc:"The contact by whom the student was found; empty for none"`
	Warnings []string         `json:"warnings"`
}

// FindStudents returns the best matches for a search, at most limit.
func FindStudents(ctx context.Context, o *work.Office, p work.Person, query, asAt string, limit int) ([]FoundStudent, error) {
	out := []FoundStudent{}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		for i, f := range v.Find(p, strings.Fields(query), m.Date) {
			if i == limit {
				break
			}
			out = append(out, foundStudent(v, x, f, m))
		}
		return nil
	})
	return out, err
}

func foundStudent(v work.Snapshot, x *work.Day, f work.Match, m work.Moment) FoundStudent {
	return FoundStudent{Student: pages.Student(v, f.Student, m.Date), Place: pages.PlaceOf(v.Position(x, f.Student.ID, m)), Through: f.Through, Warnings: pages.Warnings(v.School.WarningsOf(f.Student.ID))}
}

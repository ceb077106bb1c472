package followuppage

import (
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/work"
	"meldung/work/caseload"
)

// CaseLine is a case in a line, wherever its student is shown.
type CaseLine struct {
	ID      ids.Case `json:"id"`
	Open    bool     `json:"open"`
	MayRead bool     `json:"mayRead"`
	Text    string   `json:"text" doc:"In whose hands it is and when it is looked at next, or how it ended"`
}

// StudentCases are a student's cases, the last first, and in whose hands another could be.
type StudentCases struct {
	Cases     []CaseLine       `json:"cases"`
	Owners    []pages.OwnerRef `json:"owners"`
	MayChange bool             `json:"mayChange"`
}

// CasesOf lists the cases of one student as at a moment.
func CasesOf(ctx context.Context, o *work.Office, p work.Person, student ids.Student, asAt string) (StudentCases, error) {
	out := StudentCases{Cases: []CaseLine{}, Owners: []pages.OwnerRef{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		if _, err := v.Student(student); err != nil {
			return err
		}
		readers, err := caseload.ReadersFor(ctx, v.Store(), p)
		if err != nil {
			return err
		}
		words, err := caseload.Words(ctx, v.Store())
		if err != nil {
			return err
		}
		all, err := caseload.Cases(ctx, v.Store(), m.Known)
		if err != nil {
			return err
		}
		for _, c := range slices.Backward(all) {
			if c.StudentID != student {
				continue
			}
			out.Cases = append(out.Cases, CaseLine{c.ID, c.Open(), readers.May(c.Last().Kept, c.Last().OwnerID), caseWords(c, words, m)})
		}
		out.MayChange = m.Live && p.May(work.MayChangeCase)
		out.Owners, err = pages.Owners(ctx, v, p)
		return err
	})
	return out, err
}

// caseWords say how a case stands: "in the hands of Maren Ase, next Thu 12 March".
func caseWords(c caseload.Case, words caseload.Vocabulary, m work.Moment) string {
	last := c.Last()
	if !c.Open() {
		return work.Join(", ", "closed "+pages.SpokenBy(last.Known.Date(), m.Date)+" by "+last.By, words.Name(last.End))
	}
	out := "in the hands of " + last.Owner
	if last.NextDate != nil {
		out += map[bool]string{false: ", next ", true: ", waits until "}[c.WaitsOn(m.Date)] + pages.SpokenBy(*last.NextDate, m.Date)
	}
	return out
}

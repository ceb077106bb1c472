package outlooks

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/activityfile"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// ImportActivity says what activity.csv would add, and adds it when asked to. What is there already stays as it is.
func ImportActivity(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "activity imported"}
	return plans.Run(ctx, o, job, opt, &activity{files: files})
}

type activity struct {
	files table.Files
	add   []store.LearningActivity
}

// activityKey is by what one is told from another.
type activityKey struct {
	student ids.Student
	source  string
	at      day.Instant // −1 for none
	kind    string
}

func keyOf(a store.LearningActivity) activityKey {
	k := activityKey{a.StudentID, a.Source, -1, a.Kind}
	if a.At != nil {
		k.at = *a.At
	}
	return k
}

func (c *activity) Plan(ctx context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	rows, problems := activityfile.Read(c.files)
	c.add = nil
	of := map[string]ids.Student{}
	for _, s := range v.School.Students {
		of[s.SourcedID] = s.ID
	}
	known, err := store.LearningActivities(ctx, v.Store(), v.Now.Date()+1)
	if err != nil {
		return plans.Plan{}, v.School.Records().Rows, err
	}
	had := map[activityKey]bool{}
	for _, a := range known {
		had[keyOf(a)] = true
	}
	part := plans.PlanPart{What: "activity"}
	sources := map[string]bool{}
	for _, r := range rows {
		id := of[r.Student]
		switch {
		case id == 0:
			problems = append(problems, table.Problem{File: activityfile.Name, Line: r.Line, Text: "there is no student " + r.Student})
			continue
		case r.At != nil && *r.At > v.Now:
			problems = append(problems, table.Problem{File: activityfile.Name, Line: r.Line, Text: r.At.String() + " has not come yet"})
			continue
		}
		a := store.LearningActivity{StudentID: id, Source: r.Source, At: r.At, Kind: r.Kind}
		sources[r.Source] = true
		if had[keyOf(a)] {
			part.Same++
			continue
		}
		had[keyOf(a)] = true
		part.Added++
		c.add = append(c.add, a)
	}
	p := plans.New(problems, nil)
	p.When = "at all times"
	p.Parts = append(p.Parts, part)
	p.Note("%s", work.Count(len(sources), "source"))
	return p, v.School.Records().Rows, nil
}

func (c *activity) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	for i := range c.add {
		c.add[i].JournalID = tx.Entry
	}
	return store.AddLearningActivities(ctx, tx.Tx, c.add)
}

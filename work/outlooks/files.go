package outlooks

import (
	"bytes"
	"context"

	"meldung/core/day"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// Import says what a history of past students holds, and takes it in the place of the one before when asked to.
// An outlook that is on goes off by it: it has to be read anew first.
func Import(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "past students imported"}
	return plans.Run(ctx, o, job, opt, &fromFile{files: files})
}

type fromFile struct {
	files   table.Files
	content []byte
}

func (c *fromFile) Plan(ctx context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	content, there := c.files[HistoryFile]
	c.content = nil
	if !there {
		return plans.New([]table.Problem{{File: HistoryFile, Text: "the file is missing"}}, nil), v.School.Records().Rows, nil
	}
	h, wrong := Check(content)
	p := plans.New(wrong, nil)
	p.When = "at all times"
	had, err := store.LastHistory(ctx, v.Store())
	if err != nil || h == nil {
		return p, v.School.Records().Rows, err
	}
	part := plans.PlanPart{What: "past student"}
	switch {
	case had == nil:
		part.Added = len(h.Rows) + h.LeftOut
		c.content = content
	case bytes.Equal(had.Content, content):
		part.Same = len(h.Rows) + h.LeftOut
	default:
		part.Changed = len(h.Rows) + h.LeftOut
		c.content = content
		p.Note("They take the place of those of %s", had.Known.Date().Spoken())
	}
	left := 0
	for _, r := range h.Rows {
		if r.Outcome {
			left++
		}
	}
	p.Note("%d of %d left without finishing; %d more are left out, since something is missing", left, len(h.Rows), h.LeftOut)
	if r, err := RuleOf(ctx, v.Store()); err != nil {
		return p, v.School.Records().Rows, err
	} else if r.On && c.content != nil {
		p.Note("The outlook is off until an administrator has read what these say, under Concerns, Outlook")
	}
	p.Parts = append(p.Parts, part)
	return p, v.School.Records().Rows, nil
}

func (c *fromFile) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	if c.content == nil {
		return nil
	}
	return store.SetHistory(ctx, tx.Tx, c.content, tx.Entry)
}

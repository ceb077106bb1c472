package coursework

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/oneroster"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// fileItems are the items and scores of files that are to be written.
type fileItems struct {
	saved  []store.LineItem // new and changed
	ended  []ids.LineItem
	scores []fileScore // new and changed
	over   []int64     // scores that these take the place of, or that are to go
}

// fileScore is a score whose item may have no number yet.
type fileScore struct {
	store.ItemScore
	item string
}

// planItems says what the items and scores of OneRoster would change. A score takes the place of the one
// before, which stays on record; a row that the files lack stays.
func (c *fromFiles) planItems(ctx context.Context, v work.Snapshot, p *plans.Plan) error {
	c.items = fileItems{}
	there, err := store.LineItems(ctx, v.Store())
	if err != nil {
		return err
	}
	known := map[string]store.LineItem{}
	for _, x := range there {
		known[x.SourcedID] = x
	}
	book := oneroster.ReadGradebook(c.files, func(item string) bool { _, ok := known[item]; return ok })
	p.Add(book.Problems, book.Notes)
	c.planLineItems(v, p, book.Items, known)
	return c.planScores(ctx, v, p, book.Scores, known)
}

func (c *fromFiles) planLineItems(v work.Snapshot, p *plans.Plan, items []oneroster.LineItem, known map[string]store.LineItem) {
	classes := map[string]store.Class{}
	for _, x := range v.School.Classes {
		classes[x.SourcedID] = x
	}
	part := plans.PlanPart{What: "item"}
	for _, x := range items {
		was, there := known[x.ID]
		if x.Gone {
			if there {
				part.Ended++
				c.items.ended = append(c.items.ended, was.ID)
				p.Detail("take back item %s, %s", x.ID, was.Title)
			}
			continue
		}
		class, ok := classes[x.Class]
		if !ok {
			p.Wrong("%s:%d: the school has no class %q", oneroster.LineItems, x.Line, x.Class)
			continue
		}
		row := store.LineItem{ID: was.ID, SourcedID: x.ID, Title: x.Title, ClassID: class.ID, Category: x.Category, Assigned: x.Assigned, Due: x.Due, Least: x.Min, Most: x.Max, Journal: was.Journal}
		switch {
		case !there:
			part.Added++
			p.Detail("add item %s, %s, to %s", x.ID, x.Title, class.Title)
		case sameItem(row, was):
			part.Same++
			continue
		default:
			part.Changed++
			p.Detail("change item %s, %s of %s", x.ID, was.Title, class.Title)
		}
		c.items.saved = append(c.items.saved, row)
	}
	p.Parts = append(p.Parts, part)
}

func sameItem(a, b store.LineItem) bool {
	same := sameDate(a.Assigned, b.Assigned) && sameDate(a.Due, b.Due)
	a.Assigned, a.Due, b.Assigned, b.Due = nil, nil, nil, nil
	return same && a == b
}

func sameDate(a, b *day.Date) bool { return (a == nil) == (b == nil) && (a == nil || *a == *b) }

func (c *fromFiles) planScores(ctx context.Context, v work.Snapshot, p *plans.Plan, scores []oneroster.Score, items map[string]store.LineItem) error {
	there, err := store.ItemScores(ctx, v.Store(), v.Now.Date())
	if err != nil {
		return err
	}
	type pair struct {
		item    ids.LineItem
		student ids.Student
	}
	stands, byID := map[pair]store.ItemScore{}, map[string]store.ItemScore{}
	for _, x := range there {
		stands[pair{x.ItemID, x.StudentID}], byID[x.SourcedID] = x, x
	}
	students := map[string]store.Student{}
	for _, s := range v.School.Students {
		students[s.SourcedID] = s
	}
	part := plans.PlanPart{What: "score"}
	for _, x := range scores {
		if x.Gone {
			if was, ok := byID[x.ID]; ok {
				part.Ended++
				c.items.over = append(c.items.over, was.ID)
				p.Detail("take back the score of %s, %s", v.School.StudentOf(was.StudentID).Name(), x.ID)
			}
			continue
		}
		s, ok := students[x.Student]
		if !ok {
			p.Wrong("%s:%d: the school has no student %q", oneroster.Results, x.Line, x.Student)
			continue
		}
		row := fileScore{store.ItemScore{ItemID: items[x.Item].ID, StudentID: s.ID, SourcedID: x.ID, Status: x.Status, Score: x.Score, Scored: x.Date, Comment: x.Comment, Date: v.Now.Date()}, x.Item}
		was, known := stands[pair{row.ItemID, s.ID}]
		switch {
		case !known:
			part.Added++
		case was.Status == x.Status && was.Score == x.Score && was.Comment == x.Comment && sameDate(was.Scored, x.Date):
			part.Same++
			continue
		default:
			part.Changed++
			c.items.over = append(c.items.over, was.ID)
			p.Detail("change the score of %s in %s from %s to %s", s.Name(), x.Item, scoreWords(was.Status, was.Score), scoreWords(x.Status, x.Score))
		}
		c.items.scores = append(c.items.scores, row)
	}
	p.Parts = append(p.Parts, part)
	return nil
}

func scoreWords(status, score string) string { return strings.TrimSpace(status + " " + score) }

func (f fileItems) write(ctx context.Context, tx *work.Tx) error {
	made := map[string]ids.LineItem{}
	for _, x := range f.saved {
		if x.Journal == 0 {
			x.Journal = tx.Entry
		}
		id, err := store.SaveLineItem(ctx, tx.Tx, x)
		if err != nil {
			return err
		}
		made[x.SourcedID] = id
	}
	for _, id := range f.ended {
		if err := store.EndLineItem(ctx, tx.Tx, id, tx.Entry); err != nil {
			return err
		}
	}
	rows := make([]store.ItemScore, len(f.scores))
	for i, x := range f.scores {
		rows[i] = x.ItemScore
		rows[i].Journal = tx.Entry
		if rows[i].ItemID == 0 {
			rows[i].ItemID = made[x.item]
		}
	}
	return store.AddItemScores(ctx, tx.Tx, rows, f.over, tx.Entry)
}

// Piece is a piece of work as a student stands with it.
type Piece struct {
	Item  store.LineItem
	Score *store.ItemScore // nil while there is none
	State results.ItemState
	Share *policy.Fraction
}

// Pieces returns the pieces of work that a student's classes had been given by a date, what was due last
// first and what has no date at the end. What was due while the student was not in the class is not theirs.
func Pieces(ctx context.Context, v work.Snapshot, student ids.Student, d day.Date) ([]Piece, error) {
	all, err := items(ctx, v, d)
	if err != nil {
		return nil, err
	}
	var out []Piece
	for _, e := range v.School.EnrollmentsOf(student) {
		for _, x := range all.of[e.ClassID] {
			if x.Assigned != nil && *x.Assigned > d || !e.On(dueOr(x, d)) {
				continue
			}
			p := Piece{Item: x}
			var have results.Score
			if s, ok := all.scores[scoreKey{x.ID, student}]; ok {
				p.Score = &s
				have.Exempt = s.Status == "exempt"
				have.Handed = s.Status != "not submitted" && !have.Exempt
				if n, err := policy.ParseDecimal(s.Score); err == nil {
					have.Points = &n
				}
			}
			item := results.Item{Title: x.Title, Due: x.Due}
			if n, err := policy.ParseDecimal(x.Most); err == nil {
				item.Most = n
			}
			p.State, p.Share = item.Stands(have, d)
			out = append(out, p)
		}
	}
	slices.SortStableFunc(out, func(a, b Piece) int {
		switch x, y := a.Item.Due, b.Item.Due; {
		case x == nil || y == nil:
			return cmp.Compare(noDate(x), noDate(y))
		default:
			return cmp.Compare(*y, *x)
		}
	})
	return out, nil
}

func noDate(d *day.Date) int {
	if d == nil {
		return 1
	}
	return 0
}

// dueOr is when an item belonged to who was in the class: its due date, or the date looked at.
func dueOr(x store.LineItem, d day.Date) day.Date {
	if x.Due != nil && *x.Due < d {
		return *x.Due
	}
	return d
}

type scoreKey struct {
	item    ids.LineItem
	student ids.Student
}

type itemsOn struct {
	of     map[ids.Class][]store.LineItem
	scores map[scoreKey]store.ItemScore
}

// items reads every item with its scores, and remembers them until something of them changes.
func items(ctx context.Context, v work.Snapshot, d day.Date) (*itemsOn, error) {
	return work.Remember(v, "pieces of work "+d.String(), []string{"line_item", "item_score"}, func() (*itemsOn, error) {
		out := &itemsOn{of: map[ids.Class][]store.LineItem{}, scores: map[scoreKey]store.ItemScore{}}
		all, err := store.LineItems(ctx, v.Store())
		if err != nil {
			return nil, err
		}
		for _, x := range all {
			out.of[x.ClassID] = append(out.of[x.ClassID], x)
		}
		scores, err := store.ItemScores(ctx, v.Store(), d)
		if err != nil {
			return nil, err
		}
		for _, x := range scores {
			out.scores[scoreKey{x.ItemID, x.StudentID}] = x
		}
		return out, nil
	})
}

package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"strconv"
	"strings"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// pieces of work that each class of English is given in the present quarter, in points out of 20.
var pieces = []struct {
	title, category string
	assigned, due   day.Date
}{
	{"Reading journal", "Written work", day.MustDate("2026-02-02"), day.MustDate("2026-02-13")},
	{"Essay on the harbour", "Written work", day.MustDate("2026-02-23"), day.MustDate("2026-03-06")},
	{"Speech", "Spoken work", day.MustDate("2026-03-02"), day.MustDate("2026-03-20")},
}

// addPieces gives the classes of English their pieces of work: some students hand nothing in, Perran Hask
// neither of two.
func (p *people) addPieces(ctx context.Context, tx *sqlx.Tx, last day.Date, journal ids.Entry) error {
	var scores []store.ItemScore
	for _, class := range p.school.Classes {
		if class.Form() || !strings.Contains(class.Title, "En") {
			continue
		}
		for n, piece := range pieces {
			if piece.assigned > last {
				continue
			}
			row := store.LineItem{SourcedID: fmt.Sprintf("%s-%d", class.SourcedID, n+1), Title: piece.title, ClassID: class.ID, Category: piece.category, Assigned: &piece.assigned, Due: &piece.due, Least: "0", Most: "20", Journal: journal}
			item, err := store.SaveLineItem(ctx, tx, row)
			if err != nil {
				return err
			}
			if piece.due > last {
				continue
			}
			for _, e := range p.school.Enrollments {
				if e.ClassID != class.ID || !e.On(piece.due) {
					continue
				}
				r := rand.New(rand.NewPCG(seed+9, uint64(e.StudentID)*10+uint64(n)))
				points := min(20, max(3, int(14+r.NormFloat64()*4)))
				if r.IntN(12) == 0 || p.nameOf(e.StudentID) == "Perran Hask" {
					continue
				}
				scores = append(scores, store.ItemScore{ItemID: item, StudentID: e.StudentID, SourcedID: fmt.Sprintf("%s-%d", row.SourcedID, e.StudentID), Status: "fully graded", Score: strconv.Itoa(points), Scored: &piece.due, Date: piece.due, Journal: journal})
			}
		}
	}
	return store.AddItemScores(ctx, tx, scores, nil, journal)
}

func (p *people) nameOf(student ids.Student) string {
	for _, s := range p.school.Students {
		if s.ID == student {
			return s.Name()
		}
	}
	return ""
}

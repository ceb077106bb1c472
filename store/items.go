package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// LineItem is a piece of work that a class was given. Numbers are as they are written.
type LineItem struct {
	ID        ids.LineItem `db:"id"`
	SourcedID string       `db:"sourced_id"`
	Title     string       `db:"title"`
	ClassID   ids.Class    `db:"class_id"`
	Category  string       `db:"category"`
	Assigned  *day.Date    `db:"assigned"`
	Due       *day.Date    `db:"due"`
	Least     string       `db:"least"`
	Most      string       `db:"most"`
	Journal   ids.Entry    `db:"journal_id"`
}

// ItemScore is what a student has of an item.
type ItemScore struct {
	ID        int64        `db:"id"`
	ItemID    ids.LineItem `db:"item_id"`
	StudentID ids.Student  `db:"student_id"`
	SourcedID string       `db:"sourced_id"`
	Status    string       `db:"status"` // exempt, fully graded, not submitted, partially graded or submitted
	Score     string       `db:"score"`
	Scored    *day.Date    `db:"scored"`
	Comment   string       `db:"comment"`
	Date      day.Date     `db:"date"` // on which it was stored
	Journal   ids.Entry    `db:"journal_id"`
}

// LineItems returns the items that stand, in the order in which they came.
func LineItems(ctx context.Context, q Queryer) ([]LineItem, error) {
	return list[LineItem](ctx, q, `SELECT id, sourced_id, title, class_id, category, assigned, due, least, most, journal_id FROM line_item WHERE ended_by IS NULL ORDER BY id`)
}

// ItemScores returns every score as it stood at the end of a date.
func ItemScores(ctx context.Context, q Queryer, d day.Date) ([]ItemScore, error) {
	return list[ItemScore](ctx, q, `SELECT x.id, x.item_id, x.student_id, x.sourced_id, x.status, x.score, x.scored, x.comment, x.date, x.journal_id
		FROM item_score x LEFT JOIN journal e ON e.id = x.ended_by WHERE x.date <= ? AND (e.id IS NULL OR e.known >= ?) ORDER BY x.id`, d, day.At(d+1, day.Midnight))
}

// SaveLineItem writes an item; one that was taken back stands again.
func SaveLineItem(ctx context.Context, tx *sqlx.Tx, i LineItem) (ids.LineItem, error) {
	var made ids.LineItem
	rows, err := tx.NamedQuery(`INSERT INTO line_item (sourced_id, title, class_id, category, assigned, due, least, most, journal_id)
		VALUES (:sourced_id, :title, :class_id, :category, :assigned, :due, :least, :most, :journal_id)
		ON CONFLICT (sourced_id) DO UPDATE SET title = excluded.title, class_id = excluded.class_id, category = excluded.category, assigned = excluded.assigned, due = excluded.due, least = excluded.least, most = excluded.most, ended_by = NULL
		RETURNING id`, i)
	if err != nil {
		return 0, err
	}
	defer rows.Close()
	for rows.Next() {
		if err := rows.Scan(&made); err != nil {
			return 0, err
		}
	}
	return made, rows.Err()
}

// EndLineItem takes an item back; it stays on record.
func EndLineItem(ctx context.Context, tx *sqlx.Tx, id ids.LineItem, entry ids.Entry) error {
	_, err := tx.ExecContext(ctx, `UPDATE line_item SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, entry, id)
	return err
}

// AddItemScores writes scores; those that they take the place of end, and stay on record with their date.
func AddItemScores(ctx context.Context, tx *sqlx.Tx, rows []ItemScore, ended []int64, entry ids.Entry) error {
	for _, id := range ended {
		if _, err := tx.ExecContext(ctx, `UPDATE item_score SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, entry, id); err != nil {
			return err
		}
	}
	return inBatches(ctx, tx, `INSERT INTO item_score (item_id, student_id, sourced_id, status, score, scored, comment, date, journal_id)
		VALUES (:item_id, :student_id, :sourced_id, :status, :score, :scored, :comment, :date, :journal_id)`, rows)
}

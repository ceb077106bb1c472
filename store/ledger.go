package store

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/sync/errgroup"

	"meldung/core/day"
	"meldung/core/ids"
)

// SlotMarks are the marks in force of one slot of one date, by student.
type SlotMarks struct {
	Date  day.Date
	Slot  string
	Marks []LedgerMark
}

// slotRow is what the database makes of a slot: lists of equal length, since a row for each
// mark costs four times as much. They are in the order of the table's key, by student and version.
type slotRow struct {
	date                            day.Date
	slot                            string
	students, classes, codes, times string
}

// unit separates codes, which may hold any letter but this.
const unit = "\x1f"

const slotQuery = `SELECT date, slot, group_concat(student_id), group_concat(class_id), group_concat(code, char(31)),
	group_concat(CASE WHEN away_from IS NULL AND away_to IS NULL THEN '' ELSE coalesce(away_from, '') || ' ' || coalesce(away_to, '') END) FROM mark WHERE date BETWEEN ? AND ? GROUP BY date, slot`

// EachSlot gives the marks in force of some dates, slot by slot in the order of their dates. The
// database reads on while a slot is looked at, so yield must not ask q for anything.
func EachSlot(ctx context.Context, q Queryer, on day.Dates, yield func(SlotMarks) error) error {
	read := make(chan slotRow, slotsAhead)
	both, within := errgroup.WithContext(ctx)
	both.Go(func() error {
		defer close(read)
		rows, err := q.QueryContext(within, slotQuery, on.From, on.To)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			var r slotRow
			if err := rows.Scan(&r.date, &r.slot, &r.students, &r.classes, &r.codes, &r.times); err != nil {
				return err
			}
			select {
			case read <- r:
			case <-within.Done():
				return within.Err()
			}
		}
		return rows.Err()
	})
	both.Go(func() error {
		for r := range read {
			s, err := r.inForce()
			if err != nil {
				return fmt.Errorf("reading the marks of %s in %s: %w", r.date, r.slot, err)
			}
			if err := yield(s); err != nil {
				return err
			}
		}
		return nil
	})
	return both.Wait()
}

const slotsAhead = 8 // slots that are read while one is looked at

// inForce takes the lists apart and keeps the last version of each student's mark.
func (r slotRow) inForce() (SlotMarks, error) {
	out := SlotMarks{Date: r.date, Slot: r.slot}
	codes := strings.Split(r.codes, unit)
	students, err := numbers(r.students, len(codes))
	if err != nil {
		return out, err
	}
	classes, err := numbers(r.classes, len(codes))
	if err != nil {
		return out, err
	}
	times := strings.Split(r.times, ",")
	if len(times) != len(codes) {
		return out, fmt.Errorf("%d times for %d marks", len(times), len(codes))
	}
	out.Marks = make([]LedgerMark, 0, len(codes))
	inOrder := true
	for i, student := range students {
		m := LedgerMark{Date: r.date, Slot: r.slot, StudentID: ids.Student(student), ClassID: ids.Class(classes[i]), Code: codes[i]}
		if times[i] != "" {
			if m.AwayFrom, m.AwayTo, err = minutes(times[i]); err != nil {
				return out, err
			}
		}
		n := len(out.Marks)
		switch {
		case n > 0 && out.Marks[n-1].StudentID == m.StudentID:
			out.Marks[n-1] = m // a later version
			continue
		case n > 0 && out.Marks[n-1].StudentID > m.StudentID:
			inOrder = false
		}
		out.Marks = append(out.Marks, m)
	}
	if !inOrder {
		return SlotMarks{}, fmt.Errorf("the database gave the marks out of their order")
	}
	return out, nil
}

// numbers reads so many whole numbers with commas between them.
func numbers(text string, n int) ([]int64, error) {
	out := make([]int64, 0, n)
	for part := range strings.SplitSeq(text, ",") {
		x, err := strconv.ParseInt(part, 10, 64)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	if len(out) != n {
		return nil, fmt.Errorf("%d numbers for %d marks", len(out), n)
	}
	return out, nil
}

// minutes reads the times of a mark, either of which may be empty.
func minutes(text string) (from, to day.Minute, err error) {
	for i, part := range slices.Collect(strings.SplitSeq(text, " ")) {
		if part == "" {
			continue
		}
		n, err := strconv.Atoi(part)
		if err != nil {
			return from, to, err
		}
		m, err := day.AtMinute(n)
		if err != nil {
			return from, to, err
		}
		if i == 0 {
			from = m
		} else {
			to = m
		}
	}
	return from, to, nil
}

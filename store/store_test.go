package store_test

import (
	"errors"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/store"
)

var date = day.MustDate("2026-03-10")

// small opens a store with one student in one class.
func small(t *testing.T) *store.Store {
	s, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	require.NoError(t, s.Write(t.Context(), func(tx *sqlx.Tx) error {
		return store.AddSchool(t.Context(), tx, store.School{
			Courses:  []store.Course{{ID: 1, SourcedID: "c", Title: "Registration"}},
			Classes:  []store.Class{{ID: 1, SourcedID: "k", Type: "homeroom", CourseID: 1}},
			Students: []store.Student{{ID: 1, SourcedID: "s", Number: "1", Family: "Øye", Given: "Asta"}},
		})
	}))
	return s
}

func mark(t *testing.T, s *store.Store, version int, code string, known day.Minute) error {
	return s.Write(t.Context(), func(tx *sqlx.Tx) error {
		j, err := store.AddJournal(t.Context(), tx, store.Journal{Known: day.At(date, known), Kind: "test"})
		if err != nil {
			return err
		}
		return store.AddMarks(t.Context(), tx, []store.Mark{{Date: date, Slot: "AM", StudentID: 1, Version: version, ClassID: 1, Code: code, Made: known, Source: "test", Origin: store.Origin{Journal: j.ID}}})
	})
}

func TestAVersionIsNeverWrittenOver(t *testing.T) {
	s := small(t)
	require.NoError(t, mark(t, s, 1, "N", day.MustMinute("08:50")))
	assert.Error(t, mark(t, s, 1, "P", day.MustMinute("08:51")))
	require.NoError(t, mark(t, s, 2, "P", day.MustMinute("09:00")))
	list, err := store.MarksOn(t.Context(), s.Read(), date)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"N", "P"}, []string{list[0].Code, list[1].Code})
	assert.Equal(t, day.At(date, day.MustMinute("09:00")), list[1].Known)
	var last string
	require.NoError(t, store.EachSlot(t.Context(), s.Read(), day.Always, func(x store.SlotMarks) error {
		require.Len(t, x.Marks, 1)
		last = x.Marks[0].Code
		return nil
	}))
	assert.Equal(t, "P", last, "the last one given is in force")
}

func TestAWriteIsKeptWholeOrNotAtAll(t *testing.T) {
	s := small(t)
	err := s.Write(t.Context(), func(tx *sqlx.Tx) error {
		if _, err := store.AddMovement(t.Context(), tx, store.Movement{StudentID: 1, Date: date, Minute: day.MustMinute("08:50"), Kind: "arrived", Origin: store.Origin{Journal: 1}}); err != nil {
			return err
		}
		return errors.New("the line is down")
	})
	assert.Error(t, err)
	list, err := store.MovementsOn(t.Context(), s.Read(), date)
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestReferencesHold(t *testing.T) {
	s := small(t)
	err := s.Write(t.Context(), func(tx *sqlx.Tx) error {
		_, err := store.AddMovement(t.Context(), tx, store.Movement{StudentID: 99, Date: date, Minute: day.MustMinute("08:50"), Kind: "arrived", Origin: store.Origin{Journal: 1}})
		return err
	})
	assert.Error(t, err, "nobody has this id")
}

func TestCheckFindsGapsInTheHistory(t *testing.T) {
	s := small(t)
	require.NoError(t, mark(t, s, 1, "N", day.MustMinute("08:50")))
	wrong, err := s.Check(t.Context(), true)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	require.NoError(t, mark(t, s, 3, "P", day.MustMinute("09:00")))
	wrong, err = s.Check(t.Context(), true)
	require.NoError(t, err)
	require.Len(t, wrong, 1)
	assert.Contains(t, wrong[0], "version 3 of the mark of student 1 on day")
}

func TestARepeatFindsItsAnswer(t *testing.T) {
	s := small(t)
	key := "a key of this test"
	add := func() error {
		return s.Write(t.Context(), func(tx *sqlx.Tx) error {
			j, err := store.AddJournal(t.Context(), tx, store.Journal{Known: day.At(date, day.MustMinute("08:50")), Kind: "test", Key: &key})
			if err != nil {
				return err
			}
			return store.SetAnswer(t.Context(), tx, j.ID, `"done"`)
		})
	}
	before, err := store.Answered(t.Context(), s.Read(), key)
	require.NoError(t, err)
	assert.Nil(t, before)
	require.NoError(t, add())
	assert.Error(t, add(), "a key is there once")
	done, err := store.Answered(t.Context(), s.Read(), key)
	require.NoError(t, err)
	assert.Equal(t, `"done"`, *done.Answer)
}

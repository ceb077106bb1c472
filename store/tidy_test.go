package store_test

import (
	"fmt"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/store"
)

// What only helps for a while goes after it, found by its index; what was done stays.
func TestWhatIsTooOldGoes(t *testing.T) {
	ctx := t.Context()
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	today := day.MustDate("2026-03-10")
	count := func(query string) (n int) {
		require.NoError(t, sqlx.GetContext(ctx, s.Read(), &n, query))
		return n
	}
	require.NoError(t, s.Write(ctx, func(tx *sqlx.Tx) error {
		for n, ago := range []day.Date{500, store.PhonesKept, 31, store.TriesKept, 8, store.AnswersKept, 0} {
			at := day.At(today-ago, day.MustMinute("09:00"))
			key, answer := fmt.Sprintf("key of %d days ago", ago), `{"text":"Idris Quell: ill"}`
			j, err := store.AddJournal(ctx, tx, store.Journal{Known: at, Kind: "call", Key: &key, Answer: &answer, Asked: "x"})
			if err != nil {
				return err
			}
			for _, q := range []string{
				`INSERT INTO student (id, sourced_id, number, family, given) VALUES (?1, 's' || ?1, ?1, 'Family', 'Given')`,
				`INSERT INTO phone (phone, student_id, journal_id) VALUES ('phone ' || ?1, ?1, ?2)`,
			} {
				if _, err := tx.ExecContext(ctx, q, n+1, j.ID); err != nil {
					return err
				}
			}
			if _, err := store.AddWrongTry(ctx, tx, store.WrongTry{Date: today - ago, Minute: day.MustMinute("09:00"), Kind: "code", Phone: "p", Origin: store.Origin{Journal: j.ID}}); err != nil {
				return err
			}
			if _, err := store.AddVisit(ctx, tx, store.Visit{Kind: "visitor", Name: "Hedda Lorne", Firm: "Harbour Works", Date: today - ago, From: day.MustMinute("09:00"), Origin: store.Origin{Journal: j.ID}}); err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `UPDATE journal SET answer = ? WHERE id = ?`, answer, j.ID); err != nil {
				return err
			}
		}
		return store.Tidy(ctx, tx, today)
	}))
	assert.Equal(t, 7, count(`SELECT count(*) FROM journal WHERE key IS NOT NULL`), "what was done stays")
	assert.Equal(t, 2, count(`SELECT count(*) FROM journal WHERE answer IS NOT NULL`))
	assert.Equal(t, 4, count(`SELECT count(*) FROM wrong_try`))
	assert.Equal(t, 5, count(`SELECT count(*) FROM visit WHERE name = 'Hedda Lorne' AND firm <> ''`), "a visitor of long ago has no name any more")
	assert.Equal(t, 7, count(`SELECT count(*) FROM visit`))
	assert.Equal(t, 6, count(`SELECT count(*) FROM phone`), "one has not been used for too long")
}

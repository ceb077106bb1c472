package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Try is one try at handing a message to its carrier.
type Try struct {
	MessageID ids.Message `db:"message_id"`
	N         int         `db:"n"`
	Begun     int64       `db:"begun"` // second since 1970
	Again     *int64      `db:"again"` // second from which it is tried again, 0 for never; nil while it is under way
	Text      string      `db:"words"` // why it has to be tried again
}

const tryColumns = `t.message_id, t.n, t.begun, t.again, t.words`

// MessagesToSend returns the messages of a channel since a date that nothing has become of yet
// and that are to be tried at a second, oldest first, with the number of tries so far.
func MessagesToSend(ctx context.Context, q Queryer, channel string, since day.Date, second int64) (due []Message, tries map[ids.Message]int, err error) {
	out, err := list[Message](ctx, q, `SELECT x.*, `+origin+` FROM message x`+originJoin+`WHERE x.date >= ? AND x.channel = ? AND x.leaves <= ?
		AND NOT EXISTS (SELECT 1 FROM message_event e WHERE e.message_id = x.id)
		AND NOT EXISTS (SELECT 1 FROM message_try t WHERE t.message_id = x.id AND (t.again IS NULL OR t.again = 0 OR t.again > ?))
		ORDER BY x.id`, since, channel, second, second)
	if err != nil {
		return nil, nil, err
	}
	made, err := list[Try](ctx, q, `SELECT `+tryColumns+` FROM message_try t JOIN message x ON x.id = t.message_id WHERE x.date >= ? AND x.channel = ?`, since, channel)
	tries = map[ids.Message]int{}
	for _, t := range made {
		tries[t.MessageID] = max(tries[t.MessageID], t.N)
	}
	return out, tries, err
}

// BeginTry writes that a message is about to be handed over; it reports false where somebody
// else has begun that try, or the message was taken back or failed meanwhile.
func BeginTry(ctx context.Context, tx *sqlx.Tx, t Try) (bool, error) {
	res, err := tx.NamedExecContext(ctx, `INSERT INTO message_try (message_id, n, begun) SELECT :message_id, :n, :begun
		WHERE NOT EXISTS (SELECT 1 FROM message_event e WHERE e.message_id = :message_id) ON CONFLICT DO NOTHING`, t)
	if err != nil {
		return false, fmt.Errorf("beginning to send a message: %w", err)
	}
	n, err := res.RowsAffected()
	return n > 0, err
}

// EndTry writes when a message is tried again, 0 for never, and why.
func EndTry(ctx context.Context, tx *sqlx.Tx, t Try) error {
	_, err := tx.NamedExecContext(ctx, `UPDATE message_try SET again = :again, words = :words WHERE message_id = :message_id AND n = :n`, t)
	return err
}

// TriesUnderWay returns the tries that were begun and not ended.
func TriesUnderWay(ctx context.Context, q Queryer) ([]Try, error) {
	return list[Try](ctx, q, `SELECT `+tryColumns+` FROM message_try t WHERE t.again IS NULL ORDER BY t.message_id`)
}

// TriesOn returns the tries of a date's messages, in their order.
func TriesOn(ctx context.Context, q Queryer, d day.Date) ([]Try, error) {
	return list[Try](ctx, q, `SELECT `+tryColumns+` FROM message_try t JOIN message x ON x.id = t.message_id WHERE x.date = ? ORDER BY t.message_id, t.n`, d)
}

// SetReference keeps what its carrier calls a message.
func SetReference(ctx context.Context, tx *sqlx.Tx, id ids.Message, reference string) error {
	_, err := tx.ExecContext(ctx, `UPDATE message SET reference = ? WHERE id = ?`, reference, id)
	return err
}

// TakeReport keeps that a carrier's report was taken; it reports false for one that was taken
// before.
func TakeReport(ctx context.Context, tx *sqlx.Tx, id string, journal ids.Entry) (bool, error) {
	res, err := tx.ExecContext(ctx, `INSERT INTO carrier_report (id, journal_id) VALUES (?, ?) ON CONFLICT DO NOTHING`, id, journal)
	if err != nil {
		return false, fmt.Errorf("taking a report: %w", err)
	}
	n, err := res.RowsAffected()
	return n > 0, err
}

// MessageByReference returns the message that its carrier calls so; nil for none.
func MessageByReference(ctx context.Context, q Queryer, reference string) (*Message, error) {
	return oneMessage(ctx, q, `x.reference = ? AND x.reference <> ''`, reference)
}

// MessageByID returns a message; nil for none.
func MessageByID(ctx context.Context, q Queryer, id ids.Message) (*Message, error) {
	return oneMessage(ctx, q, `x.id = ?`, id)
}

// LastMessageTo returns the last message of a channel since a date whose address fits; nil for
// none.
func LastMessageTo(ctx context.Context, q Queryer, channel string, since day.Date, fits func(address string) bool) (*Message, error) {
	sent, err := list[struct {
		ID      ids.Message `db:"id"`
		Address string      `db:"address"`
	}](ctx, q, `SELECT id, address FROM message WHERE date >= ? AND channel = ? AND address <> '' ORDER BY id DESC`, since, channel)
	if err != nil {
		return nil, err
	}
	for _, m := range sent {
		if fits(m.Address) {
			return MessageByID(ctx, q, m.ID)
		}
	}
	return nil, nil
}

func oneMessage(ctx context.Context, q Queryer, where string, args ...any) (*Message, error) {
	var m Message
	switch err := sqlx.GetContext(ctx, q, &m, `SELECT x.*, `+origin+` FROM message x`+originJoin+`WHERE `+where+` ORDER BY x.id DESC LIMIT 1`, args...); {
	case errors.Is(err, sql.ErrNoRows):
		return nil, nil
	case err != nil:
		return nil, fmt.Errorf("looking for a message: %w", err)
	}
	return &m, nil
}

// StatesOf returns what has become of a message, oldest first.
func StatesOf(ctx context.Context, q Queryer, id ids.Message) ([]string, error) {
	return list[string](ctx, q, `SELECT state FROM message_event WHERE message_id = ? ORDER BY id`, id)
}

-- +goose Up
ALTER TABLE message ADD COLUMN channel TEXT NOT NULL DEFAULT 'e-mail';

-- What became of a message: as its gateway reports it, or its reader.
CREATE TABLE message_event (
  id         INTEGER PRIMARY KEY,
  message_id INTEGER NOT NULL REFERENCES message (id),
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  state      TEXT NOT NULL CHECK (state IN ('sent', 'delivered', 'failed', 'seen', 'replied')),
  words      TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX message_event_date ON message_event (date);

-- +goose Down
DROP TABLE message_event; ALTER TABLE message DROP COLUMN channel;

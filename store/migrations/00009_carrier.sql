-- +goose Up
-- A try at handing a message to its carrier. It is written before the message leaves, so that
-- one that a stop cuts short is never sent again by itself.
CREATE TABLE message_try (
  message_id INTEGER NOT NULL REFERENCES message (id),
  n          INTEGER NOT NULL,
  begun      INTEGER NOT NULL, -- second since 1970
  again      INTEGER,          -- second from which it is tried again, 0 for never; NULL while it is under way
  words      TEXT NOT NULL DEFAULT '', -- why it has to be tried again
  PRIMARY KEY (message_id, n)
) STRICT, WITHOUT ROWID;
CREATE INDEX message_try_under_way ON message_try (message_id) WHERE again IS NULL;

-- What its carrier calls a message.
ALTER TABLE message ADD COLUMN reference TEXT NOT NULL DEFAULT '';
CREATE INDEX message_reference ON message (reference) WHERE reference <> '';

-- What a carrier has told, by the carrier's own id: each thing once.
CREATE TABLE carrier_report (
  id         TEXT PRIMARY KEY,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE carrier_report; DROP INDEX message_reference; ALTER TABLE message DROP COLUMN reference; DROP TABLE message_try;

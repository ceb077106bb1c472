-- +goose Up
-- Pages that somebody has put first.
CREATE TABLE pin (
  id         INTEGER PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES account (id),
  path       TEXT NOT NULL,
  title      TEXT NOT NULL,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX pin_once ON pin (account_id, path) WHERE ended_by IS NULL;

-- +goose Down
DROP TABLE pin;

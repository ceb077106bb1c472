-- +goose Up
-- What somebody looks at again: a page's address with everything that was chosen, under a name.
CREATE TABLE saved_view (
  id         INTEGER PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES account (id),
  place      TEXT NOT NULL,
  name       TEXT NOT NULL,
  address    TEXT NOT NULL,
  shared     INTEGER NOT NULL DEFAULT 0,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX saved_view_name ON saved_view (account_id, place, name) WHERE ended_by IS NULL;

-- +goose Down
DROP TABLE saved_view;

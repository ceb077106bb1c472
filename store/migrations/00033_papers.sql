-- +goose Up
-- Lists as they are shaped on paper: whose they are, each version of how, and with whom they are shared.
CREATE TABLE paper_list (
  id         INTEGER PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES account (id),
  name       TEXT NOT NULL,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX paper_list_name ON paper_list (account_id, name) WHERE ended_by IS NULL;
CREATE TABLE paper_list_version (
  id         INTEGER PRIMARY KEY,
  list_id    INTEGER NOT NULL REFERENCES paper_list (id),
  setup      TEXT NOT NULL, -- JSON
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX paper_list_version_of ON paper_list_version (list_id);
CREATE TABLE paper_list_reader (
  id         INTEGER PRIMARY KEY,
  list_id    INTEGER NOT NULL REFERENCES paper_list (id),
  account_id INTEGER NOT NULL REFERENCES account (id),
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX paper_list_reader_once ON paper_list_reader (list_id, account_id) WHERE ended_by IS NULL;

-- +goose Down
DROP TABLE paper_list_reader;
DROP TABLE paper_list_version;
DROP TABLE paper_list;

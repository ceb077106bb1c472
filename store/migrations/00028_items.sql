-- +goose Up
-- Pieces of work that classes were given, and what each student has of them, by version.
CREATE TABLE line_item (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  title      TEXT NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  category   TEXT NOT NULL,
  assigned   INTEGER,
  due        INTEGER,
  least      TEXT NOT NULL, -- as written; empty where nothing is said
  most       TEXT NOT NULL,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE item_score (
  id         INTEGER PRIMARY KEY,
  item_id    INTEGER NOT NULL REFERENCES line_item (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  sourced_id TEXT NOT NULL,
  status     TEXT NOT NULL CHECK (status IN ('exempt', 'fully graded', 'not submitted', 'partially graded', 'submitted')),
  score      TEXT NOT NULL, -- as written; empty while there is none
  scored     INTEGER,       -- the date that the file says
  comment    TEXT NOT NULL,
  date       INTEGER NOT NULL, -- on which it was stored
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX item_score_stands ON item_score (student_id, item_id) WHERE ended_by IS NULL;

-- +goose Down
DROP TABLE item_score; DROP TABLE line_item;

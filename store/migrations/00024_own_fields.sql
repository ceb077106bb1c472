-- +goose Up
-- Fields of a school's own on its students, and what they hold: a new row for each change.
CREATE TABLE own_field (
  id         INTEGER PRIMARY KEY,
  place      INTEGER NOT NULL,
  name       TEXT NOT NULL,
  kind       TEXT NOT NULL,
  choices    TEXT NOT NULL DEFAULT '[]',
  icon       TEXT NOT NULL DEFAULT '',
  sees       TEXT NOT NULL DEFAULT '[]',
  changes    TEXT NOT NULL DEFAULT '[]',
  shown      TEXT NOT NULL DEFAULT '[]',
  retired    INTEGER NOT NULL DEFAULT 0,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE own_value (
  id         INTEGER PRIMARY KEY,
  field_id   INTEGER NOT NULL REFERENCES own_field (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  value      TEXT NOT NULL,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX own_value_stands ON own_value (field_id, student_id) WHERE ended_by IS NULL;
CREATE INDEX own_value_of ON own_value (student_id);

-- +goose Down
DROP TABLE own_value;
DROP TABLE own_field;

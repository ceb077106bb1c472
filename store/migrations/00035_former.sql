-- +goose Up
-- What an earlier school has handed on about a student, whole, as it came.
CREATE TABLE former_record (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  school     TEXT NOT NULL,
  made       TEXT NOT NULL, -- by that school: YYYY-MM-DD HH:MM
  digest     TEXT NOT NULL, -- of the archive, so that the same one is told
  archive    BLOB NOT NULL, -- zip; emptied when it is taken off
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX former_record_of ON former_record (student_id);

-- +goose Down
DROP TABLE former_record;

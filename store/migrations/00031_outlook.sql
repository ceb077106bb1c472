-- +goose Up
-- A school's past students, as a file with what is known of each and whether they left without finishing.
CREATE TABLE outlook_history (
  id         INTEGER PRIMARY KEY,
  content    BLOB NOT NULL,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- What a student did on a learning platform or in the library; without a time, that the source knows the student.
CREATE TABLE learning_activity (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  source     TEXT NOT NULL,
  at         INTEGER, -- minutes, as everywhere
  kind       TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX learning_activity_once ON learning_activity (student_id, source, coalesce(at, -1), kind);

-- +goose Down
DROP TABLE learning_activity;
DROP TABLE outlook_history;

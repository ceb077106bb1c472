-- +goose Up
-- A window of minutes in which the students of a class check themselves in.
CREATE TABLE check_in (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  opens      INTEGER NOT NULL, -- minute of the day
  closes     INTEGER NOT NULL,
  question   TEXT NOT NULL DEFAULT '',
  distance   INTEGER NOT NULL DEFAULT 0, -- whether one may attend at a distance
  secret     BLOB NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  ended_by   INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX check_in_date ON check_in (date);

-- A student who has checked in, once a window.
CREATE TABLE check_in_entry (
  check_in_id  INTEGER NOT NULL REFERENCES check_in (id),
  student_id   INTEGER NOT NULL REFERENCES student (id),
  minute       INTEGER NOT NULL,
  answer       TEXT NOT NULL DEFAULT '',
  distance     INTEGER NOT NULL DEFAULT 0,
  phone        TEXT NOT NULL,
  journal_id   INTEGER NOT NULL REFERENCES journal (id),
  confirmed_by INTEGER REFERENCES journal (id),
  PRIMARY KEY (check_in_id, student_id)
) STRICT, WITHOUT ROWID;

-- A phone whose student a teacher has confirmed: it may show that student's record.
CREATE TABLE phone (
  phone      TEXT PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT, WITHOUT ROWID;

-- A code, number or answer that was wrong.
CREATE TABLE wrong_try (
  id          INTEGER PRIMARY KEY,
  date        INTEGER NOT NULL,
  minute      INTEGER NOT NULL,
  check_in_id INTEGER REFERENCES check_in (id),
  kind        TEXT NOT NULL CHECK (kind IN ('code', 'number')),
  phone       TEXT NOT NULL,
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX wrong_try_date ON wrong_try (date);

-- +goose Down
DROP TABLE wrong_try; DROP TABLE phone; DROP TABLE check_in_entry; DROP TABLE check_in;

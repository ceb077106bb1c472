-- +goose Up
-- Who takes a member of staff's registers on a date: in one slot, or in all.
CREATE TABLE stand_in (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  absent_id  INTEGER NOT NULL REFERENCES staff (id),
  staff_id   INTEGER NOT NULL REFERENCES staff (id),
  slot       TEXT NOT NULL DEFAULT '', -- empty: the whole day
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  ended_by   INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX stand_in_date ON stand_in (date);

-- Where a class sits in a room. It is no evidence, and only what holds now is kept.
CREATE TABLE seat (
  class_id   INTEGER NOT NULL REFERENCES class (id),
  room       TEXT NOT NULL,
  student_id INTEGER NOT NULL REFERENCES student (id),
  place      INTEGER NOT NULL, -- counted from the front, row by row
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (class_id, room, student_id),
  UNIQUE (class_id, room, place)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE seat; DROP TABLE stand_in;

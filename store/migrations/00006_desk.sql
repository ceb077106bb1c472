-- +goose Up
-- How home told the school, and the message whose answer it was.
ALTER TABLE notice ADD COLUMN told_how TEXT NOT NULL DEFAULT '';
ALTER TABLE notice ADD COLUMN message_id INTEGER REFERENCES message (id);

-- Who looks and who found, where that is not who wrote it down.
ALTER TABLE search ADD COLUMN searcher TEXT NOT NULL DEFAULT '';
ALTER TABLE search ADD COLUMN found_by TEXT NOT NULL DEFAULT '';

-- Safe arrival can be opened again by hand, with a reason.
ALTER TABLE closing ADD COLUMN reopened INTEGER NOT NULL DEFAULT 0;
ALTER TABLE closing ADD COLUMN reason TEXT NOT NULL DEFAULT '';

-- Students whose homes are not rung until a minute.
CREATE TABLE hold (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  until      INTEGER NOT NULL,
  reason     TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  ended_by   INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX hold_date ON hold (date);
CREATE TABLE hold_student (
  hold_id    INTEGER NOT NULL REFERENCES hold (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  PRIMARY KEY (hold_id, student_id)
) STRICT;

-- A student who is to be fetched from school.
CREATE TABLE fetch (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  reason     TEXT NOT NULL,
  place      TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  ended_by   INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX fetch_date ON fetch (date);

-- The number that was rung, and for a student to be fetched: who comes, and when.
ALTER TABLE call ADD COLUMN phone TEXT NOT NULL DEFAULT '';
ALTER TABLE call ADD COLUMN fetch_id INTEGER REFERENCES fetch (id);
ALTER TABLE call ADD COLUMN collector_id INTEGER REFERENCES contact (id);
ALTER TABLE call ADD COLUMN collector TEXT NOT NULL DEFAULT '';
ALTER TABLE call ADD COLUMN expected INTEGER;

-- A device that students sign themselves in and out on.
CREATE TABLE station (
  id         INTEGER PRIMARY KEY,
  name       TEXT NOT NULL,
  code       TEXT NOT NULL,    -- to be typed once on the device, hashed
  code_until INTEGER NOT NULL, -- instant
  token      TEXT UNIQUE,      -- of the device once it is bound, hashed
  wrong      INTEGER NOT NULL DEFAULT 0,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  bound      INTEGER,          -- instant
  ended_by   INTEGER REFERENCES journal (id)
) STRICT;

-- Who collects a student who leaves, and the station that stored a movement.
ALTER TABLE movement ADD COLUMN collector_id INTEGER REFERENCES contact (id);
ALTER TABLE movement ADD COLUMN collector TEXT NOT NULL DEFAULT '';
ALTER TABLE movement ADD COLUMN station_id INTEGER REFERENCES station (id);
CREATE INDEX movement_day_kind ON movement (date, kind);

-- A pass for a movement. Its number is its id with a check digit.
CREATE TABLE pass (
  id          INTEGER PRIMARY KEY,
  movement_id INTEGER NOT NULL UNIQUE REFERENCES movement (id),
  date        INTEGER NOT NULL,
  journal_id  INTEGER NOT NULL REFERENCES journal (id),
  returned_by INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX pass_date ON pass (date);

-- Messages home, about all the students of a home, and answers that were dealt with
-- without a notice.
ALTER TABLE message ADD COLUMN contact_id INTEGER REFERENCES contact (id);
CREATE TABLE message_student (
  message_id INTEGER NOT NULL REFERENCES message (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  PRIMARY KEY (message_id, student_id)
) STRICT;
CREATE TABLE answer_read (
  message_id INTEGER PRIMARY KEY REFERENCES message (id),
  date       INTEGER NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- Something the office has to mend, done by saying so.
CREATE TABLE mended (
  id         INTEGER PRIMARY KEY,
  call_id    INTEGER NOT NULL UNIQUE REFERENCES call (id),
  note       TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- What a student looks like, for passes; a student without a photo has no row.
CREATE TABLE photo (
  student_id INTEGER PRIMARY KEY REFERENCES student (id),
  picture    BLOB NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- +goose Down
DROP TABLE photo; DROP TABLE mended; DROP TABLE answer_read; DROP TABLE message_student; ALTER TABLE message DROP COLUMN contact_id;
DROP TABLE pass; DROP INDEX movement_day_kind;
ALTER TABLE movement DROP COLUMN station_id; ALTER TABLE movement DROP COLUMN collector; ALTER TABLE movement DROP COLUMN collector_id;
DROP TABLE station;
ALTER TABLE call DROP COLUMN expected; ALTER TABLE call DROP COLUMN collector; ALTER TABLE call DROP COLUMN collector_id;
ALTER TABLE call DROP COLUMN fetch_id; ALTER TABLE call DROP COLUMN phone;
DROP TABLE fetch; DROP TABLE hold_student; DROP TABLE hold;
ALTER TABLE closing DROP COLUMN reason; ALTER TABLE closing DROP COLUMN reopened;
ALTER TABLE search DROP COLUMN found_by; ALTER TABLE search DROP COLUMN searcher;
ALTER TABLE notice DROP COLUMN message_id; ALTER TABLE notice DROP COLUMN told_how;

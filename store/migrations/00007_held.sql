-- +goose Up
-- What can change holds from a date to a date: from_date 0 is from the beginning, to_date
-- NULL without an end. Dates of one thing do not overlap.
CREATE TABLE school_year (
  first_date INTEGER PRIMARY KEY,
  last_date  INTEGER NOT NULL
) STRICT;
INSERT INTO school_year SELECT min(date), max(date) FROM calendar HAVING count(*) > 0;

CREATE TABLE pattern_slot_held (
  pattern   TEXT NOT NULL,
  slot      TEXT NOT NULL,
  starts    INTEGER NOT NULL,
  ends      INTEGER NOT NULL,
  kind      TEXT NOT NULL CHECK (kind IN ('lesson', 'registration')),
  from_date INTEGER NOT NULL DEFAULT 0,
  to_date   INTEGER,
  PRIMARY KEY (pattern, slot, from_date)
) STRICT;
INSERT INTO pattern_slot_held (pattern, slot, starts, ends, kind) SELECT pattern, slot, starts, ends, kind FROM pattern_slot;

-- A sent register keeps its slot's times; those of its marks are its roll.
ALTER TABLE register ADD COLUMN starts INTEGER NOT NULL DEFAULT 0;
ALTER TABLE register ADD COLUMN ends INTEGER NOT NULL DEFAULT 0;
ALTER TABLE register ADD COLUMN kind TEXT NOT NULL DEFAULT 'lesson';
UPDATE register SET starts = p.starts, ends = p.ends, kind = p.kind
  FROM calendar c JOIN pattern_slot p ON p.pattern = c.pattern
  WHERE c.date = register.date AND p.slot = register.slot;
DROP TABLE pattern_slot;
ALTER TABLE pattern_slot_held RENAME TO pattern_slot;

CREATE TABLE timetable_held (
  class_id  INTEGER NOT NULL REFERENCES class (id),
  pattern   TEXT NOT NULL DEFAULT '',
  weekday   INTEGER NOT NULL DEFAULT 0 CHECK (weekday BETWEEN 0 AND 7),
  slot      TEXT NOT NULL,
  room      TEXT NOT NULL DEFAULT '',
  from_date INTEGER NOT NULL DEFAULT 0,
  to_date   INTEGER,
  PRIMARY KEY (class_id, pattern, weekday, slot, from_date)
) STRICT;
INSERT INTO timetable_held (class_id, pattern, weekday, slot, room) SELECT class_id, pattern, weekday, slot, room FROM timetable;
DROP TABLE timetable;
ALTER TABLE timetable_held RENAME TO timetable;

CREATE TABLE class_teacher_held (
  sourced_id TEXT NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  staff_id   INTEGER NOT NULL REFERENCES staff (id),
  main       INTEGER NOT NULL DEFAULT 1,
  from_date  INTEGER NOT NULL DEFAULT 0,
  to_date    INTEGER,
  PRIMARY KEY (class_id, staff_id, from_date)
) STRICT;
INSERT INTO class_teacher_held (sourced_id, class_id, staff_id, main) SELECT sourced_id, class_id, staff_id, main FROM class_teacher;
DROP TABLE class_teacher;
ALTER TABLE class_teacher_held RENAME TO class_teacher;

-- Slots in which a part-time student is due; due in all on dates of which no row holds.
CREATE TABLE student_slot_held (
  student_id INTEGER NOT NULL REFERENCES student (id),
  slot       TEXT NOT NULL,
  weekday    INTEGER NOT NULL DEFAULT 0 CHECK (weekday BETWEEN 0 AND 7),
  from_date  INTEGER NOT NULL DEFAULT 0,
  to_date    INTEGER,
  PRIMARY KEY (student_id, slot, weekday, from_date)
) STRICT;
INSERT INTO student_slot_held (student_id, slot, weekday) SELECT student_id, slot, weekday FROM student_slot;
DROP TABLE student_slot;
ALTER TABLE student_slot_held RENAME TO student_slot;

-- The spans over which a student is on the roll: who leaves and comes back has two.
CREATE TABLE student_span (
  student_id INTEGER NOT NULL REFERENCES student (id),
  from_date  INTEGER NOT NULL,
  to_date    INTEGER,
  PRIMARY KEY (student_id, from_date)
) STRICT;
INSERT INTO student_span SELECT id, enrolled_from, enrolled_to FROM student;

CREATE TABLE student_detail (
  student_id      INTEGER NOT NULL REFERENCES student (id),
  year            TEXT NOT NULL DEFAULT '',
  share_here      TEXT NOT NULL DEFAULT '1',
  share_elsewhere TEXT NOT NULL DEFAULT '0',
  from_date       INTEGER NOT NULL DEFAULT 0,
  to_date         INTEGER,
  PRIMARY KEY (student_id, from_date)
) STRICT;
INSERT INTO student_detail (student_id, year, share_here, share_elsewhere) SELECT id, year, share_here, share_elsewhere FROM student;
ALTER TABLE student DROP COLUMN enrolled_from;
ALTER TABLE student DROP COLUMN enrolled_to;
ALTER TABLE student DROP COLUMN year;
ALTER TABLE student DROP COLUMN share_here;
ALTER TABLE student DROP COLUMN share_elsewhere;

CREATE TABLE class_detail (
  class_id  INTEGER NOT NULL REFERENCES class (id),
  title     TEXT NOT NULL,
  code      TEXT NOT NULL DEFAULT '',
  year      TEXT NOT NULL DEFAULT '',
  room      TEXT NOT NULL DEFAULT '',
  terms     TEXT NOT NULL DEFAULT '',
  from_date INTEGER NOT NULL DEFAULT 0,
  to_date   INTEGER,
  PRIMARY KEY (class_id, from_date)
) STRICT;
-- One that had ended did so at a date that nobody wrote down: after its last register.
INSERT INTO class_detail (class_id, title, code, year, room, terms, to_date)
  SELECT id, title, code, year, room, terms, CASE WHEN ended THEN coalesce((SELECT max(date) FROM register r WHERE r.class_id = class.id), 0) END FROM class;
ALTER TABLE class DROP COLUMN title;
ALTER TABLE class DROP COLUMN code;
ALTER TABLE class DROP COLUMN year;
ALTER TABLE class DROP COLUMN room;
ALTER TABLE class DROP COLUMN terms;
ALTER TABLE class DROP COLUMN ended;

CREATE TABLE enrollment_held (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  from_date  INTEGER NOT NULL,
  to_date    INTEGER,
  UNIQUE (sourced_id, from_date)
) STRICT;
INSERT INTO enrollment_held SELECT id, sourced_id, class_id, student_id, from_date, to_date FROM enrollment;
DROP TABLE enrollment;
ALTER TABLE enrollment_held RENAME TO enrollment;
CREATE INDEX enrollment_class ON enrollment (class_id);
CREATE INDEX enrollment_student ON enrollment (student_id);

CREATE TABLE setting_held (
  name      TEXT NOT NULL,
  from_date INTEGER NOT NULL DEFAULT 0,
  value     TEXT NOT NULL,
  PRIMARY KEY (name, from_date)
) STRICT;
INSERT INTO setting_held (name, value) SELECT name, value FROM setting;
DROP TABLE setting;
ALTER TABLE setting_held RENAME TO setting;

-- A school's own code sets, as they are written. One is never changed: another has another name.
CREATE TABLE code_set (
  name       TEXT PRIMARY KEY,
  text       TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- A school's own policies, as they are written, from a date on; an empty text takes one away.
CREATE TABLE policy_file (
  policy     TEXT NOT NULL,
  from_date  INTEGER NOT NULL,
  text       TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (policy, from_date)
) STRICT;

-- +goose Down
-- The tables before can't hold what these do. This fails, so that nothing is lost.
SELECT there_is_no_way_down;

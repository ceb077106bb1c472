-- +goose Up
-- A section or site of the school: an organisation of the roster of type school. There is
-- one at least. Each has its own calendar, day patterns, settings, codes and policies.
CREATE TABLE section (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  name       TEXT NOT NULL
) STRICT;
INSERT INTO section SELECT 1, coalesce(min(sourced_id), ''), coalesce(min(name), '')
  FROM (SELECT sourced_id, name FROM organisation WHERE type = 'school' ORDER BY id LIMIT 1);

CREATE TABLE school_year_of (
  section_id INTEGER NOT NULL REFERENCES section (id),
  first_date INTEGER NOT NULL,
  last_date  INTEGER NOT NULL,
  PRIMARY KEY (section_id, first_date)
) STRICT;
INSERT INTO school_year_of SELECT 1, first_date, last_date FROM school_year;
DROP TABLE school_year;
ALTER TABLE school_year_of RENAME TO school_year;

CREATE TABLE pattern_slot_of (
  section_id INTEGER NOT NULL REFERENCES section (id),
  pattern    TEXT NOT NULL,
  slot       TEXT NOT NULL,
  starts     INTEGER NOT NULL,
  ends       INTEGER NOT NULL,
  kind       TEXT NOT NULL CHECK (kind IN ('lesson', 'registration')),
  from_date  INTEGER NOT NULL DEFAULT 0,
  to_date    INTEGER,
  PRIMARY KEY (section_id, pattern, slot, from_date)
) STRICT;
INSERT INTO pattern_slot_of SELECT 1, pattern, slot, starts, ends, kind, from_date, to_date FROM pattern_slot;
DROP TABLE pattern_slot;
ALTER TABLE pattern_slot_of RENAME TO pattern_slot;

CREATE TABLE calendar_of (
  section_id     INTEGER NOT NULL REFERENCES section (id),
  date           INTEGER NOT NULL,
  pattern        TEXT NOT NULL,
  term           TEXT NOT NULL DEFAULT '',
  grading_period TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (section_id, date)
) STRICT;
INSERT INTO calendar_of SELECT 1, date, pattern, term, grading_period FROM calendar;
DROP TABLE calendar;
ALTER TABLE calendar_of RENAME TO calendar;

CREATE TABLE student_detail_of (
  student_id      INTEGER NOT NULL REFERENCES student (id),
  section_id      INTEGER NOT NULL REFERENCES section (id),
  year            TEXT NOT NULL DEFAULT '',
  share_here      TEXT NOT NULL DEFAULT '1',
  share_elsewhere TEXT NOT NULL DEFAULT '0',
  from_date       INTEGER NOT NULL DEFAULT 0,
  to_date         INTEGER,
  PRIMARY KEY (student_id, from_date)
) STRICT;
INSERT INTO student_detail_of SELECT student_id, 1, year, share_here, share_elsewhere, from_date, to_date FROM student_detail;
DROP TABLE student_detail;
ALTER TABLE student_detail_of RENAME TO student_detail;

CREATE TABLE class_detail_of (
  class_id   INTEGER NOT NULL REFERENCES class (id),
  section_id INTEGER NOT NULL REFERENCES section (id),
  title      TEXT NOT NULL,
  code       TEXT NOT NULL DEFAULT '',
  year       TEXT NOT NULL DEFAULT '',
  room       TEXT NOT NULL DEFAULT '',
  terms      TEXT NOT NULL DEFAULT '',
  from_date  INTEGER NOT NULL DEFAULT 0,
  to_date    INTEGER,
  PRIMARY KEY (class_id, from_date)
) STRICT;
INSERT INTO class_detail_of SELECT class_id, 1, title, code, year, room, terms, from_date, to_date FROM class_detail;
DROP TABLE class_detail;
ALTER TABLE class_detail_of RENAME TO class_detail;

-- The sections in which a member of staff works.
CREATE TABLE staff_section (
  staff_id   INTEGER NOT NULL REFERENCES staff (id),
  section_id INTEGER NOT NULL REFERENCES section (id),
  PRIMARY KEY (staff_id, section_id)
) STRICT, WITHOUT ROWID;
INSERT INTO staff_section SELECT id, 1 FROM staff;

-- What the whole school has decided stands under section 0, which is none.
CREATE TABLE setting_of (
  section_id INTEGER NOT NULL DEFAULT 0,
  name       TEXT NOT NULL,
  from_date  INTEGER NOT NULL DEFAULT 0,
  value      TEXT NOT NULL,
  PRIMARY KEY (section_id, name, from_date)
) STRICT;
INSERT INTO setting_of SELECT CASE WHEN name IN ('school', 'codes') THEN 1 ELSE 0 END, name, from_date, value FROM setting;
DROP TABLE setting;
ALTER TABLE setting_of RENAME TO setting;

CREATE TABLE policy_file_of (
  section_id INTEGER NOT NULL REFERENCES section (id),
  policy     TEXT NOT NULL,
  from_date  INTEGER NOT NULL,
  text       TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (section_id, policy, from_date)
) STRICT;
INSERT INTO policy_file_of SELECT 1, policy, from_date, text, journal_id FROM policy_file;
DROP TABLE policy_file;
ALTER TABLE policy_file_of RENAME TO policy_file;

-- Each section closes its own safe arrival.
CREATE TABLE closing_of (
  id         INTEGER PRIMARY KEY,
  section_id INTEGER NOT NULL REFERENCES section (id),
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  minute     INTEGER NOT NULL,
  reopened   INTEGER NOT NULL DEFAULT 0,
  reason     TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
INSERT INTO closing_of SELECT id, 1, date, slot, minute, reopened, reason, journal_id FROM closing;
DROP TABLE closing;
ALTER TABLE closing_of RENAME TO closing;
CREATE INDEX closing_date ON closing (date);

-- +goose Down
-- The tables before can't hold what these do. This fails, so that nothing is lost.
SELECT there_is_no_way_down;

-- +goose Up
-- A contact: how it was made and with whom, beside what came of it.
ALTER TABLE followup ADD COLUMN way TEXT NOT NULL DEFAULT 'call';         -- call, message, meeting, visit
ALTER TABLE followup ADD COLUMN with_whom TEXT NOT NULL DEFAULT 'home';   -- home, student, outside
ALTER TABLE followup ADD COLUMN who TEXT NOT NULL DEFAULT '';             -- by name, where it is no contact on file
ALTER TABLE followup ADD COLUMN kept TEXT NOT NULL DEFAULT 'office';      -- for whom the note is: office, leads, owner
ALTER TABLE followup ADD COLUMN sourced_id TEXT NOT NULL DEFAULT '';      -- by which files know it
ALTER TABLE followup ADD COLUMN undone_by INTEGER REFERENCES journal (id);
UPDATE followup SET way = 'meeting' WHERE outcome = 'met';
CREATE INDEX followup_next ON followup (next_date);

-- A case: how it came about, for whom it is, whether its student is on the caseload, and how it ended.
ALTER TABLE student_case ADD COLUMN came_from TEXT NOT NULL DEFAULT 'review'; -- review, concern, step, hand
ALTER TABLE case_change ADD COLUMN kept TEXT NOT NULL DEFAULT 'office';
ALTER TABLE case_change ADD COLUMN weekly INTEGER NOT NULL DEFAULT 0;         -- a session each week
ALTER TABLE case_change ADD COLUMN waits INTEGER NOT NULL DEFAULT 0;          -- until the next date
ALTER TABLE case_change ADD COLUMN end_id INTEGER REFERENCES support_word (id);

-- The kinds of support sessions, and how cases end: the school's own words.
CREATE TABLE support_word (
  id         INTEGER PRIMARY KEY,
  list       TEXT NOT NULL CHECK (list IN ('kind', 'end')),
  name       TEXT NOT NULL,
  belongs    TEXT NOT NULL DEFAULT '', -- of a kind: in, outside, either
  place      INTEGER NOT NULL,
  retired    INTEGER NOT NULL DEFAULT 0,
  journal_id INTEGER REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX support_word_name ON support_word (list, name);
INSERT INTO support_word (list, name, belongs, place) VALUES
  ('kind', 'Mentoring', 'in', 1), ('kind', 'Study help', 'either', 2), ('kind', 'Home visit', 'outside', 3), ('kind', 'Talk', 'either', 4),
  ('end', 'back on track', '', 1), ('end', 'better, and watched', '', 2), ('end', 'no change', '', 3), ('end', 'with another service', '', 4), ('end', 'left the school', '', 5);

-- What is planned in a case.
CREATE TABLE case_step (
  id         INTEGER PRIMARY KEY,
  case_id    INTEGER NOT NULL REFERENCES student_case (id),
  words      TEXT NOT NULL,
  due        INTEGER,
  owner_id   INTEGER NOT NULL REFERENCES account (id),
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX case_step_of ON case_step (case_id);
CREATE TABLE case_step_end (
  id         INTEGER PRIMARY KEY,
  step_id    INTEGER NOT NULL REFERENCES case_step (id),
  done       INTEGER NOT NULL, -- else it was dropped
  words      TEXT NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX case_step_end_of ON case_step_end (step_id);
CREATE TABLE case_document (
  id         INTEGER PRIMARY KEY,
  case_id    INTEGER NOT NULL REFERENCES student_case (id),
  name       TEXT NOT NULL,
  type       TEXT NOT NULL,
  content    BLOB NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX case_document_of ON case_document (case_id);
CREATE TABLE meeting (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  until      INTEGER NOT NULL,
  title      TEXT NOT NULL,
  room       TEXT NOT NULL,
  people     TEXT NOT NULL, -- who is to come, a line each
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX meeting_of ON meeting (student_id);

-- One student's support session, of which the last version that stands holds. Those of one group were one session.
CREATE TABLE support_session (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  sourced_id TEXT NOT NULL, -- by which files know the session of all
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX support_session_of ON support_session (student_id);
CREATE INDEX support_session_name ON support_session (sourced_id);
CREATE TABLE session_version (
  id         INTEGER PRIMARY KEY,
  session_id INTEGER NOT NULL REFERENCES support_session (id),
  group_id   INTEGER NOT NULL, -- the session of the first of them; of those who were parted from it, the entry that did, below 0
  date       INTEGER NOT NULL,
  minute     INTEGER,
  minutes    INTEGER NOT NULL,
  kind_id    INTEGER NOT NULL REFERENCES support_word (id),
  leader_id  INTEGER REFERENCES account (id),
  led_by     TEXT NOT NULL,
  note       TEXT NOT NULL, -- for all of them
  own_note   TEXT NOT NULL, -- for this one
  kept       TEXT NOT NULL,
  gone       INTEGER NOT NULL DEFAULT 0, -- it was taken off
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX session_version_of ON session_version (session_id);
CREATE INDEX session_version_date ON session_version (date);
CREATE TABLE week_reason (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  week       INTEGER NOT NULL, -- its Monday
  words      TEXT NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX week_reason_of ON week_reason (student_id);

-- +goose Down
DROP TABLE week_reason;
DROP TABLE session_version;
DROP TABLE support_session;
DROP TABLE meeting;
DROP TABLE case_document;
DROP TABLE case_step_end;
DROP TABLE case_step;
ALTER TABLE case_change DROP COLUMN end_id;
DROP TABLE support_word;
ALTER TABLE case_change DROP COLUMN waits;
ALTER TABLE case_change DROP COLUMN weekly;
ALTER TABLE case_change DROP COLUMN kept;
ALTER TABLE student_case DROP COLUMN came_from;
DROP INDEX followup_next;
ALTER TABLE followup DROP COLUMN undone_by;
ALTER TABLE followup DROP COLUMN sourced_id;
ALTER TABLE followup DROP COLUMN kept;
ALTER TABLE followup DROP COLUMN who;
ALTER TABLE followup DROP COLUMN with_whom;
ALTER TABLE followup DROP COLUMN way;

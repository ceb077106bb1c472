-- +goose Up
-- A review of those whom the rules find: what it showed stays as it was then.
CREATE TABLE review (
  id          INTEGER PRIMARY KEY,
  section_id  INTEGER NOT NULL REFERENCES section (id),
  date        INTEGER NOT NULL, -- of which day it is
  as_at       INTEGER NOT NULL, -- the last school day that was read
  finished_by INTEGER REFERENCES journal (id),
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX review_of ON review (section_id, date);
CREATE TABLE review_row (
  review_id  INTEGER NOT NULL REFERENCES review (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  rules      INTEGER NOT NULL, -- how many found the student
  found      TEXT NOT NULL,    -- JSON: what they found, with its figures
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (review_id, student_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX review_row_of ON review_row (student_id);

-- A student who is in somebody's hands. What became of it stands in its changes, the latest of which holds.
CREATE TABLE student_case (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  found      TEXT NOT NULL, -- JSON: what the rules found when it was opened
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX student_case_of ON student_case (student_id);
CREATE TABLE case_change (
  id         INTEGER PRIMARY KEY,
  case_id    INTEGER NOT NULL REFERENCES student_case (id),
  kind       TEXT NOT NULL CHECK (kind IN ('opened', 'changed', 'closed', 'reopened')),
  owner_id   INTEGER NOT NULL REFERENCES account (id),
  next_date  INTEGER,
  words      TEXT NOT NULL, -- why, what was said, or how it ended
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX case_change_of ON case_change (case_id);

CREATE TABLE review_decision (
  id         INTEGER PRIMARY KEY,
  review_id  INTEGER NOT NULL REFERENCES review (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  kind       TEXT NOT NULL CHECK (kind IN ('case', 'wait', 'none')),
  until      INTEGER,
  words      TEXT NOT NULL,
  case_id    INTEGER REFERENCES student_case (id),
  as_at      INTEGER NOT NULL, -- when it was decided: what had begun by then was known
  rules      TEXT NOT NULL,    -- JSON: ids of those that found the student then
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX review_decision_of ON review_decision (student_id);

-- What a teacher, or anybody, has to say about a student at the next review.
CREATE TABLE concern_word (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  words      TEXT NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX concern_word_of ON concern_word (student_id);

-- Who was told of a student whom a rule has come to find: once for each stretch.
CREATE TABLE concern_told (
  id         INTEGER PRIMARY KEY,
  rule       TEXT NOT NULL,
  student_id INTEGER NOT NULL REFERENCES student (id),
  as_at      INTEGER NOT NULL, -- when: a stretch that had begun by then is not told again
  account_id INTEGER NOT NULL REFERENCES account (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX concern_told_once ON concern_told (account_id, rule, student_id, as_at);

-- +goose Down
DROP TABLE concern_told;
DROP TABLE concern_word;
DROP TABLE review_decision;
DROP TABLE case_change;
DROP TABLE student_case;
DROP TABLE review_row;
DROP TABLE review;

-- +goose Up
-- A step of a policy about which something was done. What is due is computed from the marks; a row
-- here says of which rule and number, and on which date it then was due.
CREATE TABLE step (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  section_id INTEGER NOT NULL REFERENCES section (id),
  policy     TEXT NOT NULL,
  rule       TEXT NOT NULL, -- a trigger or a ladder of the policy
  do         TEXT NOT NULL DEFAULT '', -- the action that a ladder names
  scope      TEXT NOT NULL DEFAULT '', -- of a ladder
  number     INTEGER NOT NULL DEFAULT 0, -- of a ladder: the late's
  reached    INTEGER NOT NULL,
  title      TEXT NOT NULL, -- what it was called
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX step_student ON step (student_id);

-- What was done about a step, in its order.
CREATE TABLE step_act (
  id         INTEGER PRIMARY KEY,
  step_id    INTEGER NOT NULL REFERENCES step (id),
  kind       TEXT NOT NULL,
  until      INTEGER, -- where put off: the date on which it is due again
  account_id INTEGER REFERENCES account (id), -- where handed: to whom
  words      TEXT NOT NULL DEFAULT '', -- the outcome, or the reason
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX step_act_step ON step_act (step_id);
CREATE INDEX step_act_journal ON step_act (journal_id);

-- A letter that the school writes, and each wording of it in a language; the last one holds.
CREATE TABLE letter_template (
  id         INTEGER PRIMARY KEY,
  name       TEXT NOT NULL,
  retired    INTEGER NOT NULL DEFAULT 0,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE letter_text (
  id          INTEGER PRIMARY KEY,
  template_id INTEGER NOT NULL REFERENCES letter_template (id),
  language    TEXT NOT NULL DEFAULT '', -- empty for the school's own
  version     INTEGER NOT NULL,
  subject     TEXT NOT NULL,
  words       TEXT NOT NULL,
  journal_id  INTEGER NOT NULL REFERENCES journal (id),
  UNIQUE (template_id, language, version)
) STRICT;

-- A letter as it was printed.
CREATE TABLE letter (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  step_id    INTEGER REFERENCES step (id),
  text_id    INTEGER NOT NULL REFERENCES letter_text (id),
  date       INTEGER NOT NULL,
  recipient  TEXT NOT NULL, -- lines of the address
  subject    TEXT NOT NULL,
  words      TEXT NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX letter_student ON letter (student_id);
CREATE INDEX letter_journal ON letter (journal_id);

ALTER TABLE contact ADD COLUMN address TEXT NOT NULL DEFAULT ''; -- lines
ALTER TABLE contact ADD COLUMN language TEXT NOT NULL DEFAULT ''; -- empty for the school's own

-- +goose Down
ALTER TABLE contact DROP COLUMN language;
ALTER TABLE contact DROP COLUMN address;
DROP TABLE letter;
DROP TABLE letter_text;
DROP TABLE letter_template;
DROP TABLE step_act;
DROP TABLE step;

-- +goose Up
-- When lists are made without being asked for, and what was put on its way to the printer or by e-mail.
CREATE TABLE paper_plan (
  id         INTEGER PRIMARY KEY,
  list_id    INTEGER NOT NULL REFERENCES paper_list (id),
  minute     INTEGER NOT NULL,
  weekdays   TEXT NOT NULL, -- JSON, 0 for Sunday; none for every school day
  way        TEXT NOT NULL CHECK (way IN ('printer', 'e-mail')),
  format     TEXT NOT NULL CHECK (format IN ('pdf', 'csv', 'xlsx')),
  sections   TEXT NOT NULL, -- JSON, of which sections; none for all
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX paper_plan_of ON paper_plan (list_id) WHERE ended_by IS NULL;
-- To whom a plan sends.
CREATE TABLE paper_plan_reader (
  plan_id    INTEGER NOT NULL REFERENCES paper_plan (id),
  account_id INTEGER NOT NULL REFERENCES account (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (plan_id, account_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE paper_job (
  id         INTEGER PRIMARY KEY,
  version_id INTEGER NOT NULL REFERENCES paper_list_version (id),
  plan_id    INTEGER REFERENCES paper_plan (id), -- NULL for one that was asked for
  account_id INTEGER NOT NULL REFERENCES account (id), -- who may see what is on it
  way        TEXT NOT NULL CHECK (way IN ('printer', 'e-mail')),
  format     TEXT NOT NULL,
  sections   TEXT NOT NULL,
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL, -- as at when
  message_id INTEGER REFERENCES message (id), -- by which it goes
  state      TEXT NOT NULL CHECK (state IN ('waiting', 'printed', 'failed')), -- of one by e-mail its message says more
  words      TEXT NOT NULL DEFAULT '',
  file       TEXT NOT NULL DEFAULT '', -- in the printer's folder
  settled_by INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX paper_job_once ON paper_job (plan_id, date, account_id) WHERE plan_id IS NOT NULL;
CREATE INDEX paper_job_waiting ON paper_job (id) WHERE state = 'waiting' AND way = 'printer';
CREATE INDEX paper_job_date ON paper_job (date);
CREATE INDEX paper_job_message ON paper_job (message_id) WHERE message_id IS NOT NULL;

-- +goose Down
DROP TABLE paper_job; DROP TABLE paper_plan_reader; DROP TABLE paper_plan;

-- +goose Up
-- Incidents are kept by version: a correction writes a new one and ends the one before. Kinds, places,
-- actions and the names of breaks are the school's own lists.
CREATE TABLE conduct_word (
  id         INTEGER PRIMARY KEY,
  list       TEXT NOT NULL CHECK (list IN ('kind', 'place', 'action', 'break')),
  name       TEXT NOT NULL,
  of_time    TEXT NOT NULL DEFAULT '', -- of a break: which time of the day is called so
  place      INTEGER NOT NULL,
  retired    INTEGER NOT NULL DEFAULT 0,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX conduct_word_name ON conduct_word (list, name) WHERE list <> 'break';
CREATE UNIQUE INDEX conduct_word_time ON conduct_word (of_time) WHERE list = 'break';
INSERT INTO conduct_word (list, name, place, journal_id) SELECT 'kind', kind, row_number() OVER (ORDER BY kind), min(journal_id) FROM incident WHERE kind <> '' GROUP BY kind;
INSERT INTO conduct_word (list, name, place, journal_id) SELECT 'place', place, row_number() OVER (ORDER BY place), min(journal_id) FROM incident WHERE place <> '' GROUP BY place;
INSERT INTO conduct_word (list, name, place, journal_id) SELECT 'action', action, row_number() OVER (ORDER BY action), min(journal_id) FROM incident WHERE action <> '' GROUP BY action;

CREATE TABLE incident_kept (
  id            INTEGER PRIMARY KEY,
  sourced_id    TEXT NOT NULL UNIQUE, -- by which files know it
  account_id    INTEGER REFERENCES account (id), -- who recorded it, where that is an account
  recorded_by   TEXT NOT NULL DEFAULT '',
  taken_back_by INTEGER REFERENCES journal (id),
  why           TEXT NOT NULL DEFAULT '', -- it was taken back
  journal_id    INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE incident_version (
  id          INTEGER PRIMARY KEY,
  incident_id INTEGER NOT NULL REFERENCES incident_kept (id),
  date        INTEGER NOT NULL,
  minute      INTEGER, -- NULL where it is not known
  kind_id     INTEGER REFERENCES conduct_word (id),
  place_id    INTEGER REFERENCES conduct_word (id),
  words       TEXT NOT NULL DEFAULT '',
  ended_by    INTEGER REFERENCES journal (id),
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX incident_version_stands ON incident_version (incident_id) WHERE ended_by IS NULL;
CREATE INDEX incident_version_date ON incident_version (date);
CREATE INDEX incident_version_of ON incident_version (incident_id);
CREATE TABLE incident_person (
  version_id INTEGER NOT NULL REFERENCES incident_version (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  role       TEXT NOT NULL CHECK (role IN ('did it', 'was harmed', 'saw it')),
  PRIMARY KEY (version_id, student_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX incident_person_student ON incident_person (student_id);
CREATE TABLE incident_action (
  version_id INTEGER NOT NULL REFERENCES incident_version (id),
  action_id  INTEGER NOT NULL REFERENCES conduct_word (id),
  by_whom    TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (version_id, action_id)
) STRICT, WITHOUT ROWID;
INSERT INTO incident_kept (id, sourced_id, recorded_by, journal_id) SELECT id, lower(hex(randomblob(8))), recorded_by, journal_id FROM incident;
INSERT INTO incident_version (id, incident_id, date, minute, kind_id, place_id, words, journal_id)
  SELECT i.id, i.id, i.date, i.minute, k.id, p.id, i.words, i.journal_id FROM incident i
  LEFT JOIN conduct_word k ON k.list = 'kind' AND k.name = i.kind LEFT JOIN conduct_word p ON p.list = 'place' AND p.name = i.place;
INSERT INTO incident_person (version_id, student_id, role) SELECT incident_id, student_id, role FROM incident_student;
INSERT INTO incident_action (version_id, action_id) SELECT i.id, w.id FROM incident i JOIN conduct_word w ON w.list = 'action' AND w.name = i.action;
DROP TABLE incident_student;
DROP TABLE incident;
ALTER TABLE incident_kept RENAME TO incident;

-- A change that the school made on a date, before and after which incidents are counted.
CREATE TABLE conduct_change (
  id            INTEGER PRIMARY KEY,
  date          INTEGER NOT NULL,
  name          TEXT NOT NULL,
  taken_back_by INTEGER REFERENCES journal (id),
  journal_id    INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- +goose Down
DROP TABLE conduct_change;

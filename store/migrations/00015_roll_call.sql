-- +goose Up
-- Visitors and staff who signed in, and when they left.
CREATE TABLE visit (
  id          INTEGER PRIMARY KEY,
  kind        TEXT NOT NULL CHECK (kind IN ('visitor', 'staff')),
  staff_id    INTEGER REFERENCES staff (id), -- of staff
  name        TEXT NOT NULL,
  firm        TEXT NOT NULL DEFAULT '',
  host        TEXT NOT NULL DEFAULT '',
  badge       TEXT NOT NULL DEFAULT '',
  date        INTEGER NOT NULL,
  from_minute INTEGER NOT NULL,
  to_minute   INTEGER,
  station_id  INTEGER REFERENCES station (id), -- where they did it themselves
  journal_id  INTEGER NOT NULL REFERENCES journal (id),
  ended_by    INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX visit_date ON visit (date);
CREATE UNIQUE INDEX visit_badge ON visit (date, badge) WHERE badge <> '' AND ended_by IS NULL;

-- Everyone on the premises is to be found. One runs at a time.
CREATE TABLE roll_call (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  second     INTEGER NOT NULL,
  kind       TEXT NOT NULL CHECK (kind IN ('drill', 'real')),
  token      TEXT NOT NULL UNIQUE, -- of whoever began it: a repeat begins no other
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  ended_by   INTEGER REFERENCES journal (id),
  note       TEXT NOT NULL DEFAULT '', -- what was said at its end
  people     INTEGER NOT NULL DEFAULT 0, -- as it ended: how many were on the list,
  open       INTEGER NOT NULL DEFAULT 0, -- and how many of them nobody had found
  half       INTEGER, -- after how many minutes half of them were ticked; none for never
  most       INTEGER, -- nine of ten
  whole      INTEGER  -- all
) STRICT;
CREATE INDEX roll_call_date ON roll_call (date);
CREATE UNIQUE INDEX roll_call_one ON roll_call ((ended_by IS NULL)) WHERE ended_by IS NULL;

-- Who is on the list of a roll call, as it was known when it began, and who was met besides.
CREATE TABLE roll_person (
  roll_call_id INTEGER NOT NULL REFERENCES roll_call (id),
  kind         TEXT NOT NULL CHECK (kind IN ('student', 'staff', 'visitor')),
  person       INTEGER NOT NULL, -- id of a student, a member of staff, a visit
  why          TEXT NOT NULL,
  point        TEXT NOT NULL, -- the meeting point, or the form
  place        TEXT NOT NULL, -- where they should be
  seen         TEXT NOT NULL, -- the last that showed where they were
  journal_id   INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (roll_call_id, kind, person)
) STRICT;

-- Somebody met a person of the list, or knows that they are elsewhere.
CREATE TABLE roll_tick (
  id           INTEGER PRIMARY KEY,
  roll_call_id INTEGER NOT NULL REFERENCES roll_call (id),
  token        TEXT NOT NULL UNIQUE, -- given where it was made: a repeat stores nothing
  kind         TEXT NOT NULL CHECK (kind IN ('student', 'staff', 'visitor')),
  person       INTEGER NOT NULL,
  at           INTEGER NOT NULL, -- instant at which it was made
  second       INTEGER NOT NULL,
  here         INTEGER NOT NULL,
  place        TEXT NOT NULL DEFAULT '', -- where they were met, or are known to be
  how          TEXT NOT NULL CHECK (how IN ('list', 'name', 'card')),
  journal_id   INTEGER NOT NULL REFERENCES journal (id),
  undone_by    INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX roll_tick_of ON roll_tick (roll_call_id, journal_id);
CREATE INDEX roll_tick_journal ON roll_tick (journal_id);
CREATE INDEX roll_tick_person ON roll_tick (person);
CREATE INDEX roll_tick_undone ON roll_tick (undone_by) WHERE undone_by IS NOT NULL;

-- +goose Down
DROP TABLE roll_tick; DROP TABLE roll_person; DROP TABLE roll_call; DROP TABLE visit;

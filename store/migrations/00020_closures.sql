-- +goose Up
-- A date on which a school, or a section of it, was closed against its calendar. The calendar
-- stays as it is, and so do the marks of that date: they enter no figure while the closure stands.
CREATE TABLE closure (
  id         INTEGER PRIMARY KEY,
  section_id INTEGER NOT NULL REFERENCES section (id),
  date       INTEGER NOT NULL,
  reason     TEXT NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX closure_stands ON closure (section_id, date) WHERE undone_by IS NULL;

-- +goose Down
DROP TABLE closure;

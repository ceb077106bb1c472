-- +goose Up
-- Since when a warning is kept no longer: it stays on record, with its document.
ALTER TABLE warning ADD COLUMN ended_by INTEGER REFERENCES journal (id);

-- What a warning goes by: a plan of a doctor, an order of a court.
CREATE TABLE warning_document (
  warning_id INTEGER PRIMARY KEY REFERENCES warning (id) ON DELETE CASCADE,
  name       TEXT NOT NULL,
  type       TEXT NOT NULL CHECK (type IN ('application/pdf', 'image/png', 'image/jpeg')),
  content    BLOB NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- What the school itself has changed about a student's warnings, in words. While nobody has taken
-- a roster's own in their place, an import leaves them as they are and says where it differs.
CREATE TABLE warning_change (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  warning_id INTEGER NOT NULL, -- which an import may have put another in the place of since
  words      TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  taken_by   INTEGER REFERENCES journal (id) -- the import that put the roster's own in their place
) STRICT;
CREATE INDEX warning_change_student ON warning_change (student_id);

-- +goose Down
DROP TABLE warning_change; DROP TABLE warning_document;
ALTER TABLE warning DROP COLUMN ended_by;

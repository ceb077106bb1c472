-- +goose Up
-- A letter may be one that goes by no wording of the school's: a statement of what a student missed.
CREATE TABLE letter_next (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  step_id    INTEGER REFERENCES step (id),
  text_id    INTEGER REFERENCES letter_text (id),
  date       INTEGER NOT NULL,
  recipient  TEXT NOT NULL, -- lines of the address
  subject    TEXT NOT NULL,
  words      TEXT NOT NULL,
  undone_by  INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
INSERT INTO letter_next SELECT id, student_id, step_id, text_id, date, recipient, subject, words, undone_by, journal_id FROM letter;
DROP TABLE letter;
ALTER TABLE letter_next RENAME TO letter;
CREATE INDEX letter_student ON letter (student_id);
CREATE INDEX letter_journal ON letter (journal_id);

-- +goose Down
DELETE FROM letter WHERE text_id IS NULL;

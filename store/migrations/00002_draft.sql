-- +goose Up
-- Marks of a register that is not sent yet, shared by all who have it open. They
-- are work in hand, not evidence: sending the register makes marks of them.
CREATE TABLE draft_mark (
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  code       TEXT NOT NULL, -- empty: taken off again
  time       TEXT NOT NULL DEFAULT '',
  note       TEXT NOT NULL DEFAULT '',
  source     TEXT NOT NULL DEFAULT '',
  made       TEXT NOT NULL DEFAULT '',
  version    INTEGER NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (date, slot, class_id, student_id)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE draft_mark;

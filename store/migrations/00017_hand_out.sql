-- +goose Up
-- What a class is told on the sheet about checking in.
CREATE TABLE check_in_text (
  class_id   INTEGER PRIMARY KEY REFERENCES class (id),
  words      TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

-- +goose Down
DROP TABLE check_in_text;

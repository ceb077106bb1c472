-- +goose Up
-- The rules by which a school finds who needs attention, by version: each is the text of a file with that
-- rule alone. A school that has none uses those that ship.
CREATE TABLE attention_rule (
  id         INTEGER PRIMARY KEY,
  key        TEXT NOT NULL, -- by which files know it
  words      TEXT NOT NULL,
  place      INTEGER NOT NULL,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX attention_rule_stands ON attention_rule (key) WHERE ended_by IS NULL;

-- +goose Down
DROP TABLE attention_rule;

-- +goose Up
-- Students under a name: somebody's own list, or one that others may use too.
CREATE TABLE student_list (
  id         INTEGER PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES account (id),
  name       TEXT NOT NULL,
  shared     INTEGER NOT NULL DEFAULT 0,
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX student_list_name ON student_list (account_id, name) WHERE ended_by IS NULL;
CREATE TABLE student_list_member (
  id         INTEGER PRIMARY KEY,
  list_id    INTEGER NOT NULL REFERENCES student_list (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX student_list_once ON student_list_member (list_id, student_id) WHERE ended_by IS NULL;
CREATE INDEX student_list_of ON student_list_member (student_id);

-- +goose Down
DROP TABLE student_list_member;
DROP TABLE student_list;

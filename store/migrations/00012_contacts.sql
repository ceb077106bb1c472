-- +goose Up
-- What the school itself has changed about a student's contacts, in words. While nobody has taken
-- a roster's own in its place, an import leaves it as it is and says where it differs.
CREATE TABLE contact_change (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  contact_id INTEGER NOT NULL REFERENCES contact (id),
  words      TEXT NOT NULL,
  person     INTEGER NOT NULL DEFAULT 0, -- the contact's name or numbers changed, not only what ties them
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  taken_by   INTEGER REFERENCES journal (id) -- the import that put the roster's own in its place
) STRICT;
CREATE INDEX contact_change_student ON contact_change (student_id);
CREATE INDEX contact_change_contact ON contact_change (contact_id) WHERE taken_by IS NULL;

-- +goose Down
DROP TABLE contact_change;

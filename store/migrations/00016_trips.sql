-- +goose Up
-- Where an activity goes, who leads it and their phone, and on which date it ends.
ALTER TABLE activity ADD COLUMN to_date INTEGER; -- none for the one on which it begins
ALTER TABLE activity ADD COLUMN place TEXT NOT NULL DEFAULT '';
ALTER TABLE activity ADD COLUMN leader TEXT NOT NULL DEFAULT '';
ALTER TABLE activity ADD COLUMN leader_id INTEGER REFERENCES staff (id); -- whose account takes its register
ALTER TABLE activity ADD COLUMN phone TEXT NOT NULL DEFAULT '';

-- When an activity is from and to: the last that is known holds.
CREATE TABLE activity_time (
  id          INTEGER PRIMARY KEY,
  activity_id INTEGER NOT NULL REFERENCES activity (id),
  from_minute INTEGER NOT NULL,
  to_minute   INTEGER NOT NULL,
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX activity_time_of ON activity_time (activity_id);

-- Who is on an activity: one more on the day has an entry of their own, one who stays back ends theirs.
CREATE TABLE activity_member (
  id          INTEGER PRIMARY KEY,
  activity_id INTEGER NOT NULL REFERENCES activity (id),
  student_id  INTEGER NOT NULL REFERENCES student (id),
  journal_id  INTEGER NOT NULL REFERENCES journal (id),
  ended_by    INTEGER REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX activity_member_once ON activity_member (activity_id, student_id) WHERE ended_by IS NULL;
CREATE INDEX activity_member_student ON activity_member (student_id);
INSERT INTO activity_member (activity_id, student_id, journal_id) SELECT s.activity_id, s.student_id, a.journal_id FROM activity_student s JOIN activity a ON a.id = s.activity_id;
DROP TABLE activity_student;

-- Whom the leader of an activity has with them, and whom not.
CREATE TABLE activity_mark (
  id          INTEGER PRIMARY KEY,
  activity_id INTEGER NOT NULL REFERENCES activity (id),
  student_id  INTEGER NOT NULL REFERENCES student (id),
  here        INTEGER NOT NULL,
  date        INTEGER NOT NULL,
  minute      INTEGER NOT NULL,
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX activity_mark_of ON activity_mark (activity_id);
CREATE INDEX activity_mark_student ON activity_mark (student_id);

-- Those who are on an activity have come back, or went home from where it was.
CREATE TABLE activity_back (
  id          INTEGER PRIMARY KEY,
  activity_id INTEGER NOT NULL REFERENCES activity (id),
  date        INTEGER NOT NULL,
  minute      INTEGER NOT NULL,
  home        INTEGER NOT NULL,
  note        TEXT NOT NULL DEFAULT '',
  journal_id  INTEGER NOT NULL REFERENCES journal (id),
  undone_by   INTEGER REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX activity_back_once ON activity_back (activity_id) WHERE undone_by IS NULL;

-- +goose Down
CREATE TABLE activity_student (
  activity_id INTEGER NOT NULL REFERENCES activity (id),
  student_id  INTEGER NOT NULL REFERENCES student (id),
  PRIMARY KEY (activity_id, student_id)
) STRICT;
INSERT INTO activity_student SELECT activity_id, student_id FROM activity_member WHERE ended_by IS NULL;
DROP TABLE activity_back; DROP TABLE activity_mark; DROP TABLE activity_member; DROP TABLE activity_time;
ALTER TABLE activity DROP COLUMN phone; ALTER TABLE activity DROP COLUMN leader_id; ALTER TABLE activity DROP COLUMN leader; ALTER TABLE activity DROP COLUMN place; ALTER TABLE activity DROP COLUMN to_date;

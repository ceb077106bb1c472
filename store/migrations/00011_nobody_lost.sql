-- +goose Up
-- The date that a call was about, where it was another than that on which it was made.
ALTER TABLE call ADD COLUMN about INTEGER;
CREATE INDEX call_about ON call (about) WHERE about IS NOT NULL;
ALTER TABLE call ADD COLUMN undone_by INTEGER REFERENCES journal (id);

-- That a named person knows where a student is, or why a register of a past day was never sent.
CREATE TABLE settling (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  student_id INTEGER REFERENCES student (id), -- NULL for a register
  class_id   INTEGER REFERENCES class (id),   -- of a register
  slot       TEXT NOT NULL DEFAULT '',        -- of a register
  how        TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  undone_by  INTEGER REFERENCES journal (id),
  CHECK ((student_id IS NULL) <> (class_id IS NULL))
) STRICT;
CREATE INDEX settling_date ON settling (date);
CREATE INDEX settling_student ON settling (student_id);
CREATE INDEX settling_journal ON settling (journal_id);

-- What is looked at and stands can be taken back too.
ALTER TABLE settled ADD COLUMN undone_by INTEGER REFERENCES journal (id);

-- Who took a register on paper, where somebody else has entered it.
ALTER TABLE register ADD COLUMN taken_by TEXT NOT NULL DEFAULT '';

-- The second from which a message may leave; until then it can be taken back.
ALTER TABLE message ADD COLUMN leaves INTEGER NOT NULL DEFAULT 0;
CREATE TABLE message_event_of (
  id         INTEGER PRIMARY KEY,
  message_id INTEGER NOT NULL REFERENCES message (id),
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  state      TEXT NOT NULL CHECK (state IN ('sent', 'delivered', 'failed', 'seen', 'replied', 'taken back')),
  words      TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
INSERT INTO message_event_of SELECT * FROM message_event;
DROP TABLE message_event;
ALTER TABLE message_event_of RENAME TO message_event;
CREATE INDEX message_event_date ON message_event (date);
CREATE INDEX message_event_message ON message_event (message_id);

-- Those who are on an activity off the premises are expected back when it ends.
ALTER TABLE activity ADD COLUMN returns INTEGER NOT NULL DEFAULT 0;
UPDATE activity SET returns = 1 WHERE on_site = 0;

-- Searches that nobody has ended.
CREATE INDEX search_open ON search (date) WHERE ended_by IS NULL;
CREATE INDEX activity_date ON activity (date);

-- Reasons that do not say where a student is explain nobody, and are no answer of a home.
UPDATE setting SET value = json_set(value, '$.reasons', json((SELECT json_group_array(json(
    CASE WHEN json_extract(r.value, '$.word') IN ('truant', 'no reason') THEN json_set(r.value, '$.home', json('false'), '$.unknown', json('true')) ELSE r.value END))
  FROM json_each(setting.value, '$.reasons') r)))
WHERE name = 'school' AND json_array_length(value, '$.reasons') > 0;

-- +goose Down
DROP INDEX activity_date; DROP INDEX search_open; ALTER TABLE activity DROP COLUMN returns; ALTER TABLE register DROP COLUMN taken_by; ALTER TABLE message DROP COLUMN leaves; ALTER TABLE settled DROP COLUMN undone_by; DROP TABLE settling;
ALTER TABLE call DROP COLUMN undone_by; DROP INDEX call_about; ALTER TABLE call DROP COLUMN about;

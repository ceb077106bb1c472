-- +goose Up
-- An account that has ended keeps its row, since what it did names it.
ALTER TABLE account ADD COLUMN ended_by INTEGER REFERENCES journal (id);

-- Sessions are kept under the hashes of their tokens from here on.
DELETE FROM sessions;

-- Who looked at what: a row for a look, and none for the same look again shortly after.
CREATE TABLE look (
  id         INTEGER PRIMARY KEY,
  at         INTEGER NOT NULL, -- minute in the school's zone, as in the journal
  account_id INTEGER NOT NULL REFERENCES account (id),
  what       TEXT NOT NULL,
  student_id INTEGER NOT NULL DEFAULT 0, -- 0 for no one student; no reference: the record outlasts the row
  detail     TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX look_at ON look (at);
CREATE INDEX look_student ON look (student_id, at) WHERE student_id <> 0;

-- One row that is written to see whether anything can be.
CREATE TABLE alive (at INTEGER NOT NULL) STRICT;
INSERT INTO alive VALUES (0);

-- A fingerprint of what was asked with a key; empty where there was none yet.
ALTER TABLE journal ADD COLUMN asked TEXT NOT NULL DEFAULT '';

-- What pages and writes look for, by what they look for it with.
CREATE INDEX journal_answered ON journal (known) WHERE answer IS NOT NULL;
CREATE INDEX call_contact ON call (contact_id);
CREATE INDEX call_wrong ON call (id) WHERE outcome = 'wrong number';
CREATE INDEX call_journal ON call (journal_id);
CREATE INDEX movement_journal ON movement (journal_id);
CREATE INDEX notice_journal ON notice (journal_id);
CREATE INDEX fetch_journal ON fetch (journal_id);
CREATE INDEX search_journal ON search (journal_id);
CREATE INDEX hold_journal ON hold (journal_id);
CREATE INDEX settled_journal ON settled (journal_id);
CREATE INDEX followup_journal ON followup (journal_id);
CREATE INDEX message_journal ON message (journal_id);
CREATE INDEX register_journal ON register (journal_id);
CREATE INDEX mark_corrected ON mark (journal_id) WHERE version > 1;

-- +goose Down
DROP INDEX mark_corrected; DROP INDEX register_journal; DROP INDEX message_journal; DROP INDEX followup_journal; DROP INDEX settled_journal;
DROP INDEX hold_journal; DROP INDEX search_journal; DROP INDEX fetch_journal; DROP INDEX notice_journal; DROP INDEX movement_journal; DROP INDEX call_journal; DROP INDEX call_wrong; DROP INDEX call_contact; DROP INDEX journal_answered;
ALTER TABLE journal DROP COLUMN asked;
DROP TABLE alive;
DROP TABLE look; ALTER TABLE account DROP COLUMN ended_by;

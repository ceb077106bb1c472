-- +goose Up

-- What the school has decided, by name; values are JSON.
CREATE TABLE setting (
  name  TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

CREATE TABLE account (
  id        INTEGER PRIMARY KEY,
  username  TEXT NOT NULL UNIQUE,
  name      TEXT NOT NULL,
  role      TEXT NOT NULL CHECK (role IN ('officer', 'pastoral', 'teacher', 'desk', 'leader', 'administrator')),
  staff_id  INTEGER REFERENCES staff (id),
  password  TEXT NOT NULL,
  one_time  INTEGER NOT NULL DEFAULT 0
) STRICT;

-- The session store's own table; its columns are that package's.
CREATE TABLE sessions (
  token  TEXT PRIMARY KEY,
  data   BLOB NOT NULL,
  expiry REAL NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

-- Every write, once: when it became known (minutes of local wall time since
-- 1970), who did it, and the answer that a repeat with the same key gets.
CREATE TABLE journal (
  id         INTEGER PRIMARY KEY,
  known      INTEGER NOT NULL,
  account_id INTEGER REFERENCES account (id),
  kind       TEXT NOT NULL,
  key        TEXT UNIQUE,
  answer     TEXT
) STRICT;
CREATE INDEX journal_known ON journal (known);

CREATE TABLE organisation (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  name       TEXT NOT NULL,
  type       TEXT NOT NULL,
  identifier TEXT NOT NULL DEFAULT '',
  parent     TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE academic_session (
  id          INTEGER PRIMARY KEY,
  sourced_id  TEXT NOT NULL UNIQUE,
  title       TEXT NOT NULL,
  type        TEXT NOT NULL,
  start_date  INTEGER NOT NULL,
  end_date    INTEGER NOT NULL,
  parent      TEXT NOT NULL DEFAULT '',
  school_year TEXT NOT NULL
) STRICT;

CREATE TABLE staff (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  number     TEXT NOT NULL DEFAULT '',
  family     TEXT NOT NULL,
  given      TEXT NOT NULL,
  role       TEXT NOT NULL,
  email      TEXT NOT NULL DEFAULT '',
  phone      TEXT NOT NULL DEFAULT '',
  ended      INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE course (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  title      TEXT NOT NULL,
  code       TEXT NOT NULL DEFAULT '',
  grades     TEXT NOT NULL DEFAULT '',
  subject    TEXT NOT NULL DEFAULT '',
  ended      INTEGER NOT NULL DEFAULT 0
) STRICT;

-- A form is a class of type homeroom.
CREATE TABLE class (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  title      TEXT NOT NULL,
  type       TEXT NOT NULL CHECK (type IN ('homeroom', 'scheduled')),
  course_id  INTEGER NOT NULL REFERENCES course (id),
  code       TEXT NOT NULL DEFAULT '',
  year       TEXT NOT NULL DEFAULT '',
  room       TEXT NOT NULL DEFAULT '',
  terms      TEXT NOT NULL DEFAULT '',
  ended      INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE student (
  id              INTEGER PRIMARY KEY,
  sourced_id      TEXT NOT NULL UNIQUE,
  number          TEXT NOT NULL,
  family          TEXT NOT NULL,
  given           TEXT NOT NULL,
  middle          TEXT NOT NULL DEFAULT '',
  year            TEXT NOT NULL DEFAULT '',
  born            TEXT NOT NULL DEFAULT '',
  card            TEXT NOT NULL DEFAULT '',
  travels         TEXT NOT NULL DEFAULT '',
  email           TEXT NOT NULL DEFAULT '',
  enrolled_from   INTEGER NOT NULL,
  enrolled_to     INTEGER,
  share_here      TEXT NOT NULL DEFAULT '1',
  share_elsewhere TEXT NOT NULL DEFAULT '0'
) STRICT;
CREATE INDEX student_number ON student (number);

-- Slots in which a part-time student is due; a student without rows is due in all.
CREATE TABLE student_slot (
  student_id INTEGER NOT NULL REFERENCES student (id),
  slot       TEXT NOT NULL,
  weekday    INTEGER NOT NULL DEFAULT 0 CHECK (weekday BETWEEN 0 AND 7),
  PRIMARY KEY (student_id, slot, weekday)
) STRICT;

CREATE TABLE warning (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  words      TEXT NOT NULL,
  care_first INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX warning_student ON warning (student_id);

CREATE TABLE contact (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  family     TEXT NOT NULL,
  given      TEXT NOT NULL,
  phone      TEXT NOT NULL DEFAULT '',
  sms        TEXT NOT NULL DEFAULT '',
  email      TEXT NOT NULL DEFAULT '',
  ended      INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE student_contact (
  student_id  INTEGER NOT NULL REFERENCES student (id),
  contact_id  INTEGER NOT NULL REFERENCES contact (id),
  call_order  INTEGER NOT NULL,
  relation    TEXT NOT NULL DEFAULT '',
  may_collect INTEGER NOT NULL DEFAULT 0,
  lives_with  INTEGER NOT NULL DEFAULT 0,
  do_not_call INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (student_id, contact_id)
) STRICT;
CREATE INDEX student_contact_contact ON student_contact (contact_id);

CREATE TABLE enrollment (
  id         INTEGER PRIMARY KEY,
  sourced_id TEXT NOT NULL UNIQUE,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  from_date  INTEGER NOT NULL,
  to_date    INTEGER
) STRICT;
CREATE INDEX enrollment_class ON enrollment (class_id);
CREATE INDEX enrollment_student ON enrollment (student_id);

CREATE TABLE class_teacher (
  sourced_id TEXT NOT NULL UNIQUE,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  staff_id   INTEGER NOT NULL REFERENCES staff (id),
  main       INTEGER NOT NULL DEFAULT 1,
  PRIMARY KEY (class_id, staff_id)
) STRICT;

CREATE TABLE pattern_slot (
  pattern  TEXT NOT NULL,
  slot     TEXT NOT NULL,
  starts   INTEGER NOT NULL,
  ends     INTEGER NOT NULL,
  kind     TEXT NOT NULL CHECK (kind IN ('lesson', 'registration')),
  PRIMARY KEY (pattern, slot)
) STRICT;

CREATE TABLE calendar (
  date           INTEGER PRIMARY KEY,
  pattern        TEXT NOT NULL,
  term           TEXT NOT NULL DEFAULT '',
  grading_period TEXT NOT NULL DEFAULT ''
) STRICT;

-- When a class meets: on days of a pattern, or on a weekday, in a slot.
CREATE TABLE timetable (
  class_id INTEGER NOT NULL REFERENCES class (id),
  pattern  TEXT NOT NULL DEFAULT '',
  weekday  INTEGER NOT NULL DEFAULT 0 CHECK (weekday BETWEEN 0 AND 7),
  slot     TEXT NOT NULL,
  room     TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (class_id, pattern, weekday, slot)
) STRICT;

-- Every version of every mark. The version in force is the highest; a version
-- is never changed or removed.
CREATE TABLE mark (
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  student_id INTEGER NOT NULL REFERENCES student (id),
  version    INTEGER NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  code       TEXT NOT NULL,
  away_from  INTEGER,
  away_to    INTEGER,
  made       INTEGER NOT NULL,
  source     TEXT NOT NULL,
  note       TEXT NOT NULL DEFAULT '',
  reason     TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (date, slot, student_id, version)
) STRICT, WITHOUT ROWID;
CREATE INDEX mark_student ON mark (student_id, date);

CREATE TABLE register (
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  class_id   INTEGER NOT NULL REFERENCES class (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (date, slot, class_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE movement (
  id           INTEGER PRIMARY KEY,
  student_id   INTEGER NOT NULL REFERENCES student (id),
  date         INTEGER NOT NULL,
  minute       INTEGER NOT NULL,
  kind         TEXT NOT NULL CHECK (kind IN ('arrived', 'departed', 'seen')),
  reason       TEXT NOT NULL DEFAULT '',
  note         TEXT NOT NULL DEFAULT '',
  returns      INTEGER,
  journal_id   INTEGER NOT NULL REFERENCES journal (id),
  undone_by    INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX movement_date ON movement (date);
CREATE INDEX movement_student ON movement (student_id);

-- What home said: away from a date and minute to a date and minute.
CREATE TABLE notice (
  id           INTEGER PRIMARY KEY,
  student_id   INTEGER NOT NULL REFERENCES student (id),
  from_date    INTEGER NOT NULL,
  to_date      INTEGER NOT NULL,
  from_minute  INTEGER NOT NULL DEFAULT 0,
  to_minute    INTEGER NOT NULL DEFAULT 1440,
  returns      INTEGER NOT NULL DEFAULT 0,
  reason       TEXT NOT NULL,
  told_by      TEXT NOT NULL DEFAULT '',
  journal_id   INTEGER NOT NULL REFERENCES journal (id),
  withdrawn_by INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX notice_dates ON notice (from_date, to_date);
CREATE INDEX notice_student ON notice (student_id);

CREATE TABLE activity (
  id          INTEGER PRIMARY KEY,
  title       TEXT NOT NULL,
  date        INTEGER NOT NULL,
  from_minute INTEGER NOT NULL,
  to_minute   INTEGER NOT NULL,
  on_site     INTEGER NOT NULL DEFAULT 0,
  journal_id  INTEGER NOT NULL REFERENCES journal (id),
  ended_by    INTEGER REFERENCES journal (id)
) STRICT;
CREATE TABLE activity_student (
  activity_id INTEGER NOT NULL REFERENCES activity (id),
  student_id  INTEGER NOT NULL REFERENCES student (id),
  PRIMARY KEY (activity_id, student_id)
) STRICT;

CREATE TABLE call (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  contact_id INTEGER REFERENCES contact (id),
  outcome    TEXT NOT NULL CHECK (outcome IN ('spoke', 'message', 'no answer', 'wrong number')),
  said       TEXT NOT NULL DEFAULT '',
  note       TEXT NOT NULL DEFAULT '',
  next       INTEGER,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX call_date ON call (date);
CREATE TABLE call_student (
  call_id    INTEGER NOT NULL REFERENCES call (id),
  student_id INTEGER NOT NULL REFERENCES student (id),
  PRIMARY KEY (call_id, student_id)
) STRICT;
CREATE INDEX call_student_student ON call_student (student_id);

-- A search in the building for a student who is on site and not in place.
CREATE TABLE search (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  outcome    TEXT NOT NULL DEFAULT '' CHECK (outcome IN ('', 'found', 'given up')),
  place      TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  ended_by   INTEGER REFERENCES journal (id)
) STRICT;
CREATE INDEX search_date ON search (date);

-- A contradiction that was looked at and stands.
CREATE TABLE settled (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  kind       TEXT NOT NULL,
  note       TEXT NOT NULL DEFAULT '',
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX settled_date ON settled (date);

-- What went out, or would have: the outbox.
CREATE TABLE message (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  kind       TEXT NOT NULL,
  staff_id   INTEGER REFERENCES staff (id),
  class_id   INTEGER REFERENCES class (id),
  student_id INTEGER REFERENCES student (id),
  slot       TEXT NOT NULL DEFAULT '',
  address    TEXT NOT NULL,
  words      TEXT NOT NULL,
  state      TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX message_date ON message (date);

CREATE TABLE closing (
  id         INTEGER PRIMARY KEY,
  date       INTEGER NOT NULL,
  slot       TEXT NOT NULL,
  minute     INTEGER NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX closing_date ON closing (date);

CREATE TABLE incident (
  id          INTEGER PRIMARY KEY,
  date        INTEGER NOT NULL,
  minute      INTEGER NOT NULL,
  place       TEXT NOT NULL,
  kind        TEXT NOT NULL,
  words       TEXT NOT NULL DEFAULT '',
  action      TEXT NOT NULL DEFAULT '',
  recorded_by TEXT NOT NULL DEFAULT '',
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX incident_date ON incident (date);
CREATE TABLE incident_student (
  incident_id INTEGER NOT NULL REFERENCES incident (id),
  student_id  INTEGER NOT NULL REFERENCES student (id),
  role        TEXT NOT NULL CHECK (role IN ('did it', 'was harmed', 'saw it')),
  PRIMARY KEY (incident_id, student_id)
) STRICT;
CREATE INDEX incident_student_student ON incident_student (student_id);

CREATE TABLE grade (
  student_id INTEGER NOT NULL REFERENCES student (id),
  course_id  INTEGER NOT NULL REFERENCES course (id),
  period     TEXT NOT NULL,
  grade      TEXT NOT NULL,
  given      INTEGER NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (student_id, course_id, period)
) STRICT, WITHOUT ROWID;

-- A call or talk about a student's signals, with when to speak again.
CREATE TABLE followup (
  id         INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES student (id),
  date       INTEGER NOT NULL,
  minute     INTEGER NOT NULL,
  contact_id INTEGER REFERENCES contact (id),
  outcome    TEXT NOT NULL,
  note       TEXT NOT NULL DEFAULT '',
  next_date  INTEGER,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE INDEX followup_student ON followup (student_id);

-- +goose Down
DROP TABLE followup; DROP TABLE grade; DROP TABLE incident_student; DROP TABLE incident; DROP TABLE closing;
DROP TABLE message; DROP TABLE settled; DROP TABLE search; DROP TABLE call_student; DROP TABLE call;
DROP TABLE activity_student; DROP TABLE activity; DROP TABLE notice; DROP TABLE movement; DROP TABLE register;
DROP TABLE mark; DROP TABLE timetable; DROP TABLE calendar; DROP TABLE pattern_slot; DROP TABLE class_teacher;
DROP TABLE enrollment; DROP TABLE student_contact; DROP TABLE contact; DROP TABLE warning; DROP TABLE student_slot;
DROP TABLE student; DROP TABLE class; DROP TABLE course; DROP TABLE staff; DROP TABLE academic_session;
DROP TABLE organisation; DROP TABLE journal; DROP TABLE sessions; DROP TABLE account; DROP TABLE setting;

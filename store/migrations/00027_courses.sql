-- +goose Up
-- Course results: what each course counts for, the grading periods in time, and every grade, examination
-- and recovery course, each by version. The rule is the text of its file; none is the usual one.
CREATE TABLE graded_course (
  id          INTEGER PRIMARY KEY,
  key         TEXT NOT NULL UNIQUE, -- by which files know it
  title       TEXT NOT NULL,
  area        TEXT NOT NULL,
  credits     TEXT NOT NULL, -- of a half-year
  core        INTEGER NOT NULL,
  exam_weight TEXT NOT NULL,
  max_credits TEXT NOT NULL, -- empty for no limit
  journal_id  INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE result_period (
  place      INTEGER PRIMARY KEY,
  name       TEXT NOT NULL UNIQUE,
  half       TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE result_rule (
  id         INTEGER PRIMARY KEY,
  words      TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE TABLE result (
  id         INTEGER PRIMARY KEY,
  kind       TEXT NOT NULL CHECK (kind IN ('grade', 'exam', 'recovery')),
  student_id INTEGER NOT NULL REFERENCES student (id),
  course_id  INTEGER NOT NULL REFERENCES graded_course (id),
  period     TEXT NOT NULL,            -- a grading period; of examinations and recoveries a half-year
  at_period  TEXT NOT NULL DEFAULT '', -- when a recovery was
  class      TEXT NOT NULL DEFAULT '',
  value      TEXT NOT NULL,            -- a grade; of a recovery true, false or empty
  date       INTEGER NOT NULL,         -- on which it was stored
  ended_by   INTEGER REFERENCES journal (id),
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;
CREATE UNIQUE INDEX result_stands ON result (student_id, course_id, kind, period, at_period) WHERE ended_by IS NULL;
INSERT INTO graded_course (key, title, area, credits, core, exam_weight, max_credits, journal_id)
  SELECT c.sourced_id, c.title, c.subject, '0.5', 0, '', '', min(g.journal_id) FROM grade g JOIN course c ON c.id = g.course_id GROUP BY c.id;
INSERT INTO result_period (place, name, half, journal_id)
  SELECT n, period, 'half ' || ((n + 1) / 2), journal_id FROM (SELECT row_number() OVER (ORDER BY min(given)) AS n, period, min(journal_id) AS journal_id FROM grade GROUP BY period);
INSERT INTO result (kind, student_id, course_id, period, value, date, journal_id)
  SELECT 'grade', g.student_id, d.id, g.period, replace(g.grade, '−', '-'), g.given, g.journal_id FROM grade g JOIN course c ON c.id = g.course_id JOIN graded_course d ON d.key = c.sourced_id;
DROP TABLE grade;

-- +goose Down
DROP TABLE result; DROP TABLE result_rule; DROP TABLE result_period; DROP TABLE graded_course;

-- +goose Up
-- A date may have been closed for a part of it alone: until a time, or from one on. Slots that lie
-- wholly within it are none then; of others what is left counts.
ALTER TABLE closure ADD COLUMN starts INTEGER;
ALTER TABLE closure ADD COLUMN ends INTEGER;
DROP INDEX closure_stands;
CREATE UNIQUE INDEX closure_stands ON closure (section_id, date, coalesce(starts, -1)) WHERE undone_by IS NULL;

-- +goose Down
DROP INDEX closure_stands;
DELETE FROM closure WHERE starts IS NOT NULL;
ALTER TABLE closure DROP COLUMN starts;
ALTER TABLE closure DROP COLUMN ends;
CREATE UNIQUE INDEX closure_stands ON closure (section_id, date) WHERE undone_by IS NULL;

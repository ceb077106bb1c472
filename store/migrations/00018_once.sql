-- +goose Up
-- A slot whose times are those of a day that was put right, and of no other.
ALTER TABLE pattern_slot ADD COLUMN once INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE pattern_slot DROP COLUMN once;

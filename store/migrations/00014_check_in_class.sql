-- +goose Up
CREATE INDEX check_in_class ON check_in (class_id, date);

-- +goose Down
DROP INDEX check_in_class;

-- +goose Up
-- A room may be asked about by pages of other addresses, as its maker says.

ALTER TABLE rooms ADD COLUMN origins TEXT NOT NULL DEFAULT '' COMMENT 'addresses such as https://game.example, with a space between them';

-- +goose Down
ALTER TABLE rooms DROP COLUMN origins;

-- +goose Up
-- That a service lives is told by a number that it raises; who watches measures with a clock of its own how long it stands still. A
-- service that is followed is fenced, and keeps nothing any more.

ALTER TABLE services
    ADD COLUMN beat   BIGINT  NOT NULL DEFAULT 0 COMMENT 'raised with each sign of life, and with each commit of entries',
    ADD COLUMN fenced BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'its rooms came to others',
    DROP COLUMN until;

-- +goose Down
ALTER TABLE services ADD COLUMN until BIGINT NOT NULL DEFAULT 0, DROP COLUMN fenced, DROP COLUMN beat;

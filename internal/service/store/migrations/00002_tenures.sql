-- +goose Up
-- A seat's key opens it for one tenure only, and a request is done once for as long
-- as its room lives.

ALTER TABLE seat_keys ADD COLUMN tenure BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'the entry in which the seat was taken';

ALTER TABLE journal
    ADD COLUMN tenure  BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'of the actor, when it was done',
    ADD COLUMN asked   BINARY(16) NULL COMMENT 'what was asked for under the id, hashed',
    ADD COLUMN refusal MEDIUMTEXT NULL COMMENT 'why the rest of what was asked for was not done',
    MODIFY COLUMN request VARCHAR(64) NULL COMMENT 'the id the actor gave the request';

UPDATE journal SET request = NULL WHERE request = '';

UPDATE journal later JOIN journal former
    ON former.room = later.room AND former.actor = later.actor AND former.request = later.request AND former.entry < later.entry
    SET later.request = NULL;

ALTER TABLE journal ADD UNIQUE KEY once (room, actor, tenure, request);

-- +goose Down
ALTER TABLE journal DROP KEY once, DROP COLUMN tenure, DROP COLUMN asked, DROP COLUMN refusal;
UPDATE journal SET request = '' WHERE request IS NULL;
ALTER TABLE journal MODIFY COLUMN request VARCHAR(64) NOT NULL;
ALTER TABLE seat_keys DROP COLUMN tenure;

-- +goose Up
-- What nothing needs any more can be found and taken away; names are compared as they are written.

ALTER TABLE maker_files ADD KEY of_hash (hash);
ALTER TABLE pictures ADD COLUMN kept_at BIGINT NOT NULL DEFAULT 0 COMMENT 'when it was last put, milliseconds since 1970';
ALTER TABLE kits MODIFY COLUMN name VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL;
ALTER TABLE rooms
    MODIFY COLUMN name VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    ADD KEY of_kit (kit),
    ADD KEY by_removal (removed_at);
ALTER TABLE bookmarks
    MODIFY COLUMN name VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    ADD KEY of_kit (kit);

-- +goose Down
ALTER TABLE bookmarks DROP KEY of_kit;
ALTER TABLE rooms DROP KEY of_kit, DROP KEY by_removal;
ALTER TABLE pictures DROP COLUMN kept_at;
ALTER TABLE maker_files DROP KEY of_hash;

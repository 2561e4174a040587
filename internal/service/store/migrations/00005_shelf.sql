-- +goose Up
-- An edition is a list of files by the hashes of what is in them. A file is kept once,
-- and a maker who has it need not send it again.

CREATE TABLE file_parts (
    hash       CHAR(64)     CHARACTER SET ascii NOT NULL COMMENT 'SHA-256 of the whole file, hexadecimal',
    part       INT          NOT NULL,
    bytes      MEDIUMBLOB   NOT NULL COMMENT 'a mebibyte a part',
    PRIMARY KEY (hash, part)
);

CREATE TABLE maker_files (
    maker      VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    hash       CHAR(64)     CHARACTER SET ascii NOT NULL,
    size       BIGINT       NOT NULL COMMENT 'bytes',
    created_at BIGINT       NOT NULL,
    PRIMARY KEY (maker, hash)
);

CREATE TABLE edition_files (
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    name       VARCHAR(400) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    hash       CHAR(64)     CHARACTER SET ascii NOT NULL,
    size       BIGINT       NOT NULL,
    PRIMARY KEY (kit, number, name)
);

ALTER TABLE editions
    ADD COLUMN note  VARCHAR(400) NOT NULL DEFAULT '',
    ADD COLUMN cover LONGTEXT     NULL COMMENT 'kit.Cover as JSON: what lists show',
    ADD COLUMN known LONGTEXT     NULL COMMENT 'kit.Known as JSON: what was made of which files';

ALTER TABLE kits
    ADD COLUMN reach      VARCHAR(8) CHARACTER SET ascii NOT NULL DEFAULT 'private' COMMENT 'private, link or listed',
    ADD COLUMN removed_at BIGINT     NULL,
    ADD KEY by_reach (reach, removed_at);

ALTER TABLE rooms
    ADD COLUMN ended      BOOLEAN    NOT NULL DEFAULT FALSE,
    ADD COLUMN removed_at BIGINT     NULL;

-- +goose Down
ALTER TABLE rooms DROP COLUMN ended, DROP COLUMN removed_at;
ALTER TABLE kits DROP KEY by_reach, DROP COLUMN reach, DROP COLUMN removed_at;
ALTER TABLE editions DROP COLUMN note, DROP COLUMN cover, DROP COLUMN known;
DROP TABLE edition_files, maker_files, file_parts;

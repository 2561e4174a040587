-- +goose Up
-- Every table has a primary key and transactions are short, so that the same
-- schema works on a cluster.

CREATE TABLE makers (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    name       VARCHAR(80)  CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci NOT NULL,
    created_at BIGINT       NOT NULL COMMENT 'milliseconds since 1970',
    ended_at   BIGINT       NULL,
    UNIQUE KEY one_name (name)
);

CREATE TABLE maker_keys (
    hash       BINARY(32)   NOT NULL PRIMARY KEY,
    maker      VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    created_at BIGINT       NOT NULL,
    ended_at   BIGINT       NULL,
    used_at    BIGINT       NULL COMMENT 'when it last opened something, to about an hour',
    KEY of_maker (maker)
);

-- A file is kept once, and a maker who has it need not send it again.
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
    PRIMARY KEY (maker, hash),
    KEY of_hash (hash)
);

-- Names are compared as they are written.
CREATE TABLE kits (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    maker      VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    name       VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    reach      VARCHAR(8)   CHARACTER SET ascii NOT NULL DEFAULT 'private' COMMENT 'private, link or listed',
    created_at BIGINT       NOT NULL,
    removed_at BIGINT       NULL,
    UNIQUE KEY one_name (maker, name),
    KEY by_reach (reach, removed_at)
);

-- An edition is a list of files by the hashes of what is in them, and what was made of them.
CREATE TABLE editions (
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    source     BINARY(32)   NOT NULL COMMENT 'SHA-256 over the names and hashes of its files',
    made       LONGTEXT     NOT NULL COMMENT 'kit.Edition as JSON',
    note       VARCHAR(400) NOT NULL,
    cover      LONGTEXT     NOT NULL COMMENT 'kit.Cover as JSON: what lists show',
    known      LONGTEXT     NOT NULL COMMENT 'kit.Known as JSON: what was made of which files',
    created_at BIGINT       NOT NULL,
    PRIMARY KEY (kit, number)
);

CREATE TABLE edition_files (
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    name       VARCHAR(400) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    hash       CHAR(64)     CHARACTER SET ascii NOT NULL,
    size       BIGINT       NOT NULL,
    PRIMARY KEY (kit, number, name)
);

CREATE TABLE pictures (
    address    CHAR(64)     CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'SHA-256 of the bytes, hexadecimal',
    bytes      LONGBLOB     NOT NULL,
    kept_at    BIGINT       NOT NULL DEFAULT 0 COMMENT 'when it was last put, milliseconds since 1970'
);

-- A picture is asked for by one name, in full or small.
CREATE TABLE smaller (
    full       CHAR(64)     CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'the address of a picture',
    small      CHAR(64)     CHARACTER SET ascii NOT NULL COMMENT 'that of the same picture, smaller'
);

CREATE TABLE rooms (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    maker      VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    edition    INT          NOT NULL,
    name       VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    seats      INT          NOT NULL,
    spectators BOOLEAN      NOT NULL,
    passcode   VARBINARY(80) NOT NULL COMMENT 'slow hash, empty: none',
    origins    TEXT         NOT NULL DEFAULT '' COMMENT 'addresses of pages that may ask, such as https://game.example, with a space between them',
    seed       BINARY(32)   NOT NULL COMMENT 'secret until the host ends the game',
    ended      BOOLEAN      NOT NULL DEFAULT FALSE,
    created_at BIGINT       NOT NULL,
    removed_at BIGINT       NULL,
    KEY of_maker (maker, created_at),
    KEY of_kit (kit),
    KEY by_removal (removed_at)
);

-- A request is done once for as long as its room lives.
CREATE TABLE journal (
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    entry      BIGINT       NOT NULL COMMENT 'from 1, without gaps',
    at         BIGINT       NOT NULL,
    actor      INT          NOT NULL,
    tenure     BIGINT UNSIGNED NOT NULL COMMENT 'of the actor, when it was done',
    request    VARCHAR(64)  NULL COMMENT 'the id the actor gave the request',
    asked      BINARY(16)   NULL COMMENT 'what was asked for under the id, hashed',
    refusal    MEDIUMTEXT   NULL COMMENT 'why the rest of what was asked for was not done',
    edits      MEDIUMTEXT   NOT NULL,
    deeds      MEDIUMTEXT   NOT NULL,
    told       BIGINT       NOT NULL COMMENT 'log lines before this entry',
    PRIMARY KEY (room, entry),
    UNIQUE KEY once (room, actor, tenure, request)
);

CREATE TABLE snapshots (
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    entry      BIGINT       NOT NULL,
    state      LONGTEXT     NOT NULL COMMENT 'the table after that entry',
    PRIMARY KEY (room, entry)
);

-- A seat's key opens it for one tenure only.
CREATE TABLE seat_keys (
    hash       BINARY(32)   NOT NULL PRIMARY KEY,
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    seat       INT          NOT NULL COMMENT '0: spectator',
    tenure     BIGINT UNSIGNED NOT NULL COMMENT 'the entry in which the seat was taken',
    name       VARCHAR(80)  NOT NULL,
    created_at BIGINT       NOT NULL,
    KEY of_room (room)
);

-- Tables in use that are kept under a name, for rooms to begin from.
CREATE TABLE bookmarks (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    maker      VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    name       VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    edition    INT          NOT NULL,
    seats      INT          NOT NULL,
    state      LONGTEXT     NOT NULL COMMENT 'the table as JSON, its decks by their editions',
    created_at BIGINT       NOT NULL,
    KEY of_maker (maker, created_at),
    KEY of_kit (kit)
);

-- What the service knows and tells nobody; the same for all that share the records, and in backups.
CREATE TABLE secrets (
    name       VARCHAR(32)  NOT NULL PRIMARY KEY COMMENT 'pictures: by which their names are made of their addresses',
    value      VARBINARY(64) NOT NULL
);

-- Several services may share the records: each room is then held by one of them at a time. That a service lives is told by a
-- number that it raises; who watches measures with a clock of its own how long it stands still. A service that is followed is
-- fenced, and keeps nothing any more.
CREATE TABLE services (
    id         CHAR(26)     CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'another one at each start, and a secret',
    address    VARCHAR(255) CHARACTER SET ascii NOT NULL COMMENT 'where the others reach it',
    beat       BIGINT       NOT NULL DEFAULT 0 COMMENT 'raised with each sign of life, and with each commit of entries',
    fenced     BOOLEAN      NOT NULL DEFAULT FALSE COMMENT 'its rooms came to others'
);

CREATE TABLE holders (
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    service    CHAR(26)     CHARACTER SET ascii NOT NULL,
    epoch      BIGINT       NOT NULL COMMENT 'how often the room came to another service',
    KEY of_service (service)
);

-- +goose Down
DROP TABLE holders, services, secrets, bookmarks, seat_keys, snapshots, journal, rooms, smaller, pictures, edition_files, editions, kits,
    maker_files, file_parts, maker_keys, makers;

-- +goose Up
-- Every table has a primary key and transactions are short, so that the same
-- schema works on a cluster.

CREATE TABLE maker_keys (
    hash       BINARY(32)   NOT NULL PRIMARY KEY,
    name       VARCHAR(80)  NOT NULL,
    created_at BIGINT       NOT NULL COMMENT 'milliseconds since 1970',
    revoked_at BIGINT       NULL
);

CREATE TABLE kits (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    maker      BINARY(32)   NOT NULL COMMENT 'the hash of the maker key that put it',
    name       VARCHAR(160) NOT NULL,
    created_at BIGINT       NOT NULL,
    UNIQUE KEY one_name (maker, name)
);

CREATE TABLE editions (
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    source     BINARY(32)   NOT NULL COMMENT 'SHA-256 of the zip',
    made       LONGTEXT     NOT NULL COMMENT 'kit.Made as JSON',
    created_at BIGINT       NOT NULL,
    PRIMARY KEY (kit, number)
);

CREATE TABLE edition_parts (
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    part       INT          NOT NULL,
    bytes      MEDIUMBLOB   NOT NULL COMMENT 'the zip, a mebibyte a part',
    PRIMARY KEY (kit, number, part)
);

CREATE TABLE pictures (
    address    CHAR(64)     CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'SHA-256 of the bytes, hexadecimal',
    bytes      LONGBLOB     NOT NULL
);

CREATE TABLE rooms (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    maker      BINARY(32)   NOT NULL,
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    edition    INT          NOT NULL,
    name       VARCHAR(160) NOT NULL,
    seats      INT          NOT NULL,
    spectators BOOLEAN      NOT NULL,
    passcode   VARBINARY(80) NOT NULL COMMENT 'slow hash, empty: none',
    seed       BINARY(32)   NOT NULL COMMENT 'secret until the host ends the game',
    created_at BIGINT       NOT NULL,
    KEY of_maker (maker, created_at)
);

CREATE TABLE journal (
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    entry      BIGINT       NOT NULL COMMENT 'from 1, without gaps',
    at         BIGINT       NOT NULL,
    actor      INT          NOT NULL,
    request    VARCHAR(64)  NOT NULL COMMENT 'the id the actor gave the request, or empty',
    edits      MEDIUMTEXT   NOT NULL,
    deeds      MEDIUMTEXT   NOT NULL,
    told       BIGINT       NOT NULL COMMENT 'log lines before this entry',
    PRIMARY KEY (room, entry)
);

CREATE TABLE snapshots (
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    entry      BIGINT       NOT NULL,
    state      LONGTEXT     NOT NULL COMMENT 'the table after that entry',
    PRIMARY KEY (room, entry)
);

CREATE TABLE seat_keys (
    hash       BINARY(32)   NOT NULL PRIMARY KEY,
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    seat       INT          NOT NULL COMMENT '0: spectator',
    name       VARCHAR(80)  NOT NULL,
    created_at BIGINT       NOT NULL,
    KEY of_room (room)
);

-- +goose Down
DROP TABLE seat_keys, snapshots, journal, rooms, pictures, edition_parts, editions, kits, maker_keys;

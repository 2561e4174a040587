-- +goose Up
-- Several services may share the records: each room is then held by one of them at a time.

CREATE TABLE services (
    id         CHAR(26)     CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'another one at each start, and a secret',
    address    VARCHAR(255) CHARACTER SET ascii NOT NULL COMMENT 'where the others reach it',
    until      BIGINT       NOT NULL COMMENT 'when its rooms are free unless it says that it lives, milliseconds since 1970'
);

CREATE TABLE holders (
    room       VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    service    CHAR(26)     CHARACTER SET ascii NOT NULL,
    epoch      BIGINT       NOT NULL COMMENT 'how often the room came to another service',
    KEY of_service (service)
);

-- +goose Down
DROP TABLE holders;
DROP TABLE services;

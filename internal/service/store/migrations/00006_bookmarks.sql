-- +goose Up
-- Tables in use that are kept under a name, for rooms to begin from.

CREATE TABLE bookmarks (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    maker      VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    name       VARCHAR(160) NOT NULL,
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    edition    INT          NOT NULL,
    seats      INT          NOT NULL,
    state      LONGTEXT     NOT NULL COMMENT 'the table as JSON, its decks by their editions',
    created_at BIGINT       NOT NULL,
    KEY of_maker (maker, created_at)
);

-- +goose Down
DROP TABLE bookmarks;

-- +goose Up
-- What must be kept with an edition, a room or a bookmark, because it is named there. Erasing goes by it.

CREATE TABLE edition_pictures (
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    picture    CHAR(64)     CHARACTER SET ascii NOT NULL COMMENT 'its address',
    PRIMARY KEY (kit, number, picture),
    KEY of_picture (picture)
);

CREATE TABLE used_editions (
    used_by    VARCHAR(16)  CHARACTER SET ascii NOT NULL COMMENT 'a room, or a bookmark',
    kit        VARCHAR(16)  CHARACTER SET ascii NOT NULL,
    number     INT          NOT NULL,
    PRIMARY KEY (used_by, kit, number),
    KEY of_edition (kit, number)
);

CREATE TABLE used_pictures (
    used_by    VARCHAR(16)  CHARACTER SET ascii NOT NULL COMMENT 'a room, or a bookmark',
    picture    CHAR(64)     CHARACTER SET ascii NOT NULL COMMENT 'its address',
    PRIMARY KEY (used_by, picture),
    KEY of_picture (picture)
);

-- +goose Down
DROP TABLE edition_pictures, used_editions, used_pictures;

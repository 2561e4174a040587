-- +goose Up
-- A picture is asked for by one name, in full or small.

CREATE TABLE smaller (
    full       CHAR(64)     CHARACTER SET ascii NOT NULL PRIMARY KEY COMMENT 'the address of a picture',
    small      CHAR(64)     CHARACTER SET ascii NOT NULL COMMENT 'that of the same picture, smaller'
);

-- +goose Down
DROP TABLE smaller;

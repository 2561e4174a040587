-- +goose Up
-- What the service knows and tells nobody; the same for all that share the records, and in backups.

CREATE TABLE secrets (
  name  VARCHAR(32) NOT NULL PRIMARY KEY COMMENT 'pictures: by which their names are made of their addresses',
  value VARBINARY(64) NOT NULL
);

-- +goose Down
DROP TABLE secrets;

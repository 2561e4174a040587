-- +goose Up
-- Kits and rooms belong to a maker, who may have several keys, and not to one key.

CREATE TABLE makers (
    id         VARCHAR(16)  CHARACTER SET ascii NOT NULL PRIMARY KEY,
    name       VARCHAR(80)  CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci NOT NULL,
    created_at BIGINT       NOT NULL,
    ended_at   BIGINT       NULL,
    UNIQUE KEY one_name (name)
);

-- Until now each key was somebody of their own.
INSERT INTO makers (id, name, created_at, ended_at)
    SELECT LOWER(LEFT(HEX(k.hash), 12)),
           IF((SELECT COUNT(*) FROM maker_keys other WHERE other.name = k.name) = 1, k.name, CONCAT(LEFT(k.name, 70), ' ', LOWER(LEFT(HEX(k.hash), 6)))),
           k.created_at, k.revoked_at
    FROM maker_keys k;

ALTER TABLE maker_keys
    ADD COLUMN maker VARCHAR(16) CHARACTER SET ascii NOT NULL DEFAULT '',
    ADD COLUMN used_at BIGINT NULL COMMENT 'when it last opened something, to about an hour',
    ADD KEY of_maker (maker);
UPDATE maker_keys SET maker = LOWER(LEFT(HEX(hash), 12));
ALTER TABLE maker_keys DROP COLUMN name, CHANGE COLUMN revoked_at ended_at BIGINT NULL;

ALTER TABLE kits ADD COLUMN owner VARCHAR(16) CHARACTER SET ascii NOT NULL DEFAULT '';
UPDATE kits SET owner = LOWER(LEFT(HEX(maker), 12));
ALTER TABLE kits DROP KEY one_name, DROP COLUMN maker;
ALTER TABLE kits CHANGE COLUMN owner maker VARCHAR(16) CHARACTER SET ascii NOT NULL, ADD UNIQUE KEY one_name (maker, name);

ALTER TABLE rooms ADD COLUMN owner VARCHAR(16) CHARACTER SET ascii NOT NULL DEFAULT '';
UPDATE rooms SET owner = LOWER(LEFT(HEX(maker), 12));
ALTER TABLE rooms DROP KEY of_maker, DROP COLUMN maker;
ALTER TABLE rooms CHANGE COLUMN owner maker VARCHAR(16) CHARACTER SET ascii NOT NULL, ADD KEY of_maker (maker, created_at);

-- +goose Down
ALTER TABLE rooms CHANGE COLUMN maker owner VARCHAR(16) CHARACTER SET ascii NOT NULL, DROP KEY of_maker, ADD COLUMN maker BINARY(32) NOT NULL DEFAULT '';
UPDATE rooms r JOIN maker_keys k ON k.maker = r.owner SET r.maker = k.hash;
ALTER TABLE rooms DROP COLUMN owner, ADD KEY of_maker (maker, created_at);
ALTER TABLE kits CHANGE COLUMN maker owner VARCHAR(16) CHARACTER SET ascii NOT NULL, DROP KEY one_name, ADD COLUMN maker BINARY(32) NOT NULL DEFAULT '';
UPDATE kits r JOIN maker_keys k ON k.maker = r.owner SET r.maker = k.hash;
ALTER TABLE kits DROP COLUMN owner, ADD UNIQUE KEY one_name (maker, name);
ALTER TABLE maker_keys ADD COLUMN name VARCHAR(80) NOT NULL DEFAULT '', CHANGE COLUMN ended_at revoked_at BIGINT NULL, DROP KEY of_maker, DROP COLUMN maker, DROP COLUMN used_at;
DROP TABLE makers;

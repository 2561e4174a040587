-- What a database of schema 1 may hold: a kit with an edition, a room whose journal names it and a picture that was brought, and a bookmark.
INSERT INTO makers (id, name, created_at) VALUES ('m1', 'Ada', 1);
INSERT INTO kits (id, maker, name, created_at) VALUES ('k1', 'm1', 'Marsh Post', 1);
INSERT INTO editions (kit, number, source, made, note, cover, known, created_at) VALUES ('k1', 1, REPEAT('s', 32),
    '{"name":"Marsh Post","seats":2,"decks":[{"key":"weather","name":"weather","veil":{"small":"1111111111111111111111111111111111111111111111111111111111111111","full":"2222222222222222222222222222222222222222222222222222222222222222"},"designs":{},"copies":[]}]}', '', '{}',
    '{"pictures":{"a file":{"small":"3333333333333333333333333333333333333333333333333333333333333333","full":"4444444444444444444444444444444444444444444444444444444444444444"}}}', 1);
INSERT INTO rooms (id, maker, kit, edition, name, seats, spectators, passcode, seed, created_at) VALUES ('r1', 'm1', 'k1', 1, 'Marsh Post', 2, TRUE, '', REPEAT('s', 32), 1);
INSERT INTO journal (room, entry, at, actor, tenure, edits, deeds, told) VALUES
    ('r1', 1, 1, 0, 0, '[{"edit":"deck","after":{"key":"weather","name":"weather","edition":{"kit":"k1","number":1}}}]', '[]', 0),
    ('r1', 2, 2, 1, 1, '[{"edit":"piece","after":{"id":"boat","name":"boat","kind":"token","x":1,"y":1,"faces":[{"small":"5555555555555555555555555555555555555555555555555555555555555555","full":"6666666666666666666666666666666666666666666666666666666666666666"}]}}]', '[]', 0);
INSERT INTO bookmarks (id, maker, name, kit, edition, seats, state, created_at) VALUES ('b1', 'm1', 'Evening', 'k1', 1, 2,
    '{"settings":{"name":"Marsh Post","wide":900,"high":600,"mat":{"small":"7777777777777777777777777777777777777777777777777777777777777777","full":"8888888888888888888888888888888888888888888888888888888888888888"}},"decks":{"weather":{"key":"weather","edition":{"kit":"k1","number":1}}}}', 1);

-- T178 Identity columns:  simple restart option
--# case an identity column restarted
CREATE TABLE t (id INTEGER GENERATED ALWAYS AS IDENTITY, n INTEGER);
INSERT INTO t (n) VALUES (1), (NULL);
ALTER TABLE t ALTER COLUMN id RESTART WITH 100;
INSERT INTO t (n) VALUES (3);
SELECT id FROM t WHERE n = 3;
--> value 100
ALTER TABLE t ALTER COLUMN n RESTART;
--> fails 42704

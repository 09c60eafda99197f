--# session a autocommit on
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER UNIQUE);
INSERT INTO t VALUES (1, 1), (2, 2);
START TRANSACTION;
INSERT INTO t VALUES (3, 3);
--# session b
SELECT COUNT(*) FROM t;
INSERT INTO t VALUES (3, 30);
--# session a
ROLLBACK;
--# session b
INSERT INTO t VALUES (4, 1);
SAVEPOINT s1; UPDATE t SET v = 99 WHERE id = 1; SAVEPOINT s2; DELETE FROM t; ROLLBACK TO s2; SELECT COUNT(*) FROM t; ROLLBACK TO SAVEPOINT s1; ROLLBACK TO s2; SELECT v FROM t WHERE id = 1; RELEASE SAVEPOINT s1; ROLLBACK TO s1;
COMMIT AND CHAIN; START TRANSACTION; SET TRANSACTION READ ONLY; COMMIT; SET TRANSACTION READ ONLY; INSERT INTO t VALUES (9,9); COMMIT; COMMIT;
START TRANSACTION ISOLATION LEVEL REPEATABLE READ; SELECT SUM(v) FROM t;
--# session a
UPDATE t SET v = v + 100 WHERE id = 1; DELETE FROM t WHERE id = 2;
--# session b
SELECT SUM(v) FROM t; SELECT v FROM t WHERE id = 2; SELECT v FROM t WHERE v = 1; UPDATE t SET v = 0 WHERE id = 1;
SELECT SUM(v) FROM t;
--# session a
START TRANSACTION; SELECT * FROM t WHERE id = 1 FOR UPDATE;
--# session b
DELETE FROM t WHERE v > 50;
--# session c patience 3s
INSERT INTO t VALUES (1, 5);
--# session d
UPDATE t SET v = 7 WHERE id = 1;
--# wait 5s
--# session a
UPDATE t SET v = 40 WHERE id = 1; COMMIT;
--# session b
SELECT * FROM t ORDER BY id; COMMIT;
--# session d
SELECT * FROM t ORDER BY id;
--# session c
SELECT 1;
CREATE PROCEDURE told(OUT n INTEGER) SET n = 5; CALL told(?);
-- a key whose first part is a word, and another unique key
CREATE TABLE tariff (kind VARCHAR(10), n INTEGER, code CHAR(2) UNIQUE, v INTEGER, PRIMARY KEY (kind, n));
INSERT INTO tariff VALUES ('unique', 5, 'U5', 1), ('other', 5, 'O5', 1);
COMMIT;
UPDATE tariff SET v = 2, code = 'X5' WHERE kind = 'unique';
--# session b
UPDATE tariff SET v = 3 WHERE n = 5;
--# session c
ROLLBACK;
--# session b
ROLLBACK;
-- many rows put in at once, of which another session wants one, and then another one
--# session main
INSERT INTO tariff SELECT 'many', n, NULL, 0 FROM (WITH RECURSIVE s(n) AS (VALUES 1 UNION ALL SELECT n + 1 FROM s WHERE n < 25) SELECT n FROM s) AS s;
--# session b
INSERT INTO tariff VALUES ('many', 7, NULL, 1);
--# session c
INSERT INTO tariff VALUES ('many', 8, NULL, 1);
--# session main
UPDATE tariff SET v = v + 1 WHERE kind = 'many' AND n IN (6, 7);
ROLLBACK;
--# session c
ROLLBACK;
--# session b
INSERT INTO tariff VALUES ('many', 6, NULL, 1);
ROLLBACK;

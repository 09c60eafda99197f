-- What is easy to get wrong about transactions.
--# case a failing statement undoes itself alone
INSERT INTO pair VALUES (90, 1);
INSERT INTO hut VALUES ('AAAA', 'a', 1, 1, NULL), ('VARN', 'b', 1, 1, NULL);
--> fails 23505
--> no change
--> open
SELECT COUNT(*) FROM pair WHERE a = 90;
--> value 1
COMMIT;
--> committed
--# case what succeeded before a handled condition stays, uncommitted
CREATE PROCEDURE p() BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL note('handled');
  INSERT INTO pair VALUES (90, 1);
  INSERT INTO hut VALUES ('VARN', 'b', 1, 1, NULL);
END;
CALL p();
--> note 'handled'
--> change pair +1
--> open
ROLLBACK;
SELECT COUNT(*) FROM pair WHERE a = 90;
--> value 0
--# case a function that changes data is undone with the query that called it
CREATE FUNCTION put(n INTEGER) RETURNS INTEGER BEGIN INSERT INTO pair VALUES (n, n); RETURN 100 / (n - 3); END;
SELECT put(id) FROM stay ORDER BY id;
--> fails 22012
--> no change
--# case autocommit ends the transaction of each statement
--# session desk autocommit on
INSERT INTO pair VALUES (90, 1);
--> committed
INSERT INTO hut VALUES ('VARN', 'b', 1, 1, NULL);
--> fails 23505
--> rolled back
START TRANSACTION;
INSERT INTO pair VALUES (91, 1);
--> open
ROLLBACK;
SELECT COUNT(*) FROM pair WHERE a >= 90;
--> value 1
--# case DDL is undone with its transaction
CREATE TABLE t (a INTEGER);
CREATE FUNCTION f() RETURNS INTEGER RETURN 1;
ALTER TABLE pair DROP COLUMN b;
DROP VIEW IF EXISTS nothing;
ROLLBACK;
SELECT b FROM pair WHERE a = 3;
--> value 10
SELECT f();
--> fails 42883
--# case no transaction starts before one is needed
SELECT 1 + 1;
--> holds TRUE
SET TRANSACTION READ ONLY;
SELECT COUNT(*) FROM pair;
--> open
SET TRANSACTION READ WRITE;
--> fails 25001
--# case a failing commit rolls back
CREATE TABLE c (g INTEGER REFERENCES guest INITIALLY DEFERRED);
COMMIT;
INSERT INTO c VALUES (999);
INSERT INTO pair VALUES (90, 1);
COMMIT;
--> fails 40002
--> rolled back
SELECT COUNT(*) FROM pair WHERE a = 90;
--> value 0

--# case SERIALIZABLE: who reads what nobody changes commits
--# model versions
CREATE TABLE a (k INTEGER PRIMARY KEY, n INTEGER);
CREATE TABLE b (k INTEGER PRIMARY KEY, n INTEGER);
CREATE TABLE c (k INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO a VALUES (1, 1);
INSERT INTO b VALUES (1, 1);
INSERT INTO c VALUES (1, 1);
COMMIT;
--# session one isolation serializable
SELECT n FROM a;
UPDATE a SET n = 9;
--# session two isolation serializable
SELECT n FROM b;
UPDATE b SET n = 9;
--# session three isolation serializable
SELECT n FROM c;
UPDATE c SET n = 8;
--# session one
COMMIT;
--> committed
--# session two
COMMIT;
--> committed
--# session three
COMMIT;
--> committed

--# case many new rows of two tables are taken back from each
CREATE TABLE a (k INTEGER PRIMARY KEY);
CREATE TABLE b (k INTEGER PRIMARY KEY);
INSERT INTO b VALUES (9999);
COMMIT;
BEGIN
  INSERT INTO a WITH RECURSIVE n (k) AS (VALUES (1) UNION ALL SELECT k + 1 FROM n WHERE k < 500) SELECT k FROM n;
  INSERT INTO b SELECT k FROM a;
END;
--> change a +500
--> change b +500
ROLLBACK;
SELECT (SELECT COUNT(*) FROM a), COUNT(*), MAX(k) FROM b;
--> rows
-->   0 | 1 | 9999
SELECT k FROM b WHERE k = 7;
--> no rows
INSERT INTO a VALUES (7);
INSERT INTO b VALUES (7);
--# case an empty table is joined by who locks what it reads
--# model locking
CREATE TABLE lone (n INTEGER);
CREATE TABLE none (n INTEGER);
INSERT INTO lone VALUES (1);
--> change lone +1
COMMIT;
--# session reader isolation REPEATABLE READ
SELECT * FROM lone LEFT JOIN none ON TRUE;
--> rows
-->   1 | NULL
--# session second isolation READ COMMITTED
SELECT * FROM lone LEFT JOIN none ON TRUE;
--> rows
-->   1 | NULL
--# session third isolation SERIALIZABLE
SELECT * FROM lone LEFT JOIN none ON TRUE;
--> rows
-->   1 | NULL
--# case a name that somebody has dropped and may bring back
CREATE TABLE again (n INTEGER);
COMMIT;
--# session dropper
START TRANSACTION;
DROP TABLE again;
--# session maker
CREATE TABLE again (m VARCHAR(5));
--> waits for dropper
--# session dropper
ROLLBACK;
--> wakes maker
--# session maker
--> fails 42710
ROLLBACK;
--# session dropper
DROP TABLE again;
--# session maker
CREATE TABLE again (m VARCHAR(5));
--> waits for dropper
--# session dropper
COMMIT;
--> wakes maker
--# session maker
INSERT INTO again VALUES ('x');
--> change again +1

-- Schema statements and others that are in the middle of using a table.
--# case a reader waits for ALTER TABLE, and reads the table as it then is
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
INSERT INTO t VALUES (1, 1);
COMMIT;
--# session a
ALTER TABLE t ADD COLUMN w INTEGER;
--> lock table t X
--# session b
SELECT w FROM t;
--> waits for a on t
--# session a
ROLLBACK;
--# session b
--> fails 42703 like '%no column w%'
SELECT v FROM t;
--> value 1
UPDATE t SET v = 2;
--> lock table t IX
--# session a
DROP TABLE t;
--> waits for b on t
--# session b
COMMIT;
--# session a
--> open
COMMIT;
--# session b
SELECT v FROM t;
--> fails 42704

--# case F531 11.3 temporary tables are emptied at COMMIT, or keep their rows
CREATE GLOBAL TEMPORARY TABLE scratch (a INTEGER) ON COMMIT DELETE ROWS;
CREATE LOCAL TEMPORARY TABLE kept (a INTEGER) ON COMMIT PRESERVE ROWS;
COMMIT;
INSERT INTO scratch VALUES (1), (NULL);
INSERT INTO kept VALUES (1);
SELECT COUNT(*) FROM scratch;
--> value 2
COMMIT;
SELECT (SELECT COUNT(*) FROM scratch), (SELECT COUNT(*) FROM kept);
--> rows
-->   0 | 1
CREATE TEMPORARY TABLE x (a INTEGER);
--> fails 42601
--# case F531 11.3 every session has its own rows
CREATE GLOBAL TEMPORARY TABLE picked (id INTEGER PRIMARY KEY, n INTEGER DEFAULT 4 CHECK (n > 0)) ON COMMIT PRESERVE ROWS;
CREATE PROCEDURE pick(id INTEGER) INSERT INTO picked (id) VALUES (pick.id);
COMMIT;
CALL pick(1);
--# session other
SELECT COUNT(*) FROM picked;
--> value 0
CALL pick(1);
CALL pick(2);
CALL pick(2);
--> fails 23505
INSERT INTO picked VALUES (3, -1);
--> fails 23514
COMMIT;
--# session main
SELECT id FROM picked;
--> value 1
ROLLBACK;
SELECT COUNT(*) FROM picked;
--> value 0
--# session other
UPDATE picked SET n = 5 WHERE id = 2;
SELECT SUM(n) FROM picked;
--> value 9
ALTER TABLE picked ADD COLUMN x INTEGER;
--> fails 42601
CREATE TABLE child (p INTEGER REFERENCES picked);
--> fails 42830
--# case F531 11.3 a module declares a table of its own
CREATE MODULE tally
  DECLARE LOCAL TEMPORARY TABLE MODULE.seen (n INTEGER) ON COMMIT PRESERVE ROWS;
  DECLARE PROCEDURE add_one(n INTEGER) INSERT INTO MODULE.seen VALUES (n);
  DECLARE FUNCTION total() RETURNS INTEGER READS SQL DATA RETURN (SELECT SUM(n) FROM seen);
END MODULE;
CALL tally.add_one(3);
CALL tally.add_one(4);
SELECT tally.total();
--> value 7
SELECT * FROM MODULE.seen;
--> fails 42704
--# case F531 11.3 rows of ON COMMIT DELETE ROWS are gone after COMMIT, the table is not
CREATE GLOBAL TEMPORARY TABLE t (n INTEGER) ON COMMIT DELETE ROWS;
INSERT INTO t VALUES (1);
COMMIT;
SELECT COUNT(*) FROM t;
--> value 0
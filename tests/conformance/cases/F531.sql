-- F531 Temporary tables
--# case temporary tables are emptied at COMMIT, or keep their rows
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

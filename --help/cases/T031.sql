--# case T031 6.1 BOOLEAN
CREATE TABLE t (f BOOLEAN DEFAULT TRUE);
INSERT INTO t VALUES (DEFAULT), (FALSE), (UNKNOWN), (1 = 1 AND NULL);
SELECT COUNT(*), COUNT(f), EVERY(f), SOME(f) FROM t;
--> rows
-->   4 | 2 | FALSE | TRUE
SELECT f FROM t WHERE f;
--> value TRUE
SELECT TRUE > FALSE, NOT TRUE = FALSE;
--> rows
-->   TRUE | TRUE
INSERT INTO t VALUES (1);
--> fails 42804
SELECT CAST('perhaps' AS BOOLEAN);
--> fails 22018
--# case T031 6.1 truth values in every place where a value stands
SELECT TRUE = FALSE, (1 = 1) = TRUE, CASE WHEN member THEN 1 ELSE 0 END, NOT member FROM guest WHERE member OR id = 104 ORDER BY id;
--> rows
-->   FALSE | TRUE | 1 | FALSE
-->   FALSE | TRUE | 1 | FALSE
-->   FALSE | TRUE | 0 | NULL
--# case T031 10.9 EVERY, SOME and ANY leave out NULL
SELECT EVERY(member), SOME(member), ANY(member), EVERY(x) FROM guest, (VALUES (TRUE)) AS t (x) WHERE member IS NULL;
--> rows
-->   NULL | NULL | NULL | TRUE
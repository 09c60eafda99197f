--# case T495 7.6 rows that a change has made or found
SELECT a, b FROM FINAL TABLE (INSERT INTO pair VALUES (60, 1), (61, NULL)) n ORDER BY a;
--> rows
-->   60 | 1
-->   61 | NULL
SELECT SUM(o.b) FROM OLD TABLE (UPDATE pair SET b = b + 1 WHERE b IS NOT NULL) o;
--> value 71
SELECT n.b FROM NEW TABLE (UPDATE pair SET b = b + 1 WHERE a = 60) AS n;
--> value 3
SELECT COUNT(*) FROM OLD TABLE (DELETE FROM pair WHERE a >= 60);
--> value 2
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 0
SELECT 1 FROM FINAL TABLE (DELETE FROM pair);
--> fails 42601
SELECT 1 / 0 FROM FINAL TABLE (INSERT INTO pair VALUES (77, 1));
--> fails 22012
--> no change
--# case T495 7.6 FINAL TABLE gives the rows as they are stored, OLD TABLE as they were
SELECT a, b FROM FINAL TABLE (UPDATE pair SET b = 0 WHERE a = 3) AS t;
--> rows
-->   3 | 0
--# case T495 7.6 OLD TABLE of a deletion
SELECT SUM(b) FROM OLD TABLE (DELETE FROM pair) AS t;
--> value 70
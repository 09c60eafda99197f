--# case T131 7.17 a recursive query
WITH RECURSIVE up (n, text) AS (SELECT 1, CAST('1' AS VARCHAR(20)) UNION ALL SELECT n + 1, text || ',' || CAST(n + 1 AS VARCHAR(5)) FROM up WHERE n < 4) SELECT text FROM up WHERE n = 4;
--> value '1,2,3,4'
WITH RECURSIVE c (n) AS (SELECT 1 UNION SELECT MOD(n + 1, 3) FROM c) SELECT n FROM c ORDER BY n;
--> rows
-->   0
-->   1
-->   2
WITH RECURSIVE c (n) AS (SELECT CAST(NULL AS INTEGER) UNION SELECT n + 1 FROM c) SELECT COUNT(*) FROM c;
--> value 1
WITH RECURSIVE c (n) AS (SELECT n FROM c) SELECT n FROM c;
--> fails 42601
CREATE RECURSIVE VIEW steps (n) AS SELECT 1 UNION ALL SELECT n + 1 FROM steps WHERE n < 5;
SELECT SUM(n) FROM steps;
--> value 15
--# case T131 7.17 SEARCH numbers the rows, CYCLE ends circles
WITH RECURSIVE t (n, up) AS (SELECT n, up FROM (VALUES (1, CAST(NULL AS INTEGER))) AS s (n, up) UNION ALL SELECT c.n, c.up FROM t JOIN (VALUES (2, 1), (3, 1), (4, 2), (5, 3)) AS c (n, up) ON c.up = t.n) SEARCH DEPTH FIRST BY n SET seq SELECT n, seq FROM t ORDER BY seq;
--> rows
-->   1 | 1
-->   2 | 2
-->   4 | 3
-->   3 | 4
-->   5 | 5
WITH RECURSIVE t (n, up) AS (SELECT n, up FROM (VALUES (1, CAST(NULL AS INTEGER))) AS s (n, up) UNION ALL SELECT c.n, c.up FROM t JOIN (VALUES (2, 1), (3, 1), (4, 2), (5, 3)) AS c (n, up) ON c.up = t.n) SEARCH BREADTH FIRST BY n SET seq SELECT n FROM t ORDER BY seq DESC;
--> rows
-->   5
-->   4
-->   3
-->   2
-->   1
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT MOD(n, 3) + 1 FROM r) CYCLE n SET looped TO 'Y' DEFAULT 'N' USING path SELECT n, looped, CARDINALITY(path) FROM r;
--> rows
-->   1 | 'N' | 1
-->   2 | 'N' | 2
-->   3 | 'N' | 3
-->   1 | 'Y' | 4
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT MOD(n, 2) + 1 FROM r) SEARCH DEPTH FIRST BY n SET o CYCLE n SET looped USING path SELECT n, o, looped, path[1].n FROM r ORDER BY o;
--> rows
-->   1 | 1 | FALSE | 1
-->   2 | 2 | FALSE | 1
-->   1 | 3 | TRUE | 1
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM r WHERE n < 3) SEARCH DEPTH FIRST BY m SET o SELECT n FROM r;
--> fails 42703
WITH r (n) AS (SELECT 1) SEARCH DEPTH FIRST BY n SET o SELECT n FROM r;
--> fails 42601
--# case T131 7.17 tables that refer to one another, and several branches
WITH RECURSIVE even (n) AS (SELECT 0 UNION SELECT n + 1 FROM odd WHERE n < 10), odd (n) AS (SELECT n + 1 FROM even WHERE n < 10) SELECT (SELECT SUM(n) FROM even), (SELECT SUM(n) FROM odd);
--> rows
-->   30 | 25
WITH RECURSIVE later AS (SELECT x + 1 AS y FROM earlier), earlier (x) AS (VALUES 7) SELECT y FROM later;
--> value 8
WITH RECURSIVE t (n) AS (SELECT 1 UNION ALL SELECT 100 UNION ALL SELECT n + 1 FROM t WHERE n < 3 UNION ALL SELECT n - 1 FROM t WHERE n > 98) SELECT SUM(n) FROM t;
--> value 303
--# case T131 7.17 a step that is not linear is refused
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT MAX(n) FROM r) SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT x.n + y.n FROM r AS x, r AS y WHERE x.n < 5) SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT x FROM (VALUES 1, 2) AS v (x) WHERE x NOT IN (SELECT n FROM r)) SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT v.x FROM (VALUES 1, 2) AS v (x) LEFT JOIN r ON r.n = v.x) SELECT n FROM r;
--> fails 42601
--# case T131 7.17 UNION in a recursion ends where nothing new comes
WITH RECURSIVE r (n) AS (VALUES (1) UNION SELECT MOD(n + 1, 5) FROM r) SELECT COUNT(*), SUM(n) FROM r;
--> rows
-->   5 | 10
--# case T131 7.17 no rows to begin with, none at all
WITH RECURSIVE r (n) AS (SELECT a FROM pair WHERE FALSE UNION ALL SELECT n + 1 FROM r) SELECT COUNT(*) FROM r;
--> value 0
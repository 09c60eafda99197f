-- T131 Recursive query
--# case a recursive query
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

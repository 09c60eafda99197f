--# case F081 11.32 UNION and EXCEPT in views
CREATE VIEW numbers (n) AS SELECT a FROM pair UNION SELECT b FROM pair;
CREATE VIEW only_a (n) AS SELECT a FROM pair EXCEPT SELECT 2;
SELECT COUNT(*), COUNT(n) FROM numbers;
--> rows
-->   7 | 6
SELECT n FROM only_a ORDER BY n;
--> rows
-->   1
-->   3
-->   NULL
DELETE FROM numbers;
--> fails 42807
--# case F081 11.32 a view of EXCEPT and one over it
CREATE VIEW v (n) AS SELECT a FROM pair EXCEPT SELECT 2;
CREATE VIEW w AS SELECT n FROM v UNION ALL SELECT n FROM v;
SELECT COUNT(*), SUM(n) FROM w;
--> rows
-->   6 | 8
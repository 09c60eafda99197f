-- F081 UNION and EXCEPT in views
--# case UNION and EXCEPT in views
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

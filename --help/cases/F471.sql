--# case F471 7.19 scalar subqueries wherever a value stands
SELECT (SELECT MAX(a) FROM pair) + 1, COALESCE((SELECT a FROM pair WHERE a > 9), -1);
--> rows
-->   4 | -1
UPDATE pair SET b = (SELECT SUM(b) FROM pair) WHERE a = 1;
--> change pair ~1
SELECT (SELECT a, b FROM pair);
--> fails 42601
SELECT (SELECT a FROM pair) + 1;
--> fails 21000
--# case F471 7.19 a scalar subquery in VALUES, SET, CASE, a function's argument
SELECT CASE WHEN (SELECT MAX(a) FROM pair) = 3 THEN ABS((SELECT -b FROM pair WHERE a = 3)) END, (SELECT (SELECT a FROM pair WHERE a = 1));
--> rows
-->   10 | 1
--# case F471 7.19 it has one column
SELECT (SELECT 1, 2);
--> fails 42601
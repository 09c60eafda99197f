-- F471 Scalar subquery values
--# case scalar subqueries wherever a value stands
SELECT (SELECT MAX(a) FROM pair) + 1, COALESCE((SELECT a FROM pair WHERE a > 9), -1);
--> rows
-->   4 | -1
UPDATE pair SET b = (SELECT SUM(b) FROM pair) WHERE a = 1;
--> change pair ~1
SELECT (SELECT a, b FROM pair);
--> fails 42601
SELECT (SELECT a FROM pair) + 1;
--> fails 21000

-- T321-03 Basic SQL-invoked routines: Function invocation
--# case functions are called where values stand
CREATE FUNCTION half(n INTEGER) RETURNS INTEGER RETURN n / 2;
SELECT half(b) FROM pair WHERE half(b) > 5 GROUP BY half(b) ORDER BY half(b);
--> rows
-->   10
-->   15
SELECT half(half(20)), half(NULL);
--> rows
-->   5 | NULL
SELECT halve(4);
--> fails 42883
SELECT half(1, 2);
--> fails 42884

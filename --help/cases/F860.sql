--# case F860 7.17 the number of rows of FETCH FIRST computed
CREATE FUNCTION top(n INTEGER) RETURNS BIGINT RETURN (SELECT COUNT(*) FROM (SELECT a FROM pair FETCH FIRST n * 2 ROWS ONLY) d);
SELECT top(1), top(2), top(9);
--> rows
-->   2 | 4 | 6
SELECT top(NULL);
--> fails 22004
SELECT top(-1);
--> fails 2201W
--# case F860 7.17 the number of FETCH FIRST is no subquery
SELECT id FROM guest FETCH FIRST (SELECT COUNT(*) FROM pair) ROWS ONLY;
--> fails 42601
--# case F865 7.17 the number of rows of OFFSET computed
CREATE FUNCTION behind(n INTEGER) RETURNS BIGINT RETURN (SELECT COUNT(*) FROM (SELECT a FROM pair OFFSET n + 1 ROWS) d);
SELECT behind(0), behind(4), behind(9);
--> rows
-->   5 | 1 | 0
SELECT behind(NULL);
--> fails 22004
SELECT behind(-5);
--> fails 2201X
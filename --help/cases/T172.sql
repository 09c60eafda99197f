--# case T172 11.3 CREATE TABLE AS a query
CREATE TABLE totals (hut, total) AS (SELECT hut, SUM(price) FROM stay GROUP BY hut) WITH DATA;
--> change totals +3
SELECT total FROM totals WHERE hut = 'SELT';
--> value NULL
CREATE TABLE empty_one AS (SELECT id, name FROM guest) WITH NO DATA;
INSERT INTO empty_one VALUES (1, 'x');
SELECT COUNT(*) FROM empty_one;
--> value 1
CREATE TABLE wrong (a, b) AS (SELECT 1 AS x) WITH DATA;
--> fails 42601
CREATE TABLE untyped AS (SELECT NULL AS x) WITH DATA;
--> fails 42804
--# case T172 11.3 a table of a query has its types, and its rows with WITH DATA
CREATE TABLE t AS (SELECT hut, SUM(price) AS total FROM stay GROUP BY hut) WITH DATA;
CREATE TABLE u AS (SELECT hut, price FROM stay) WITH NO DATA;
SELECT COUNT(*), MAX(total), (SELECT COUNT(*) FROM u) FROM t;
--> rows
-->   3 | 84.00 | 0
-- T172 AS subquery clause in table definition
--# case CREATE TABLE AS a query
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

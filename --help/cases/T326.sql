--# case T326 7.6 table functions
CREATE FUNCTION stays_in(wanted CHAR(4)) RETURNS TABLE (id INTEGER, price DECIMAL(8,2)) RETURN TABLE (SELECT s.id, s.price FROM stay s WHERE s.hut = wanted);
SELECT id, price FROM TABLE(stays_in('VARN')) AS s ORDER BY id;
--> rows
-->   1 | 31.50
-->   2 | 42.00
SELECT h.code, s.id FROM hut h, TABLE(stays_in(h.code)) s WHERE s.price IS NULL;
--> rows
-->   'SELT' | 5
SELECT COUNT(*) FROM TABLE(stays_in(NULL)) s;
--> value 0
SELECT stays_in('VARN');
--> fails 42809
CREATE FUNCTION wrong() RETURNS TABLE (a INTEGER) RETURN TABLE (SELECT 1, 2);
--> fails 42601
--# case T326 7.6 a table function gives a table, joined like any other
CREATE FUNCTION over(n INTEGER) RETURNS TABLE (x INTEGER, y INTEGER) RETURN TABLE (SELECT a, b FROM pair WHERE a > n);
SELECT t.x, g.name FROM TABLE(over(2)) AS t JOIN guest g ON g.id = 100 + t.x;
--> rows
-->   3 | 'Mirel'
SELECT COUNT(*) FROM TABLE(over(NULL)) AS t;
--> value 0
SELECT p.a, COUNT(t.x) FROM pair p LEFT JOIN LATERAL TABLE(over(p.a)) AS t ON TRUE WHERE p.a IS NOT NULL GROUP BY p.a ORDER BY 1;
--> rows
-->   1 | 3
-->   2 | 2
-->   3 | 0
--# case T326 7.6 it is no scalar value
CREATE FUNCTION over(n INTEGER) RETURNS TABLE (x INTEGER) RETURN TABLE (SELECT a FROM pair WHERE a > n);
SELECT over(1);
--> fails 42809
--# case T326 7.6 an unknown table function
SELECT * FROM TABLE(nothing(1)) AS t;
--> fails 42883
--# case T326 7.10 an outer join keeps NULLs for a table function and a derived table
CREATE FUNCTION f() RETURNS TABLE (x INTEGER, y INTEGER) RETURN TABLE (SELECT a, b FROM pair WHERE FALSE);
SELECT COUNT(*), COUNT(t.x) FROM TABLE(f()) AS t RIGHT JOIN hut ON t.x = hut.height;
--> rows
-->   4 | 0
SELECT COUNT(*), COUNT(d.a), COUNT(h.code) FROM (SELECT a FROM pair WHERE a = 3) AS d FULL JOIN hut AS h ON d.a = h.beds;
--> rows
-->   5 | 1 | 4
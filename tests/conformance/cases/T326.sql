-- T326 Table functions
--# case table functions
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

--# case F401-01 7.10 NATURAL JOIN over the columns of one name
SELECT * FROM (VALUES (1, 'x'), (2, 'y'), (NULL, 'z')) AS l (n, t) NATURAL JOIN (VALUES (2, TRUE), (NULL, FALSE)) AS r (n, f);
--> rows
-->   n | t | f
-->   2 | 'y' | TRUE
SELECT n, t FROM (VALUES (1, 'x'), (2, 'y')) AS l (n, t) NATURAL LEFT JOIN (VALUES (2, TRUE)) AS r (n, f) ORDER BY n;
--> count 2
SELECT * FROM (VALUES (1)) AS l (n) NATURAL JOIN (VALUES ('x')) AS r (n);
--> fails 42804
--# case F401-01 7.10 NATURAL over no common column is every pair
SELECT COUNT(*) FROM (VALUES (1), (2)) AS a (x) NATURAL JOIN (VALUES (1), (2)) AS b (y);
--> value 4
--# case F401-01 7.10 common columns come first, once
SELECT * FROM (VALUES (1, 2)) AS a (x, k) NATURAL JOIN (VALUES (2, 3)) AS b (k, y);
--> rows
-->   2 | 1 | 3
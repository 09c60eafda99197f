--# case F401-02 7.10 FULL OUTER JOIN keeps both sides
SELECT l.n, r.m FROM (VALUES (1), (2), (NULL)) AS l (n) FULL OUTER JOIN (VALUES (2), (3), (NULL)) AS r (m) ON l.n = r.m;
--> rows in any order
-->   1 | NULL
-->   2 | 2
-->   NULL | NULL
-->   NULL | 3
-->   NULL | NULL
SELECT n FROM (VALUES (1)) AS l (n) FULL JOIN (VALUES (2)) AS r (n) USING (n) ORDER BY n;
--> rows
-->   1
-->   2
SELECT 1 FROM pair FULL JOIN hut ON a = code;
--> fails 42804
--# case F401-02 7.10 a common column of a FULL JOIN is the one that is there
SELECT k FROM (VALUES (1), (2)) AS a (k) FULL JOIN (VALUES (2), (3)) AS b (k) USING (k) ORDER BY k;
--> rows
-->   1
-->   2
-->   3
--# case F401-02 7.10 FULL JOIN ON FALSE keeps all of both
SELECT COUNT(*), COUNT(x), COUNT(y) FROM (VALUES (1), (2)) AS a (x) FULL JOIN (VALUES (3)) AS b (y) ON FALSE;
--> rows
-->   3 | 2 | 1
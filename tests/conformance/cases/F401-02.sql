-- F401-02 Extended joined table: FULL OUTER JOIN
--# case FULL OUTER JOIN keeps both sides
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

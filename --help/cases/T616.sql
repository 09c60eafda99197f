--# case T616 6.10 IGNORE NULLS for LEAD and LAG
SELECT n, LAG(v) IGNORE NULLS OVER (ORDER BY n), LEAD(v, 1, 0) IGNORE NULLS OVER (ORDER BY n), LAG(v) RESPECT NULLS OVER (ORDER BY n) FROM (VALUES (1, 10), (2, NULL), (3, NULL), (4, 40)) AS t (n, v) ORDER BY n;
--> rows
-->   1 | NULL | 40 | NULL
-->   2 | 10 | 40 | 10
-->   3 | 10 | 40 | NULL
-->   4 | 10 | 0 | NULL
SELECT LAG(v) SKIP NULLS OVER (ORDER BY v) FROM (VALUES (1)) AS t (v);
--> fails 42601
--# case T616 6.10 IGNORE NULLS looks past them
SELECT x, LAG(x) IGNORE NULLS OVER (ORDER BY k), LAG(x) RESPECT NULLS OVER (ORDER BY k) FROM (VALUES (1, 5), (2, NULL), (3, 7)) AS t (k, x) ORDER BY k;
--> rows
-->   5 | NULL | NULL
-->   NULL | 5 | 5
-->   7 | 5 | NULL
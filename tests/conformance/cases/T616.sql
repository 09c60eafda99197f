-- T616 Null treatment option for LEAD and LAG functions
--# case IGNORE NULLS for LEAD and LAG
SELECT n, LAG(v) IGNORE NULLS OVER (ORDER BY n), LEAD(v, 1, 0) IGNORE NULLS OVER (ORDER BY n), LAG(v) RESPECT NULLS OVER (ORDER BY n) FROM (VALUES (1, 10), (2, NULL), (3, NULL), (4, 40)) AS t (n, v) ORDER BY n;
--> rows
-->   1 | NULL | 40 | NULL
-->   2 | 10 | 40 | 10
-->   3 | 10 | 40 | NULL
-->   4 | 10 | 0 | NULL
SELECT LAG(v) SKIP NULLS OVER (ORDER BY v) FROM (VALUES (1)) AS t (v);
--> fails 42601

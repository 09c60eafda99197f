--# case T612 6.10 the WINDOW clause, frames, EXCLUDE and percentages
SELECT n, SUM(n) OVER w, AVG(n) OVER (w ROWS BETWEEN 1 PRECEDING AND 1 FOLLOWING EXCLUDE CURRENT ROW), PERCENT_RANK() OVER w, CUME_DIST() OVER w FROM (VALUES (1), (2), (4)) AS v (n) WINDOW w AS (ORDER BY n);
--> rows
-->   1 | 1 | 2 | 0 | 0.3333333333333333
-->   2 | 3 | 2.5 | 0.5 | 0.6666666666666666
-->   4 | 7 | 2 | 1 | 1
SELECT n, COUNT(*) OVER (ORDER BY n RANGE BETWEEN CURRENT ROW AND 2 FOLLOWING EXCLUDE GROUP), COUNT(*) OVER (ORDER BY n RANGE UNBOUNDED PRECEDING EXCLUDE TIES) FROM (VALUES (1), (2), (2), (5)) AS v (n) ORDER BY n;
--> rows
-->   1 | 2 | 1
-->   2 | 0 | 2
-->   2 | 0 | 2
-->   5 | 0 | 4
SELECT SUM(a) FILTER (WHERE b > 10) OVER (), COUNT(*) OVER (PARTITION BY a) FROM pair WHERE a IS NULL ORDER BY b;
--> rows
-->   NULL | 2
-->   NULL | 2
SELECT SUM(a) OVER nothing FROM pair WINDOW w AS (ORDER BY a);
--> fails 42704
SELECT SUM(a) OVER (w PARTITION BY b) FROM pair WINDOW w AS (ORDER BY a);
--> fails 42601
SELECT SUM(a) OVER (ROWS BETWEEN CURRENT ROW AND 1 PRECEDING) FROM pair;
--> fails 42601
--# case T612 6.10 the place that a row would have
SELECT RANK(2) WITHIN GROUP (ORDER BY n), DENSE_RANK(2) WITHIN GROUP (ORDER BY n DESC), PERCENT_RANK(2) WITHIN GROUP (ORDER BY n), CUME_DIST(2) WITHIN GROUP (ORDER BY n) FROM (VALUES 1, 1, 2, 4, 4, NULL, 9) AS v (n) WHERE n IS NULL OR n < 9;
--> rows
-->   3 | 3 | 0.3333333333333333 | 0.5714285714285714
SELECT RANK(4, 'r') WITHIN GROUP (ORDER BY n DESC NULLS LAST, t), RANK(NULL, 'a') WITHIN GROUP (ORDER BY n NULLS LAST, t) FROM (VALUES (4, 'q'), (4, 'r'), (5, 'z'), (NULL, 'a'), (1, 'b')) AS v (n, t);
--> rows
-->   3 | 5
SELECT RANK(1) WITHIN GROUP (ORDER BY n), PERCENT_RANK(1) WITHIN GROUP (ORDER BY n), CUME_DIST(1) WITHIN GROUP (ORDER BY n) FROM (VALUES 1) AS v (n) WHERE n > 1;
--> rows
-->   1 | 0 | 1
SELECT RANK(a) WITHIN GROUP (ORDER BY b) FROM pair;
--> fails 42803
SELECT RANK(1, 2) WITHIN GROUP (ORDER BY b) FROM pair;
--> fails 42884
--# case T612 7.15 ROWS counts rows, RANGE values, both up to the present one
SELECT x, SUM(x) OVER (ORDER BY x ROWS 1 PRECEDING), SUM(x) OVER (ORDER BY x RANGE 1 PRECEDING) FROM (VALUES (1), (2), (4)) AS t (x) ORDER BY x;
--> rows
-->   1 | 1 | 1
-->   2 | 3 | 3
-->   4 | 6 | 4
--# case T612 7.15 a frame may hold no row
SELECT x, SUM(x) OVER (ORDER BY x ROWS BETWEEN 2 FOLLOWING AND 3 FOLLOWING), COUNT(*) OVER (ORDER BY x ROWS BETWEEN 2 PRECEDING AND 2 PRECEDING) FROM (VALUES (1), (2), (3)) AS t (x) ORDER BY x;
--> rows
-->   1 | 3 | 0
-->   2 | NULL | 0
-->   3 | NULL | 1
--# case T612 7.15 EXCLUDE takes the row, its peers or its ties out
SELECT x, SUM(x) OVER (ORDER BY x ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE CURRENT ROW), SUM(x) OVER (ORDER BY x ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE GROUP), SUM(x) OVER (ORDER BY x ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING EXCLUDE TIES) FROM (VALUES (1), (1), (5)) AS t (x) ORDER BY x;
--> rows
-->   1 | 6 | 5 | 6
-->   1 | 6 | 5 | 6
-->   5 | 2 | 2 | 7
--# case T612 7.15 RANGE with a distance needs one number or date to order by
SELECT SUM(b) OVER (ORDER BY a, b RANGE 1 PRECEDING) FROM pair;
--> fails 42804
--# case T612 7.15 a negative distance is 22013
SELECT SUM(b) OVER (ORDER BY a ROWS -1 PRECEDING) FROM pair;
--> fails 22013
--# case T612 6.10 PERCENT_RANK and CUME_DIST
SELECT x, PERCENT_RANK() OVER (ORDER BY x), CUME_DIST() OVER (ORDER BY x) FROM (VALUES (1), (2), (2), (4), (5)) AS t (x) WHERE x < 5 ORDER BY x FETCH FIRST 2 ROWS ONLY;
--> rows
-->   1 | 0 | 0.25
-->   2 | 0.3333333333333333 | 0.75
--# case T612 7.15 the distance of RANGE fits what is ordered by
SELECT SUM(b) OVER (ORDER BY a RANGE INTERVAL '1' DAY PRECEDING) FROM pair;
--> fails 42804
--# case T612 7.15 of dates it is an interval
SELECT id, COUNT(*) OVER (ORDER BY night RANGE INTERVAL '1' DAY PRECEDING) FROM stay WHERE id < 5 ORDER BY id;
--> rows
-->   1 | 2
-->   2 | 2
-->   3 | 3
-->   4 | 2
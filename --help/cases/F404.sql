--# case F404 7.10 a range variable for the columns of USING
SELECT j.n, l.t, r.f FROM (VALUES (1, 'x'), (2, 'y')) AS l (n, t) JOIN (VALUES (2, TRUE)) AS r (n, f) USING (n) AS j;
--> rows
-->   2 | 'y' | TRUE
SELECT COUNT(*) FROM (VALUES (NULL)) AS l (n) JOIN (VALUES (1)) AS r (n) USING (n) AS j;
--> value 0
SELECT j.t FROM (VALUES (2, 'y')) AS l (n, t) JOIN (VALUES (2)) AS r (n) USING (n) AS j;
--> fails 42703
--# case F404 7.10 the columns of an alias for common columns
SELECT j.* FROM pair JOIN (VALUES (1, 'x')) AS v (a, y) USING (a) AS j;
--> value 1
--# case F301 7.17 CORRESPONDING pairs columns by name
SELECT a, b FROM pair WHERE a = 1 UNION CORRESPONDING SELECT 5 AS b, 'x' AS c, 7 AS a;
--> rows in any order
-->   a | b
-->   1 | 10
-->   7 | 5
SELECT a, b FROM pair EXCEPT CORRESPONDING BY (a) SELECT 1 AS a, 2 AS b UNION ALL SELECT NULL, NULL;
--> fails 42601
SELECT a, b FROM pair INTERSECT CORRESPONDING BY (b) SELECT 20 AS b, 2 AS a;
--> value 20
SELECT a FROM pair UNION CORRESPONDING SELECT 1 AS c;
--> fails 42601
SELECT a FROM pair UNION CORRESPONDING BY (z) SELECT 1 AS a;
--> fails 42703
--# case F301 7.17 CORRESPONDING takes the columns that both have, in the order of the first
SELECT 1 AS a, 2 AS b, 3 AS c UNION CORRESPONDING SELECT 30 AS c, 10 AS a;
--> rows in any order
-->   1 | 3
-->   10 | 30
--# case F301 7.17 CORRESPONDING BY in its own order
SELECT 1 AS a, 2 AS b UNION ALL CORRESPONDING BY (b, a) SELECT 10 AS a, 20 AS b;
--> rows in any order
-->   2 | 1
-->   20 | 10
-- F301 CORRESPONDING in query expressions
--# case CORRESPONDING pairs columns by name
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

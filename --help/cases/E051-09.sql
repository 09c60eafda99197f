--# case E051-09 7.6 columns renamed in FROM
SELECT x, y FROM pair AS p (x, y) WHERE x = 3;
--> rows
-->   3 | 10
SELECT n FROM (SELECT a, b FROM pair WHERE a IS NULL AND b IS NULL) d (n, m);
--> value NULL
SELECT a FROM pair AS p (x, y);
--> fails 42703
SELECT x FROM pair AS p (x);
--> fails 42601
--# case E051-09 7.6 renamed columns are known by their new names only
SELECT p.x FROM pair AS p (x, y) WHERE p.a = 1;
--> fails 42703
--# case E051-09 7.6 two columns with one new name are refused
SELECT 1 FROM pair AS p (x, x);
--> fails 42701
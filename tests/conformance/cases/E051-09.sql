-- E051-09 Basic query specification: Rename columns in the FROM clause
--# case columns renamed in FROM
SELECT x, y FROM pair AS p (x, y) WHERE x = 3;
--> rows
-->   3 | 10
SELECT n FROM (SELECT a, b FROM pair WHERE a IS NULL AND b IS NULL) d (n, m);
--> value NULL
SELECT a FROM pair AS p (x, y);
--> fails 42703
SELECT x FROM pair AS p (x);
--> fails 42601

--# case F641 7.1 row and table constructors
VALUES (1, 'one'), (2, NULL);
--> rows
-->   1 | 'one'
-->   2 | NULL
SELECT a FROM pair WHERE (a, b) = (3, 10) OR (a, b) IN ((1, 10), (2, NULL));
--> rows in any order
-->   1
-->   3
SELECT a FROM pair WHERE (a, b) = (SELECT MAX(a), 10 FROM pair);
--> value 3
SELECT (1, 2) > (1, NULL), (2, NULL) > (1, 5);
--> rows
-->   NULL | TRUE
VALUES (1, 2), (3);
--> fails 42601
SELECT 1 WHERE (1, 2) = (SELECT 1);
--> fails 42804
--# case F641 7.3 all rows of VALUES have one degree, and a type that holds them
VALUES (1, 'a'), (2.5, NULL);
--> rows
-->   1.0 | 'a'
-->   2.5 | NULL
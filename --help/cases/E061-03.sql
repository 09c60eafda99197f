--# case E061-03 8.4 IN with a list of values
SELECT a FROM pair WHERE a IN (1, 3, 9) ORDER BY a;
--> rows
-->   1
-->   3
SELECT 1 IN (1, NULL), 2 IN (1, NULL), 2 NOT IN (1, NULL), NULL IN (1);
--> rows
-->   TRUE | NULL | NULL | NULL
SELECT 1 IN ('a');
--> fails 42804
--# case E061-03 8.4 IN is true when one is equal, unknown when none is and one is NULL
SELECT 2 IN (1, NULL, 2), 3 IN (1, NULL), 3 NOT IN (1, NULL), 2 NOT IN (2, NULL);
--> rows
-->   TRUE | NULL | NULL | FALSE
--# case E061-03 8.4 IN takes expressions, and one element
SELECT 3 IN (1 + 2), a IN (b / 10, 3) FROM pair WHERE a = 1;
--> rows
-->   TRUE | TRUE
--# case E061-03 8.4 IN of rows
SELECT (1, 2) IN ((1, 2), (3, 4)), (1, NULL) IN ((1, 2)), (1, NULL) IN ((2, 2));
--> rows
-->   TRUE | NULL | FALSE
--# case E061-03 8.4 an empty list is refused
SELECT 1 IN ();
--> fails 42601
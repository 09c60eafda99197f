-- E061-01 Basic predicates and search conditions: Comparison predicate
--# case comparison is unknown with NULL
SELECT a = b, a <> b, a < b, a > b, a <= b, a >= b FROM pair WHERE a = 3;
--> rows
-->   FALSE | TRUE | TRUE | FALSE | TRUE | FALSE
SELECT COUNT(*) FROM pair WHERE a = a;
--> value 4
SELECT (1, 2) < (1, 3), (1, NULL) = (2, 1), (1, NULL) = (1, 1);
--> rows
-->   TRUE | FALSE | NULL
SELECT (1, 2) = (1, 2, 3);
--> fails 42804

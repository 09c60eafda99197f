-- E061-14 Basic predicates and search conditions: Search condition
--# case AND, OR and NOT with unknown
SELECT TRUE AND NULL, FALSE AND NULL, TRUE OR NULL, FALSE OR NULL, NOT CAST(NULL AS BOOLEAN);
--> rows
-->   NULL | FALSE | TRUE | NULL | NULL
SELECT a FROM pair WHERE NOT (a = 1 OR b = 10);
--> rows
-->   2
SELECT 1 AND 2;
--> fails 42804

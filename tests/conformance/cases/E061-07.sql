-- E061-07 Basic predicates and search conditions: Quantified comparison predicate
--# case quantified comparison
SELECT a FROM pair WHERE a > ALL (SELECT 1 UNION SELECT 2);
--> rows
-->   3
SELECT 1 = ANY (SELECT a FROM pair), 9 = SOME (SELECT a FROM pair), 9 <> ALL (SELECT a FROM pair), 1 > ALL (SELECT a FROM pair WHERE a > 9);
--> rows
-->   TRUE | NULL | NULL | TRUE
SELECT 1 = ANY (SELECT a, b FROM pair);
--> fails 42601

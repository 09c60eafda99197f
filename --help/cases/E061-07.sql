--# case E061-07 8.9 quantified comparison
SELECT a FROM pair WHERE a > ALL (SELECT 1 UNION SELECT 2);
--> value 3
SELECT 1 = ANY (SELECT a FROM pair), 9 = SOME (SELECT a FROM pair), 9 <> ALL (SELECT a FROM pair), 1 > ALL (SELECT a FROM pair WHERE a > 9);
--> rows
-->   TRUE | NULL | NULL | TRUE
SELECT 1 = ANY (SELECT a, b FROM pair);
--> fails 42601
--# case E061-07 8.9 over no rows ALL is true and SOME is false, whatever the left side
SELECT NULL > ALL (SELECT a FROM pair WHERE a > 9), NULL = ANY (SELECT a FROM pair WHERE a > 9);
--> rows
-->   TRUE | FALSE
--# case E061-07 8.9 ALL is false when one is, unknown when none is false and one unknown
SELECT 0 > ALL (SELECT a FROM pair), 9 > ALL (SELECT a FROM pair), 9 > ALL (SELECT a FROM pair WHERE a IS NOT NULL);
--> rows
-->   FALSE | NULL | TRUE
--# case E061-07 8.9 SOME is true when one is, unknown when none is true and one unknown
SELECT 2 = SOME (SELECT a FROM pair), 9 < ANY (SELECT a FROM pair), 9 < ANY (SELECT a FROM pair WHERE a IS NOT NULL);
--> rows
-->   TRUE | NULL | FALSE
--# case E061-07 8.9 = ALL and <> SOME
SELECT 1 = ALL (VALUES (1), (1)), 1 = ALL (VALUES (1), (2)), 1 <> ANY (VALUES (1), (2)), 1 <> ANY (VALUES (1));
--> rows
-->   TRUE | FALSE | TRUE | FALSE
--# case E061-07 8.9 a row on the left
SELECT (1, 10) = ANY (SELECT a, b FROM pair), (1, 11) = ANY (SELECT a, b FROM pair WHERE a = 1), (2, 1) = ANY (SELECT a, b FROM pair);
--> rows
-->   TRUE | FALSE | NULL
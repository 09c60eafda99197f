--# case E061-01 8.2 comparison is unknown with NULL
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
--# case E061-01 8.2 a row compares column by column, as far as it must
SELECT (1, 2) < (2, 1), (1, 2) < (1, 2), (1, 2) <= (1, 2), (2, NULL) > (1, 1), (1, NULL) > (1, 1);
--> rows
-->   TRUE | FALSE | TRUE | TRUE | NULL
--# case E061-01 8.2 rows are equal when all columns are, not equal when one is not
SELECT (1, NULL) = (1, NULL), (1, NULL) <> (2, NULL), (1, NULL) <> (1, 2), (NULL, 1) = (NULL, 2);
--> rows
-->   NULL | TRUE | NULL | FALSE
--# case E061-01 8.2 rows of different degree do not compare
SELECT (1, 2) < (1, 2, 3);
--> fails 42804
--# case E061-01 8.2 truth values are ordered: false before true
SELECT FALSE < TRUE, TRUE <= TRUE, TRUE > NULL;
--> rows
-->   TRUE | TRUE | NULL
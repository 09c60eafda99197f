-- E061-05 Basic predicates and search conditions: LIKE predicate ESCAPE clause
--# case LIKE with ESCAPE
SELECT '50%' LIKE '50!%' ESCAPE '!', '50x' LIKE '50!%' ESCAPE '!', 'a!' LIKE 'a!!' ESCAPE '!', 'a' LIKE 'a' ESCAPE NULL;
--> rows
-->   TRUE | FALSE | TRUE | NULL
SELECT 'a' LIKE 'a' ESCAPE 'xy';
--> fails 22019
SELECT 'a' LIKE '!a' ESCAPE '!';
--> fails 22025

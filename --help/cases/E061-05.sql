--# case E061-05 8.5 LIKE with ESCAPE
SELECT '50%' LIKE '50!%' ESCAPE '!', '50x' LIKE '50!%' ESCAPE '!', 'a!' LIKE 'a!!' ESCAPE '!', 'a' LIKE 'a' ESCAPE NULL;
--> rows
-->   TRUE | FALSE | TRUE | NULL
SELECT 'a' LIKE 'a' ESCAPE 'xy';
--> fails 22019
SELECT 'a' LIKE '!a' ESCAPE '!';
--> fails 22025
--# case E061-05 8.5 the escape character makes the next one plain
SELECT 'a_c' LIKE 'a!_c' ESCAPE '!', 'abc' LIKE 'a!_c' ESCAPE '!', '!' LIKE '!!' ESCAPE '!', '%' LIKE '%%' ESCAPE '%';
--> rows
-->   TRUE | FALSE | TRUE | TRUE
--# case E061-05 8.5 an escape at the end, or before another character, is 22025
SELECT 'a' LIKE 'a!' ESCAPE '!';
--> fails 22025
--# case E061-05 8.5 an empty escape is 22019
SELECT 'a' LIKE 'a' ESCAPE '';
--> fails 22019
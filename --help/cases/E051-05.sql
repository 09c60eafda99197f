--# case E051-05 7.16 columns of the result can be named
SELECT a + b AS total, a "First", b second FROM pair WHERE a = 1;
--> rows
-->   total | "First" | second
-->   11 | 1 | 10
SELECT NULL AS nothing;
--> rows
-->   nothing
-->   NULL
SELECT a AS x FROM pair WHERE x = 1;
--> fails 42703
--# case E051-05 7.16 AS may be left out, and names can repeat
SELECT a x, b x FROM pair WHERE a = 1;
--> rows
-->   1 | 10
--# case E051-05 7.16 a new name is not known in WHERE, GROUP BY or HAVING
SELECT a AS x FROM pair GROUP BY x;
--> fails 42703
--# case E051-05 14.3 a new name is known in ORDER BY
SELECT -a AS x FROM pair WHERE a IS NOT NULL ORDER BY x FETCH FIRST ROW ONLY;
--> value -3
-- E051-05 Basic query specification: Select list items can be renamed
--# case columns of the result can be named
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

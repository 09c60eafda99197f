-- E101-04 Basic data manipulation: Searched DELETE statement
--# case searched DELETE
DELETE FROM pair WHERE a = 2;
--> change pair -2
DELETE FROM pair WHERE a > NULL;
--> no change
DELETE FROM hut WHERE code = 'VARN';
--> fails 23503
DELETE FROM pair WHERE nothing = 1;
--> fails 42703

--# case E101-04 14.9 searched DELETE
DELETE FROM pair WHERE a = 2;
--> change pair -2
DELETE FROM pair WHERE a > NULL;
--> no change
DELETE FROM hut WHERE code = 'VARN';
--> fails 23503
DELETE FROM pair WHERE nothing = 1;
--> fails 42703
--# case E101-04 14.9 without WHERE all rows
DELETE FROM pair;
--> change pair -6
--# case E101-04 14.9 the condition is asked of all rows before one goes
DELETE FROM pair p WHERE a = (SELECT MAX(a) FROM pair) OR a = (SELECT MIN(a) FROM pair);
--> change pair -2
--# case E101-04 14.9 rows for which it is unknown stay
DELETE FROM pair WHERE a <> 2;
--> change pair -2
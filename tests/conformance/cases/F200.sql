-- F200 TRUNCATE TABLE statement
--# case TRUNCATE TABLE
TRUNCATE TABLE pair;
--> change pair -6
SELECT COUNT(*), MAX(a) FROM pair;
--> rows
-->   0 | NULL
TRUNCATE TABLE hut;
--> fails 42893
TRUNCATE TABLE nothing;
--> fails 42704

--# case F200 14.10 TRUNCATE TABLE
TRUNCATE TABLE pair;
--> change pair -6
SELECT COUNT(*), MAX(a) FROM pair;
--> rows
-->   0 | NULL
TRUNCATE TABLE hut;
--> fails 42893
TRUNCATE TABLE nothing;
--> fails 42704
--# case F200 14.10 TRUNCATE fires no DELETE trigger
CREATE TRIGGER t AFTER DELETE ON pair FOR EACH STATEMENT CALL note('deleted');
TRUNCATE TABLE pair;
--> no notes
ROLLBACK;
SELECT COUNT(*) FROM pair;
--> value 6
--# case F200 14.10 a view is not truncated
CREATE VIEW v AS SELECT a FROM pair;
TRUNCATE TABLE v;
--> fails 42807
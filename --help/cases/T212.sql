--# case T212 11.49 transition tables and statement triggers
CREATE TABLE log (what VARCHAR(10), n BIGINT, total BIGINT);
CREATE TRIGGER t AFTER UPDATE ON pair REFERENCING OLD TABLE AS was NEW TABLE AS is_now FOR EACH STATEMENT
  INSERT INTO log SELECT 'update', COUNT(*), (SELECT SUM(b) FROM is_now) - (SELECT SUM(b) FROM was) FROM is_now;
UPDATE pair SET b = b + 5 WHERE b IS NOT NULL;
UPDATE pair SET b = 1 WHERE a > 99;
SELECT n, total FROM log ORDER BY n DESC;
--> rows
-->   4 | 20
-->   0 | NULL
CREATE TRIGGER u BEFORE UPDATE ON pair REFERENCING NEW TABLE AS n FOR EACH STATEMENT CALL note('x');
--> fails 42601
--# case T212 11.49 transition tables have the rows of the statement alone
CREATE TABLE log (was BIGINT, is_now BIGINT);
CREATE TRIGGER t AFTER UPDATE ON pair REFERENCING OLD TABLE AS o NEW TABLE AS n FOR EACH STATEMENT INSERT INTO log VALUES ((SELECT SUM(b) FROM o), (SELECT SUM(b) FROM n));
UPDATE pair SET b = b + 1 WHERE a IN (1, 3);
SELECT was, is_now FROM log;
--> rows
-->   20 | 22
--# case T212 11.49 UPDATE OF fires for the columns that a clause of MERGE sets, changed or not
CREATE TRIGGER t AFTER UPDATE OF b ON pair FOR EACH ROW CALL note('row');
CREATE TRIGGER s AFTER UPDATE OF a ON pair FOR EACH STATEMENT CALL note('never');
MERGE INTO pair USING (VALUES (3)) x (i) ON pair.a = x.i WHEN MATCHED THEN UPDATE SET b = b;
--> note 'row'
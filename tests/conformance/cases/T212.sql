-- T212 Enhanced trigger capability
--# case transition tables and statement triggers
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

--# case T213 11.49 INSTEAD OF triggers make a view changeable
CREATE VIEW sums (a, total) AS SELECT a, SUM(b) FROM pair GROUP BY a;
DELETE FROM sums;
--> fails 42807
CREATE TRIGGER i INSTEAD OF INSERT ON sums REFERENCING NEW AS n FOR EACH ROW INSERT INTO pair VALUES (n.a, n.total);
CREATE TRIGGER u INSTEAD OF UPDATE ON sums REFERENCING NEW AS n OLD AS o FOR EACH ROW UPDATE pair SET b = n.total WHERE a = o.a;
CREATE TRIGGER d INSTEAD OF DELETE ON sums REFERENCING OLD AS o FOR EACH ROW DELETE FROM pair WHERE a = o.a;
INSERT INTO sums VALUES (40, 400), (41, NULL);
--> change pair +2
UPDATE sums SET total = total + 1 WHERE a = 40;
--> change pair ~1
DELETE FROM sums WHERE a = 2;
--> change pair -2
SELECT total FROM sums WHERE a >= 40 ORDER BY a;
--> rows
-->   401
-->   NULL
CREATE TRIGGER x INSTEAD OF DELETE ON pair REFERENCING OLD AS o FOR EACH ROW CALL note('x');
--> fails 42809
--# case T213 11.49 INSTEAD OF has the rows of the view, old and new
CREATE VIEW v AS SELECT a, a * 2 AS twice FROM pair;
CREATE TRIGGER t INSTEAD OF UPDATE ON v REFERENCING OLD AS o NEW AS n FOR EACH ROW UPDATE pair SET a = n.twice / 2 WHERE a = o.a;
UPDATE v SET twice = 20 WHERE a = 3;
--> change pair ~1
SELECT COUNT(*) FROM pair WHERE a = 10;
--> value 1
--# case T213 11.49 an INSTEAD OF trigger is for each row, of all columns
CREATE VIEW v AS SELECT a FROM pair;
CREATE TRIGGER t INSTEAD OF DELETE ON v FOR EACH STATEMENT CALL note('x');
--> fails 42601
CREATE TRIGGER t INSTEAD OF UPDATE OF a ON v FOR EACH ROW CALL note('x');
--> fails 42601
CREATE TRIGGER t INSTEAD OF DELETE ON pair FOR EACH ROW CALL note('x');
--> fails 42809
CREATE TRIGGER t BEFORE DELETE ON v FOR EACH ROW CALL note('x');
--> fails 42807
--# case T213 11.49 a NULL in the view's row is one for the trigger
CREATE VIEW v AS SELECT a FROM pair;
CREATE TRIGGER t INSTEAD OF INSERT ON v REFERENCING NEW AS n FOR EACH ROW WHEN (n.a + 1 > 0 OR n.a IS NULL) INSERT INTO pair VALUES (n.a + 100, n.a * 2);
INSERT INTO v VALUES (NULL), (1), (-5);
--> change pair +2
SELECT a, b FROM pair WHERE a > 100;
--> rows
-->   101 | 2
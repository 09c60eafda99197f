-- T213 INSTEAD OF triggers
--# case INSTEAD OF triggers make a view changeable
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

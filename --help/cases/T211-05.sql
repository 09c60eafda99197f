--# case T211-05 11.49 WHEN chooses the rows that fire a trigger
CREATE TRIGGER t AFTER INSERT ON pair REFERENCING NEW AS n FOR EACH ROW WHEN (n.a > 5) CALL note('big ' || CAST(n.a AS VARCHAR(9)));
INSERT INTO pair VALUES (5, 1), (NULL, 1);
--> no notes
INSERT INTO pair VALUES (6, 1);
--> note 'big 6'
CREATE TRIGGER u AFTER INSERT ON pair REFERENCING NEW AS n FOR EACH ROW WHEN (n.a) CALL note('x');
--> fails 42804
--# case T211-05 11.49 WHEN that is unknown does not fire
CREATE TRIGGER t AFTER UPDATE ON pair REFERENCING OLD AS o NEW AS n FOR EACH ROW WHEN (n.b > o.b) CALL note('more');
UPDATE pair SET b = COALESCE(b, 5);
--> no notes
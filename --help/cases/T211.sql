--# case T211 11.49 triggers on a table
CREATE TABLE told (text VARCHAR(40));
CREATE TRIGGER t1 AFTER INSERT ON pair REFERENCING NEW ROW AS n FOR EACH ROW INSERT INTO told VALUES ('new ' || COALESCE(CAST(n.a AS VARCHAR(10)), 'null'));
INSERT INTO pair VALUES (7, 1), (NULL, 2);
--> change told +2
SELECT text FROM told;
--> rows in any order
-->   'new 7'
-->   'new null'
CREATE TRIGGER t1 AFTER INSERT ON pair FOR EACH ROW CALL note('x');
--> fails 42710
--# case T211 11.49 a trigger's condition leaves the statement undone
CREATE TRIGGER t AFTER INSERT ON pair REFERENCING NEW AS n FOR EACH ROW WHEN (n.a = 99) SIGNAL SQLSTATE '45020';
INSERT INTO pair VALUES (98, 1), (99, 1);
--> fails 45020
SELECT COUNT(*) FROM pair WHERE a > 90;
--> value 0
--# case T211 11.49 a trigger's changes fire triggers
CREATE TABLE log (n INTEGER);
CREATE TRIGGER t AFTER INSERT ON pair REFERENCING NEW AS n FOR EACH ROW INSERT INTO log VALUES (n.a);
CREATE TRIGGER u AFTER INSERT ON log REFERENCING NEW AS n FOR EACH ROW CALL note('logged ' || CAST(n.n AS VARCHAR(4)));
INSERT INTO pair VALUES (5, 5);
--> note 'logged 5'
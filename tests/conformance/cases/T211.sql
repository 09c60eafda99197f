-- T211 Basic trigger capability
--# case triggers on a table
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

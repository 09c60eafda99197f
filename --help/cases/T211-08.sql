--# case T211-08 11.49 triggers fire in the order in which they were made
CREATE TRIGGER z BEFORE INSERT ON pair REFERENCING NEW AS n FOR EACH ROW SET n.b = 1;
CREATE TRIGGER a BEFORE INSERT ON pair REFERENCING NEW AS n FOR EACH ROW SET n.b = n.b * 10 + 2;
CREATE TRIGGER m BEFORE INSERT ON pair REFERENCING NEW AS n FOR EACH ROW SET n.b = n.b * 10 + 3;
INSERT INTO pair VALUES (70, NULL);
SELECT b FROM pair WHERE a = 70;
--> value 123
SELECT trigger_name, action_order, action_timing FROM information_schema.triggers ORDER BY action_order;
--> rows
-->   'z' | 1 | 'BEFORE'
-->   'a' | 2 | 'BEFORE'
-->   'm' | 3 | 'BEFORE'
DROP TRIGGER b;
--> fails 42704
--# case T211-08 11.49 AFTER triggers: those for each row before those for the statement
CREATE TABLE log (k INTEGER GENERATED ALWAYS AS IDENTITY, what VARCHAR(20));
CREATE TRIGGER a AFTER UPDATE ON pair FOR EACH STATEMENT INSERT INTO log (what) VALUES ('AS');
CREATE TRIGGER b AFTER UPDATE ON pair FOR EACH ROW INSERT INTO log (what) VALUES ('AR');
UPDATE pair SET b = 0 WHERE a = 2;
SELECT LISTAGG(what, ' ') WITHIN GROUP (ORDER BY k) FROM log;
--> value 'AR AR AS'
-- T211-08 Basic trigger capability: Multiple triggers for the same event are executed in the order in which they were created in the catalog
--# case triggers fire in the order in which they were made
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

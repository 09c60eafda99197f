--# case T211-01 11.49 triggers on INSERT, UPDATE and DELETE
CREATE TRIGGER ti AFTER INSERT ON pair CALL note('insert');
CREATE TRIGGER tu AFTER UPDATE OF b ON pair CALL note('update');
CREATE TRIGGER td AFTER DELETE ON pair CALL note('delete');
INSERT INTO pair VALUES (NULL, NULL);
--> note 'insert'
UPDATE pair SET b = 1 WHERE a = 1;
--> note 'update'
UPDATE pair SET a = 1 WHERE a = 1;
--> no notes
DELETE FROM pair WHERE a = 1;
--> note 'delete'
CREATE TRIGGER tx AFTER UPDATE OF c ON pair CALL note('x');
--> fails 42703
--# case T211-01 11.49 UPDATE OF fires when the column is named, though its value stays
CREATE TRIGGER t AFTER UPDATE OF b ON pair FOR EACH STATEMENT CALL note('b');
UPDATE pair SET b = b WHERE a = 1;
--> note 'b'
UPDATE pair SET a = a WHERE a = 1;
--> no notes
--# case T211-01 11.49 MERGE fires for what it does
CREATE TRIGGER i AFTER INSERT ON pair FOR EACH ROW CALL note('in');
CREATE TRIGGER u AFTER UPDATE ON pair FOR EACH ROW CALL note('up');
MERGE INTO pair p USING (VALUES (3), (60)) AS n (a) ON p.a = n.a WHEN MATCHED THEN UPDATE SET b = 0 WHEN NOT MATCHED THEN INSERT VALUES (n.a, 0);
--> note 'in'
--> note 'up'
-- T211-01 Basic trigger capability: Triggers activated on UPDATE, INSERT, or DELETE of one base table
--# case triggers on INSERT, UPDATE and DELETE
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

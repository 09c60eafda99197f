--# case E151-01 17.7 COMMIT keeps the work, and does no harm without a transaction
COMMIT WORK;
UPDATE pair SET b = NULL WHERE a = 1;
COMMIT;
--> committed
ROLLBACK;
SELECT b FROM pair WHERE a = 1;
--> value NULL
CREATE PROCEDURE p() BEGIN ATOMIC COMMIT; END;
--> fails 42612
--# case E151-01 17.7 COMMIT keeps what other statements of the transaction did, failed ones not
INSERT INTO pair VALUES (70, 1);
INSERT INTO pair VALUES (71, 1 / 0);
--> fails 22012
COMMIT;
--> committed
SELECT COUNT(*) FROM pair WHERE a >= 70;
--> value 1
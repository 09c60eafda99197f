-- E151-01 Transaction support: COMMIT statement
--# case COMMIT keeps the work, and does no harm without a transaction
COMMIT WORK;
UPDATE pair SET b = NULL WHERE a = 1;
COMMIT;
--> committed
ROLLBACK;
SELECT b FROM pair WHERE a = 1;
--> value NULL
CREATE PROCEDURE p() BEGIN ATOMIC COMMIT; END;
--> fails 42612

-- T261 Chained transactions
--# case chained transactions keep their characteristics
START TRANSACTION READ ONLY;
COMMIT AND CHAIN;
--> open
DELETE FROM pair WHERE a IS NULL;
--> fails 25006
ROLLBACK AND NO CHAIN;
--> rolled back
DELETE FROM pair WHERE a IS NULL;
--> change pair -2
ROLLBACK AND CHAIN;
--> open
SELECT COUNT(*) FROM pair;
--> value 6
COMMIT CHAIN;
--> fails 42601

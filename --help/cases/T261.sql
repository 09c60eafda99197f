--# case T261 17.7 chained transactions keep their characteristics
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
--# case T261 17.7 AND CHAIN begins another with the same characteristics
SET TRANSACTION READ ONLY;
SELECT COUNT(*) FROM pair;
--> value 6
COMMIT AND CHAIN;
DELETE FROM pair;
--> fails 25006
ROLLBACK AND NO CHAIN;
DELETE FROM pair;
--> change pair -6
--# case T261 17.8 ROLLBACK TO does not chain
ROLLBACK AND CHAIN TO SAVEPOINT a;
--> fails 42601
--# case E152-01 17.2 ISOLATION LEVEL SERIALIZABLE
SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;
SELECT COUNT(*) FROM pair WHERE a IS NULL;
--> value 2
SET TRANSACTION ISOLATION LEVEL SERIALIZABLE;
--> fails 25001
ROLLBACK;
SET TRANSACTION ISOLATION LEVEL CHAOS;
--> fails 42601
--# case E152-01 17.3 two that read what the other writes: one of them is refused
--# model versions
--# session one isolation SERIALIZABLE
UPDATE pair SET b = (SELECT MAX(b) FROM pair WHERE a = 3) WHERE a = 1;
--# session two isolation SERIALIZABLE
UPDATE pair SET b = (SELECT MAX(b) FROM pair WHERE a = 1) + 1 WHERE a = 3;
--# session one
COMMIT;
--> committed
--# session two
COMMIT;
--> fails 40001
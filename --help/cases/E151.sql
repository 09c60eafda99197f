--# case E151 17.1 transactions end by COMMIT or ROLLBACK
INSERT INTO pair VALUES (50, NULL);
--> open
COMMIT;
--> committed
DELETE FROM pair;
--> change pair -7
ROLLBACK;
--> rolled back
SELECT COUNT(*) FROM pair;
--> value 7
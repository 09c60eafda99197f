-- T511 Transaction counts
--# case how many transactions were committed and rolled back
CREATE PROCEDURE counts(OUT c INTEGER, OUT r INTEGER, OUT active INTEGER) GET DIAGNOSTICS c = TRANSACTIONS_COMMITTED, r = TRANSACTIONS_ROLLED_BACK, active = TRANSACTION_ACTIVE;
COMMIT;
INSERT INTO pair VALUES (NULL, NULL);
COMMIT;
INSERT INTO pair VALUES (NULL, NULL);
ROLLBACK;
CALL counts(?, ?, ?);
--> value c = 2
--> value r = 1
--> value active = 0
CREATE PROCEDURE w(OUT c INTEGER) GET DIAGNOSTICS c = TRANSACTIONS_LOST;
--> fails 42601

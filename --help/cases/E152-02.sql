--# case E152-02 17.2 READ ONLY and READ WRITE
SET TRANSACTION READ ONLY;
INSERT INTO pair VALUES (1, NULL);
--> fails 25006
CREATE TABLE t (a INTEGER);
--> fails 25006
COMMIT;
SET TRANSACTION READ WRITE;
INSERT INTO pair VALUES (1, NULL);
--> change pair +1
--# case E152-02 17.3 a transaction that only reads refuses every change, also inside a routine
CREATE PROCEDURE p() UPDATE pair SET b = 1;
COMMIT;
SET TRANSACTION READ ONLY;
CALL p();
--> fails 25006
SELECT COUNT(*) FROM pair;
--> value 6
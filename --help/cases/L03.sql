-- L03 LOCK TABLE in share and exclusive mode
--# case LOCK TABLE in share and exclusive mode
--# session desk
LOCK TABLE pair IN SHARE MODE;
--> lock table pair S
--# session phone
LOCK TABLE pair IN SHARE MODE;
--> lock table pair S
UPDATE pair SET b = 1 WHERE a = 1;
--> waits for desk on pair
--# session desk
COMMIT;
--> wakes phone
--# session phone
--> change pair ~1
--> lock table pair SIX
COMMIT;
--# session desk
LOCK TABLE pair, guest IN EXCLUSIVE MODE;
--> lock table guest X
--# session phone
LOCK TABLE guest IN ROW SHARE MODE NOWAIT;
--> fails 5L001
INSERT INTO pair VALUES (NULL, NULL);
--> waits for desk on pair
--# session desk
ROLLBACK;
--# session phone
--> change pair +1
LOCK TABLE nothing IN SHARE MODE;
--> fails 42704
LOCK TABLE pair IN WEAK MODE;
--> fails 42601
ROLLBACK;

-- L04 intention locks on the table above a row lock; lock conversion
--# case intention locks above row locks, and conversion
--# session desk
SELECT id FROM guest WHERE id = 101 FOR SHARE;
--> lock table guest IS
--> lock row guest (101) S
UPDATE guest SET member = NULL WHERE id = 101;
--> lock table guest IX
--> lock row guest (101) X
LOCK TABLE guest IN SHARE MODE;
--> lock table guest SIX
--# session phone
SELECT id FROM guest WHERE id = 102 FOR SHARE;
--> lock table guest IS
UPDATE guest SET member = NULL WHERE id = 102;
--> waits for desk on guest
--# session desk
COMMIT;
--# session phone
--> lock table guest IX
ROLLBACK;
--# case a child row that is being inserted protects its parent
--# session desk
INSERT INTO stay VALUES (20, 'VARN', NULL, NULL, NULL);
--> lock row hut ('VARN') S
--# session phone
DELETE FROM hut WHERE code = 'VARN';
--> waits for desk on hut ('VARN')
--# session desk
ROLLBACK;
--# session phone
--> fails 23503
ROLLBACK;

-- L06 deadlock found from the wait-for graph; a stated, repeatable choice of victim; class 40 condition
--# case a deadlock of two: who closes the circle is rolled back
--# session desk
UPDATE guest SET name = 'a' WHERE id = 101;
--# session phone
UPDATE guest SET name = 'b' WHERE id = 102;
--# session desk
UPDATE guest SET name = 'a' WHERE id = 102;
--> waits for phone on guest (102)
--# session phone
UPDATE guest SET name = 'b' WHERE id = 101;
--> deadlock
--> fails 40001
--> rolled back
--> wakes desk
--# session desk
--> change guest ~1
COMMIT;
--# case a deadlock of three
--# session one
UPDATE guest SET name = 'a' WHERE id = 101;
--# session two
UPDATE guest SET name = 'b' WHERE id = 102;
--# session three
UPDATE guest SET name = 'c' WHERE id = 103;
--# session one
UPDATE guest SET name = 'a' WHERE id = 102;
--> waits for two
--# session two
UPDATE guest SET name = 'b' WHERE id = 103;
--> waits for three
--# session three
UPDATE guest SET name = 'c' WHERE id = 101;
--> deadlock
--> wakes two
--# session two
ROLLBACK;
--> wakes one
--# session one
ROLLBACK;
--# case a deadlock through conversion of shared locks
--# session desk
SELECT id FROM guest WHERE id = 101 FOR SHARE;
--# session phone
SELECT id FROM guest WHERE id = 101 FOR SHARE;
--# session desk
UPDATE guest SET member = NULL WHERE id = 101;
--> waits for phone
--# session phone
UPDATE guest SET member = NULL WHERE id = 101;
--> deadlock
--# session desk
ROLLBACK;

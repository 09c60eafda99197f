-- L02 NOWAIT, SKIP LOCKED and a bounded wait on FOR UPDATE and FOR SHARE
--# case NOWAIT, SKIP LOCKED and a bounded wait
--# session desk
UPDATE guest SET member = TRUE WHERE id = 102;
--# session phone patience 1m
SELECT id FROM guest WHERE id = 102 FOR UPDATE NOWAIT;
--> fails 5L001
SELECT id FROM guest ORDER BY id FOR UPDATE SKIP LOCKED;
--> rows
-->   101
-->   103
-->   104
SELECT id FROM guest WHERE id = 102 FOR SHARE WAIT 5;
--> waits for desk on guest (102)
--# wait 4s
--# session desk
SELECT 1;
--# wait 1s
--# session phone
--> fails 5L002
SELECT id FROM guest WHERE born IS NULL FOR UPDATE SKIP LOCKED;
--> value 103
SELECT id FROM guest FOR UPDATE WAIT soon;
--> fails 42601
ROLLBACK;
--# session desk
ROLLBACK;

-- E101 Basic data manipulation
--# case insert, update, delete
INSERT INTO guest VALUES (110, 'Orla', NULL, NULL);
--> change guest +1
UPDATE guest SET member = TRUE WHERE id = 110;
--> change guest (110) member NULL -> TRUE
DELETE FROM guest WHERE id = 110;
--> change guest -1
DELETE FROM nobody;
--> fails 42704

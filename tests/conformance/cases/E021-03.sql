-- E021-03 Character data types: Character literals
--# case character literals
SELECT 'it''s', '', N'national', U&'\0041lp';
--> rows
-->   'it''s' | '' | 'national' | 'Alp'
SELECT CHAR_LENGTH('');
--> value 0
SELECT 'open;
--> fails 42601

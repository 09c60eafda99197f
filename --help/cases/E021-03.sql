--# case E021-03 5.3 character literals
SELECT 'it''s', '', N'national', U&'\0041lp';
--> rows
-->   'it''s' | '' | 'national' | 'Alp'
SELECT CHAR_LENGTH('');
--> value 0
SELECT 'open;
--> fails 42601
--# case E021-03 5.3 two quotes stand for one, and nothing for nothing
SELECT CHAR_LENGTH(''''), '''' || '', 'a''''b';
--> rows
-->   1 | '''' | 'a''''b'
--# case E021-03 5.3 case and blanks count inside quotes
SELECT 'a' = 'A', ' a' = 'a', 'a b' = 'a  b';
--> rows
-->   FALSE | FALSE | FALSE
--# case E021-03 5.3 a Unicode literal has four or six digits, and its own escape
SELECT U&'\0048\+000048', U&'!0048' UESCAPE '!', U&'\\';
--> rows
-->   'HH' | 'H' | '\'
--# case E021-03 5.3 comments do not begin inside quotes
SELECT '--x', '/* y */';
--> rows
-->   '--x' | '/* y */'
--# case F271 5.3 character literals go on in the next line
SELECT 'one '
  'two '
  'three', NULL;
--> rows
-->   'one two three' | NULL
SELECT 'one' 'two';
--> fails 42601
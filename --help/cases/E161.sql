--# case E161 5.3 comments from two minus signs to the end of the line
SELECT 1 -- the first
  + 2 --+ 3
;
--> value 3
SELECT '--' || 'x', NULL; -- not a comment in a text
--> rows
-->   '--x' | NULL
SELECT 1 - - 1;
--> value 2
--# case E161 5.3 an operator without what follows it
SELECT 1 + -- 2
;
--> fails 42601
--# case F051-07 6.36 LOCALTIME
--# clock 2031-07-14 08:15:30
SELECT LOCALTIME;
--> value '08:15:30'
SELECT LOCALTIME < NULL;
--> value NULL
SELECT LOCALTIME = LOCALTIME(0), LOCALTIME + 1;
--> fails 42804
--# case F051-07 6.36 LOCALTIME goes on with the clock between statements
--# clock 2031-07-14 23:59:59
SELECT LOCALTIME;
--> value TIME '23:59:59'
--# wait 2s
SELECT LOCALTIME, CURRENT_DATE;
--> rows
-->   TIME '00:00:01' | DATE '2031-07-15'
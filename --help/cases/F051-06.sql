--# case F051-06 6.36 CURRENT_DATE is that of the virtual clock
--# clock 2031-07-14 23:59:00
SELECT CURRENT_DATE;
--> value '2031-07-14'
SELECT CURRENT_DATE = NULL;
--> value NULL
--# wait 60s
SELECT CURRENT_DATE;
--> value '2031-07-15'
SELECT CURRENT_DATE + 1;
--> fails 42804
--# case F051-06 6.36 the same for the whole statement, wherever it stands
--# clock 2031-12-31 23:59:59
SELECT COUNT(DISTINCT CURRENT_DATE), MAX(CURRENT_DATE) = (SELECT CURRENT_DATE) FROM pair;
--> rows
-->   1 | TRUE
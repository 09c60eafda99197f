-- F051-06 Basic date and time: CURRENT_DATE
--# case CURRENT_DATE is that of the virtual clock
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

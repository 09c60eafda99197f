-- F051-01 Basic date and time: DATE data type (including support of DATE literal)
--# case DATE
SELECT DATE '2031-07-14', opened FROM hut WHERE code IN ('VARN', 'SELT') ORDER BY code;
--> rows
-->   '2031-07-14' | NULL
-->   '2031-07-14' | '1931-06-01'
SELECT DATE '2032-02-29' - DATE '2032-02-28';
--> value 1
SELECT DATE '14.07.2031';
--> fails 22007
SELECT DATE '2031-02-29';
--> fails 22008

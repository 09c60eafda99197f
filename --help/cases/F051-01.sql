--# case F051-01 6.1 DATE
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
--# case F051-01 5.3 a date of a leap year, and the first and last of all
SELECT DATE '2028-02-29', DATE '0001-01-01', DATE '9999-12-31';
--> rows
-->   DATE '2028-02-29' | DATE '0001-01-01' | DATE '9999-12-31'
--# case F051-01 5.3 no thirteenth month, no day nought
SELECT DATE '2031-13-01';
--> fails 22008
--# case F051-01 5.3 nor a twenty-ninth of February in a hundredth year
SELECT DATE '2100-02-29';
--> fails 22008
--# case F051-01 5.3 a date has three parts
SELECT DATE '2031-07';
--> fails 22007
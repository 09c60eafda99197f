-- E121-02 Basic cursor support: ORDER BY columns need not be in select list
--# case ORDER BY columns that are not selected
SELECT name FROM hut ORDER BY height DESC;
--> rows
-->   'Dorn cabin'
-->   'Selt refuge'
-->   'Kolm hut'
-->   'Varn hut'
SELECT DISTINCT name FROM hut ORDER BY height;
--> fails 42601

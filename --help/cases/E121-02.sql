--# case E121-02 14.3 ORDER BY columns that are not selected
SELECT name FROM hut ORDER BY height DESC;
--> rows
-->   'Dorn cabin'
-->   'Selt refuge'
-->   'Kolm hut'
-->   'Varn hut'
SELECT DISTINCT name FROM hut ORDER BY height;
--> fails 42601
--# case E121-02 10.10 each key has its own direction
SELECT a, b FROM pair WHERE a IS NOT NULL ORDER BY a DESC, b ASC;
--> rows
-->   3 | 10
-->   2 | 20
-->   2 | NULL
-->   1 | 10
--# case E121-02 10.10 NULLS FIRST and LAST in either direction
SELECT a FROM (VALUES (1), (NULL), (2)) AS t (a) ORDER BY a DESC NULLS LAST;
--> rows
-->   2
-->   1
-->   NULL
--# case E121-02 10.10 without a word NULL stands where the greatest does
SELECT a FROM (VALUES (1), (NULL), (2)) AS t (a) ORDER BY a DESC;
--> rows
-->   NULL
-->   2
-->   1
-- E031-02 Identifiers: Lower case identifiers
--# case regular identifiers in any case mean the same
SELECT Name, NAME, name FROM Hut WHERE CODE = 'SELT';
--> rows
-->   'Selt refuge' | 'Selt refuge' | 'Selt refuge'
SELECT nam FROM hut;
--> fails 42703 like '%did you mean name%'

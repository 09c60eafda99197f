--# case E031-02 5.4 regular identifiers in any case mean the same
SELECT Name, NAME, name FROM Hut WHERE CODE = 'SELT';
--> rows
-->   'Selt refuge' | 'Selt refuge' | 'Selt refuge'
SELECT nam FROM hut;
--> fails 42703 like '%did you mean name%'
--# case E031-02 5.2 keywords in any case
sElEcT DiStInCt a fRoM pair WhErE a = 1;
--> value 1
--# case E031-02 5.2 a reserved word is no name
CREATE TABLE table (a INTEGER);
--> fails 42601
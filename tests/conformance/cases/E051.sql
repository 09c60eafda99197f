-- E051 Basic query specification
--# case a query specification with all its clauses
SELECT DISTINCT s.hut AS code, COUNT(*) AS nights FROM stay AS s WHERE s.price IS NOT NULL GROUP BY s.hut HAVING COUNT(*) > 1;
--> rows in any order
-->   code | nights
-->   'VARN' | 2
-->   'KOLM' | 3
SELECT hut, price FROM stay GROUP BY hut;
--> fails 42803

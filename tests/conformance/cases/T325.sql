-- T325 Qualified SQL parameter references
--# case parameters qualified by the name of their routine
CREATE FUNCTION cheapest(hut CHAR(4)) RETURNS DECIMAL(8,2) RETURN (SELECT MIN(price) FROM stay WHERE stay.hut = cheapest.hut);
SELECT cheapest('VARN'), cheapest(NULL);
--> rows
-->   31.50 | NULL
CREATE FUNCTION wrong(hut CHAR(4)) RETURNS INTEGER RETURN other.hut;
--> fails 42703

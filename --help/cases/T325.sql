--# case T325 11.60 parameters qualified by the name of their routine
CREATE FUNCTION cheapest(hut CHAR(4)) RETURNS DECIMAL(8,2) RETURN (SELECT MIN(price) FROM stay WHERE stay.hut = cheapest.hut);
SELECT cheapest('VARN'), cheapest(NULL);
--> rows
-->   31.50 | NULL
CREATE FUNCTION wrong(hut CHAR(4)) RETURNS INTEGER RETURN other.hut;
--> fails 42703
--# case T325 11.60 a parameter is named by its routine where a column hides it
CREATE PROCEDURE p(IN id INTEGER, OUT n VARCHAR(30)) SELECT name INTO n FROM guest WHERE guest.id = p.id;
CALL p(103, ?);
--> value 'Mirel'
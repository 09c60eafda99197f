--# case E091-01 10.9 AVG leaves NULL out
SELECT AVG(b), AVG(price) FROM pair, stay;
--> rows
-->   17.5 | 31.5
SELECT AVG(a) FROM pair WHERE a > 9;
--> value NULL
SELECT AVG(name) FROM hut;
--> fails 42804
--# case E091-01 10.9 AVG of integers has digits behind the point
SELECT AVG(x) FROM (VALUES (1), (2)) AS t (x);
--> value 1.5
--# case E091-01 10.9 AVG counts the values that there are, not the rows
SELECT AVG(x) FROM (VALUES (1), (NULL), (5)) AS t (x);
--> value 3
--# case E091-01 10.9 AVG of approximate numbers is approximate
SELECT AVG(x) FROM (VALUES (1E0), (2E0)) AS t (x);
--> value 1.5
--# case E091-01 10.9 AVG of texts is refused
SELECT AVG(name) FROM guest;
--> fails 42804
--# case E091-01 10.9 what has no room behind the point is rounded half away from nought
SELECT AVG(x), AVG(-x) FROM (VALUES (0.000001), (0.000002)) AS t (x);
--> rows
-->   0.000002 | -0.000002
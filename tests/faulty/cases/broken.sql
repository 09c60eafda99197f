--# case cannot be read
SELEC twice(2);
--> value 12

--# case nor this
SELECT twice(3);
--> valu 8

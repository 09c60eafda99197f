-- E011-03 Numeric data types: DECIMAL and NUMERIC data types
--# case DECIMAL and NUMERIC are exact
SELECT CAST(1.005 AS DECIMAL(5,2)), CAST(-7 AS NUMERIC(3)), 0.1 + 0.2;
--> rows
-->   1.01 | -7 | 0.3
SELECT CAST(NULL AS NUMERIC(3));
--> value NULL
SELECT CAST(1000 AS DECIMAL(5,2));
--> fails 22003
SELECT CAST(1 AS DECIMAL(50,2));
--> fails 42601

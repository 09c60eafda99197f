-- E011 Numeric data types
--# case all numeric types together
SELECT CAST(1 AS SMALLINT) + CAST(2 AS INTEGER) * CAST(1.5 AS DECIMAL(5,1)) - CAST(0.5 AS REAL);
--> value 3.5
SELECT CAST(NULL AS INTEGER) + 1;
--> value NULL
SELECT 1 + 'one';
--> fails 42804

--# case F201 6.13 CAST between families of types
SELECT CAST('12' AS INTEGER), CAST(12.5 AS INTEGER), CAST(TRUE AS VARCHAR(5)), CAST('false' AS BOOLEAN), CAST(1E2 AS DECIMAL(5,1));
--> rows
-->   12 | 13 | 'TRUE' | FALSE | 100.0
SELECT CAST(NULL AS DATE);
--> value NULL
SELECT CAST('twelve' AS INTEGER);
--> fails 22018
SELECT CAST(DATE '2031-01-01' AS INTEGER);
--> fails 42804
--# case F201 6.13 from text to number, blanks around it allowed
SELECT CAST(' 12 ' AS INTEGER), CAST('-1.5' AS DECIMAL(3,1)), CAST('+7' AS SMALLINT), CAST('1e2' AS DOUBLE PRECISION);
--> rows
-->   12 | -1.5 | 7 | 100
--# case F201 6.13 what is no number is 22018
SELECT CAST('1 2' AS INTEGER);
--> fails 22018
--# case F201 6.13 the empty text is no number
SELECT CAST('' AS INTEGER);
--> fails 22018
--# case F201 6.13 from number to text without what is not needed
SELECT CAST(1.50 AS VARCHAR(9)), CAST(-3 AS VARCHAR(9)), CAST(0.5 AS VARCHAR(9)), CAST(1E2 AS VARCHAR(9));
--> rows
-->   '1.50' | '-3' | '0.5' | '100'
--# case F201 6.13 a number that has no room in the text is 22001
SELECT CAST(12345 AS VARCHAR(3));
--> fails 22001
--# case F201 6.13 truth values from and to texts, in any case
SELECT CAST('TRUE' AS BOOLEAN), CAST(' false ' AS BOOLEAN), CAST(FALSE AS VARCHAR(5)), CAST('unknown' AS BOOLEAN);
--> rows
-->   TRUE | FALSE | 'FALSE' | NULL
--# case F201 6.13 a truth value is no number
SELECT CAST(TRUE AS INTEGER);
--> fails 42804
--# case F201 6.13 CAST of NULL is a NULL of the type
SELECT CAST(NULL AS INTEGER) + 1, CAST(NULL AS VARCHAR(3)) || 'a';
--> rows
-->   NULL | NULL
--# case F201 6.13 a text in a binary and back is refused
SELECT CAST(X'41' AS INTEGER);
--> fails 42804
--# case F201 6.13 an interval of one field to a number and back
SELECT CAST(INTERVAL '2' YEAR AS INTEGER), CAST(INTERVAL '30' MONTH AS INTEGER), CAST(INTERVAL '5' DAY AS SMALLINT), CAST(3 AS INTERVAL YEAR), CAST(90 AS INTERVAL MINUTE);
--> rows
-->   2 | 30 | 5 | INTERVAL '3' YEAR | INTERVAL '90' MINUTE
--# case F201 6.13 an interval of several fields is no number
SELECT CAST(INTERVAL '1-6' YEAR TO MONTH AS INTEGER);
--> fails 42804
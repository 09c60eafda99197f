--# case E011-01 6.1 INTEGER and SMALLINT and their ranges
SELECT CAST(32767 AS SMALLINT), CAST(-2147483648 AS INTEGER), CAST(NULL AS INT);
--> rows
-->   32767 | -2147483648 | NULL
SELECT CAST(32768 AS SMALLINT);
--> fails 22003
SELECT 2147483647 + 1;
--> fails 22003
INSERT INTO pair VALUES (2147483648, 1);
--> fails 22003
--# case E011-01 5.3 an exact literal without a point has scale nought, one of ten digits or more still has its value
SELECT 9999999999, 123456789012345678901234567890;
--> rows
-->   9999999999 | 123456789012345678901234567890
--# case E011-01 6.1 SMALLINT, INTEGER and BIGINT hold their least value
SELECT CAST(-32768 AS SMALLINT), CAST(-2147483648 AS INT), CAST(-9223372036854775808 AS BIGINT);
--> rows
-->   -32768 | -2147483648 | -9223372036854775808
--# case E011-01 6.1 one below the least value does not fit
SELECT CAST(-32769 AS SMALLINT);
--> fails 22003
--# case E011-01 6.29 a sum beyond the type is 22003, on either side
SELECT -2147483648 - 1;
--> fails 22003
--# case E011-01 6.29 the least integer has no positive of its type
SELECT -CAST(-2147483648 AS INTEGER);
--> fails 22003
--# case E011-01 9.2 a number that a SMALLINT column cannot hold is refused at assignment
UPDATE hut SET beds = 32768;
--> fails 22003
--# case E011-01 9.2 a parameter is assigned as a column is
CREATE FUNCTION small(n SMALLINT) RETURNS SMALLINT RETURN n;
SELECT small(32767), small(NULL);
--> rows
-->   32767 | NULL
SELECT small(40000);
--> fails 22003
--# case E011-01 6.29 a product of SMALLINTs has the type of its operands
SELECT CAST(200 AS SMALLINT) * CAST(200 AS SMALLINT);
--> fails 22003
-- P002-01 Computational completeness: compound statement
--# case compound statements nest, and a name inside hides one outside
CREATE FUNCTION hide() RETURNS VARCHAR(20) outer_block: BEGIN
  DECLARE x VARCHAR(10) DEFAULT 'out';
  inner_block: BEGIN
    DECLARE x VARCHAR(10) DEFAULT 'in';
    SET outer_block.x = x || outer_block.x;
  END inner_block;
  RETURN x;
END outer_block;
SELECT hide();
--> value 'inout'
--# case an atomic block takes back what it did
CREATE PROCEDURE p() BEGIN ATOMIC INSERT INTO pair VALUES (90, NULL); SIGNAL SQLSTATE '45001'; END;
CALL p();
--> fails 45001
--> no change
CREATE PROCEDURE q() a: BEGIN END b;
--> fails 42601

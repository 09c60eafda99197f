--# case P002-14 4/16.2 SIGNAL with its items
CREATE PROCEDURE p(IN n INTEGER) IF n < 0 THEN SIGNAL SQLSTATE '45020' SET MESSAGE_TEXT = 'below zero: ' || CAST(n AS VARCHAR(10)); END IF;
CALL p(-4);
--> fails 45020 like 'below zero: -4' in p
CALL p(NULL);
SIGNAL SQLSTATE '00000';
--> fails 42601
CREATE PROCEDURE q() SIGNAL SQLSTATE '45020' SET MESSAGE_TEXT = NULL;
CALL q();
--> fails 22004
CREATE PROCEDURE r() SIGNAL nothing;
--> fails 42704
--# case P002-14 4/16.2 what is signalled carries its text and items
CREATE PROCEDURE p() SIGNAL SQLSTATE 'UH001' SET MESSAGE_TEXT = 'no bunk', TABLE_NAME = 'bunk';
CREATE PROCEDURE q(OUT m VARCHAR(40), OUT t VARCHAR(40)) BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT, t = TABLE_NAME; CALL p(); END;
CALL q(?, ?);
--> value m = 'no bunk'
--> value t = 'bunk'
--# case P002-14 4/16.2 a state is five letters or digits
CREATE PROCEDURE p() SIGNAL SQLSTATE '4500';
--> fails 42601
--# case P002-14 4/16.2 success cannot be signalled
CREATE PROCEDURE p() SIGNAL SQLSTATE '00000';
--> fails 42601
--# case P002-14 4/16.2 class 02 and 01 without a handler go on
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE n INTEGER DEFAULT 1; SIGNAL SQLSTATE '02000'; SIGNAL SQLSTATE '01000'; SET n = 2; RETURN n; END;
SELECT f();
--> value 2
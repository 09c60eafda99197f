-- P002-14 Computational completeness: SIGNAL statement
--# case SIGNAL with its items
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

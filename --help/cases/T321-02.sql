--# case T321-02 10.4 stored procedures with IN, OUT and INOUT
CREATE PROCEDURE step(IN by_how_much INTEGER, INOUT n INTEGER, OUT text VARCHAR(20)) BEGIN SET n = n + by_how_much; SET text = 'now ' || CAST(n AS VARCHAR(10)); END;
CALL step(5, 10, ?);
--> value n = 15
--> value text = 'now 15'
CALL step(NULL, 10, ?);
--> value text = NULL
CALL step(1, 'x', ?);
--> fails 42884
CREATE PROCEDURE wrong(IN n INTEGER) SET n = 1;
--> fails 42807
--# case T321-02 11.60 IN, OUT and INOUT
CREATE PROCEDURE p(IN a INTEGER, INOUT b INTEGER, OUT c INTEGER) BEGIN SET c = a + b; SET b = b * 10; END;
CREATE FUNCTION f() RETURNS VARCHAR(20) BEGIN DECLARE x INTEGER DEFAULT 2; DECLARE y INTEGER DEFAULT 99; CALL p(1, x, y); RETURN CAST(x AS VARCHAR(5)) || ' ' || CAST(y AS VARCHAR(5)); END;
SELECT f();
--> value '20 3'
--# case T321-02 11.60 an OUT argument is something that can be set
CREATE PROCEDURE p(OUT n INTEGER) SET n = 1;
CREATE PROCEDURE r() CALL p(1 + 1);
--> fails 42804
--# case T321-02 11.60 what did not end well sets no OUT argument
CREATE PROCEDURE p(OUT n INTEGER) BEGIN SET n = 1; SIGNAL SQLSTATE '45000'; END;
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE x INTEGER DEFAULT 9; DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' BEGIN END; CALL p(x); RETURN x; END;
SELECT f();
--> value 9
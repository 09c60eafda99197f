--# case T321-04 16.1 CALL
CREATE PROCEDURE log_it(IN text VARCHAR(20)) CALL note(text);
CALL log_it('hello');
--> note 'hello'
CALL log_it(NULL);
--> note 'NULL'
CALL nothing(1);
--> fails 42883
CREATE FUNCTION f() RETURNS INTEGER RETURN 1;
CALL f();
--> fails 42809
--# case T321-04 16.1 CALL is no function, a function no CALL
CREATE FUNCTION f() RETURNS INTEGER RETURN 1;
CALL f();
--> fails 42809
--# case T321-04 16.1 an OUT parameter is NULL when the body begins
CREATE PROCEDURE p(OUT n INTEGER, OUT was BOOLEAN) BEGIN SET was = n IS NULL; SET n = 1; END;
CALL p(?, ?);
--> value n = 1
--> value was = TRUE
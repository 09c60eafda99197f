-- T321-04 Basic SQL-invoked routines: CALL statement
--# case CALL
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

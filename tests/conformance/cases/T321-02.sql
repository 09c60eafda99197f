-- T321-02 Basic SQL-invoked routines: User-defined stored procedures with no overloading
--# case stored procedures with IN, OUT and INOUT
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

-- L05 first-come first-served wait queue; a wait ends by grant, timeout on the virtual clock, or deadlock
--# case waits are served first come first served
--# session one
UPDATE guest SET name = 'one' WHERE id = 101;
--# session two
UPDATE guest SET name = name || ' two' WHERE id = 101;
--> waits for one on guest (101)
--# session three
UPDATE guest SET name = name || ' three' WHERE id = 101;
--> waits for one on guest (101)
--# session one
COMMIT;
--> wakes two
--# session two
COMMIT;
--> wakes three
--# session three
COMMIT;
SELECT name FROM guest WHERE id = 101;
--> value 'one two three'
--# case a wait ends when the patience runs out on the virtual clock
--# session one
UPDATE guest SET name = NULL || 'x' WHERE FALSE;
UPDATE guest SET name = 'one' WHERE id = 101;
--# session two patience 5s
UPDATE guest SET name = 'two' WHERE id = 101;
--> waits for one on guest (101)
--# wait 4s
--# session one
SELECT 1;
--# wait 2s
--# session two
--> fails 5L002
ROLLBACK;
--# session one
ROLLBACK;
--# case a wait in the middle of a loop in a function in a query in a procedure goes on from there
CREATE FUNCTION touch_all() RETURNS INTEGER BEGIN
  DECLARE n INTEGER DEFAULT 0;
  FOR g AS SELECT id FROM guest ORDER BY id DO UPDATE guest SET member = TRUE WHERE id = g.id; SET n = n + 1; END FOR;
  RETURN n;
END;
CREATE PROCEDURE p(OUT n INTEGER) SELECT touch_all() INTO n;
COMMIT;
--# session one
UPDATE guest SET name = 'held' WHERE id = 103;
--# session two
CALL p(?);
--> waits for one on guest (103)
--# session one
COMMIT;
--# session two
--> value 4
--> change guest ~2
ROLLBACK;

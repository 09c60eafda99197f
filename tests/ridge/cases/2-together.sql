-- Sessions: waits, deadlocks, levels, both models.
--# setup
UPDATE parcel SET weight = 1 WHERE id = 1;
COMMIT;

--# case three of them, each waits for the next, and one falls
--# tags locks
--# session the_first_walker_of_the_day
UPDATE parcel SET label = 'first' WHERE id = 1;
--# session b patience 30s
UPDATE parcel SET label = 'second' WHERE id = 2;
--# session c isolation serializable
UPDATE parcel SET label = 'third' WHERE id = 3;
--# session the_first_walker_of_the_day
UPDATE parcel SET label = 'first' WHERE id = 2;
--> waits for b on parcel (2)
--# session b
UPDATE parcel SET label = 'second' WHERE id = 3;
--> waits for c on parcel (3)
--# session c
UPDATE parcel SET label = 'third' WHERE id = 1;
--> deadlock
--> wakes b
--# session b
--> count 1
COMMIT;
--# session the_first_walker_of_the_day
COMMIT;

--# case patience runs out
--# session a
LOCK TABLE depot IN EXCLUSIVE MODE;
--# session b patience 5s
SELECT code FROM depot FOR UPDATE;
--# wait 6s
--# session b
--> fails 5L002
--# session a
ROLLBACK;
--> no locks

--# case one still waits at the end
--# session a
DELETE FROM carrying WHERE walker = 1;
--# session b
UPDATE carrying SET share = 0.1;

--# case levels side by side, with very many rungs for one of them and a title that is not short either, so that it must be cut
--# twin isolation = read committed | serializable
--# session a
SELECT COUNT(*) FROM depot;
--# session b
INSERT INTO depot (code, name) VALUES ('W', 'west');
COMMIT;
--> committed
--# session a
SELECT COUNT(*) FROM depot;
--> under read committed: value 4
--> under serializable: value 3
COMMIT;

--# case moved, undone in part, and told by a trigger
--# session a autocommit on
UPDATE parcel SET depot = 'E' WHERE id < 4;
--> committed
--# session b
SAVEPOINT one;
INSERT INTO depot (code, name) VALUES ('Z', 'last');
--> count 1
ROLLBACK TO SAVEPOINT one;
--> to savepoint one
CALL weigh_again(0.5);
SELECT what, at, spent, parts FROM yard.log_of_all_that_happened_in_the_yard ORDER BY n;
--# session a
UPDATE parcel SET depot = NULL WHERE id = 4;
--# session b
ROLLBACK;
--# session a
SELECT NEXT VALUE FOR tickets;

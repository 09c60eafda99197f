--# case E141-06 11.9 what a CHECK, a computed column or WHEN of a trigger calls may read, not change data
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER MODIFIES SQL DATA BEGIN DELETE FROM guest; RETURN n; END;
CREATE FUNCTION g(n INTEGER) RETURNS INTEGER READS SQL DATA RETURN (SELECT COUNT(*) FROM hut) + n;
CREATE TABLE t (a INTEGER CHECK (f(a) > 0));
--> fails 42985
CREATE TABLE t (a INTEGER, b INTEGER GENERATED ALWAYS AS (f(a)));
--> fails 42985
CREATE DOMAIN d AS INTEGER CHECK (f(VALUE) > 0);
--> fails 42985
CREATE TRIGGER x AFTER INSERT ON pair REFERENCING NEW AS n FOR EACH ROW WHEN (f(n.a) > 0) CALL note('x');
--> fails 42985
CREATE TABLE t (a INTEGER CHECK (g(a) > 4));
INSERT INTO t VALUES (0);
--> fails 23514
--# case E141-06 11.9 CHECK lets unknown pass
INSERT INTO hut VALUES ('AAAA', 'x', 1, NULL, NULL);
--> change hut +1
INSERT INTO hut VALUES ('BBBB', 'x', 1, 0, NULL);
--> fails 23514
UPDATE hut SET beds = -1;
--> fails 23514
CREATE TABLE t (a INTEGER CHECK (a + 1));
--> fails 42804
CREATE TABLE t (a INTEGER CHECK (SUM(a) > 1));
--> fails 42803
--# case E141-06 11.9 a CHECK of several columns
CREATE TABLE t (a INTEGER, b INTEGER, CHECK (a < b OR b IS NULL));
INSERT INTO t VALUES (1, 2), (5, NULL), (NULL, 1);
--> change t +3
UPDATE t SET b = 1 WHERE a = 1;
--> fails 23514
--# case E141-06 11.9 a CHECK of a column sees its own table only
CREATE TABLE t (a INTEGER CHECK (b > 0));
--> fails 42703
--# case E141-06 11.9 a condition that cannot be computed is its own condition
CREATE TABLE t (a INTEGER CHECK (10 / a > 1));
INSERT INTO t VALUES (0);
--> fails 22012
--# case T211-06 11.49 BEFORE triggers come before constraints, AFTER triggers behind them
CREATE TABLE t (a INTEGER NOT NULL CHECK (a > 0));
CREATE TRIGGER b BEFORE INSERT ON t REFERENCING NEW AS n FOR EACH ROW SET n.a = COALESCE(n.a, 1);
CREATE TRIGGER c AFTER INSERT ON t FOR EACH ROW CALL note('stored');
INSERT INTO t VALUES (NULL);
--> change t +1
--> note 'stored'
INSERT INTO t VALUES (-1);
--> fails 23514
--> no notes
--# case T211-06 11.49 a cascade and its triggers come before AFTER triggers of the statement
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c (p INTEGER REFERENCES p ON DELETE CASCADE);
CREATE TABLE log (k INTEGER GENERATED ALWAYS AS IDENTITY, what VARCHAR(20));
CREATE TRIGGER one AFTER DELETE ON p FOR EACH STATEMENT INSERT INTO log (what) SELECT 'children ' || CAST(COUNT(*) AS VARCHAR(3)) FROM c;
INSERT INTO p VALUES (1);
INSERT INTO c VALUES (1), (1);
DELETE FROM p;
SELECT what FROM log;
--> value 'children 0'
--# case T211-06 11.49 a BEFORE trigger's value is what constraints see
CREATE TRIGGER t BEFORE UPDATE ON hut REFERENCING NEW AS n FOR EACH ROW WHEN (n.beds <= 0) SET n.beds = 1;
UPDATE hut SET beds = -5 WHERE code = 'VARN';
SELECT beds FROM hut WHERE code = 'VARN';
--> value 1
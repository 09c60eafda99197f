-- T211-06 Basic trigger capability: Support for run-time rules for the interaction of triggers and constraints
--# case BEFORE triggers come before constraints, AFTER triggers behind them
CREATE TABLE t (a INTEGER NOT NULL CHECK (a > 0));
CREATE TRIGGER b BEFORE INSERT ON t REFERENCING NEW AS n FOR EACH ROW SET n.a = COALESCE(n.a, 1);
CREATE TRIGGER c AFTER INSERT ON t FOR EACH ROW CALL note('stored');
INSERT INTO t VALUES (NULL);
--> change t +1
--> note 'stored'
INSERT INTO t VALUES (-1);
--> fails 23514
--> no notes

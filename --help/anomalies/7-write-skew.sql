--# case write skew: two check what the other is about to change, and both change
CREATE TABLE warden (name VARCHAR(5) PRIMARY KEY, on_duty BOOLEAN);
INSERT INTO warden VALUES ('Ilva', TRUE), ('Brann', TRUE);
COMMIT;
--# session a
UPDATE warden SET on_duty = FALSE WHERE name = 'Ilva' AND (SELECT COUNT(*) FROM warden w WHERE w.on_duty) > 1;
--# session b
UPDATE warden SET on_duty = FALSE WHERE name = 'Brann' AND (SELECT COUNT(*) FROM warden w WHERE w.on_duty) > 1;
--# session a
COMMIT;
--# session b
COMMIT;
--# session judge
SELECT COUNT(*) = 0 FROM warden WHERE on_duty;

-- F032 CASCADE drop behavior
--# case DROP CASCADE drops what depends on it
CREATE VIEW v AS SELECT a FROM pair;
CREATE VIEW w AS SELECT a FROM v WHERE a IS NOT NULL;
DROP TABLE pair;
--> fails 42893
DROP TABLE pair CASCADE;
SELECT 1 FROM w;
--> fails 42704
DROP TABLE guest CASCADE;
INSERT INTO stay VALUES (50, 'VARN', 999, NULL, NULL);
--> change stay +1

-- E021 Character data types
--# case the character types together
SELECT UPPER(TRIM('  varn ')) || '-' || CHAR_LENGTH(CAST('hut' AS CHAR(5)));
--> fails 42804
SELECT UPPER(TRIM('  varn ')) || '-' || SUBSTRING('Kolm hut' FROM 6);
--> value 'VARN-hut'
SELECT POSITION('x' IN CAST(NULL AS VARCHAR(3)));
--> value NULL

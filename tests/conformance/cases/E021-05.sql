-- E021-05 Character data types: OCTET_LENGTH function
--# case OCTET_LENGTH counts octets
SELECT OCTET_LENGTH('hütte'), OCTET_LENGTH(X'0A0B'), OCTET_LENGTH(NULL);
--> rows
-->   6 | 2 | NULL
SELECT OCTET_LENGTH(DATE '2031-01-01');
--> fails 42884

--# case E021-05 6.30 OCTET_LENGTH counts octets
SELECT OCTET_LENGTH('hütte'), OCTET_LENGTH(X'0A0B'), OCTET_LENGTH(NULL);
--> rows
-->   6 | 2 | NULL
SELECT OCTET_LENGTH(DATE '2031-01-01');
--> fails 42884
--# case E021-05 6.30 OCTET_LENGTH of the empty text is nought
SELECT OCTET_LENGTH(''), OCTET_LENGTH('é'), OCTET_LENGTH(CAST('a' AS CHAR(3)));
--> rows
-->   0 | 2 | 3
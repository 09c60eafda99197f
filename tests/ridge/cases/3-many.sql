-- Many rungs.
--# case a hundred rungs
UPDATE parcel SET weight = 0 WHERE id = 1;
--> count 1
SELECT 1 AS n, levels(1);
SELECT 2 AS n, levels(2);
SELECT 3 AS n, levels(3);
UPDATE parcel SET weight = 4 WHERE id = 5;
SELECT 5 AS n, levels(5);
--> count 1
SELECT 6 AS n, levels(6);
SELECT 7 AS n, levels(7);
UPDATE parcel SET weight = 8 WHERE id = 9;
SELECT 9 AS n, levels(0);
SELECT 10 AS n, levels(1);
--> count 1
SELECT 11 AS n, levels(2);
UPDATE parcel SET weight = 12 WHERE id = 13;
SELECT 13 AS n, levels(4);
SELECT 14 AS n, levels(5);
SELECT 15 AS n, levels(6);
--> count 1
UPDATE parcel SET weight = 16 WHERE id = 17;
SELECT 17 AS n, levels(8);
SELECT 18 AS n, levels(0);
SELECT 19 AS n, levels(1);
UPDATE parcel SET weight = 20 WHERE id = 21;
--> count 1
SELECT 21 AS n, levels(3);
SELECT 22 AS n, levels(4);
SELECT 23 AS n, levels(5);
UPDATE parcel SET weight = 24 WHERE id = 1;
SELECT 25 AS n, levels(7);
--> count 1
SELECT 26 AS n, levels(8);
SELECT 27 AS n, levels(0);
UPDATE parcel SET weight = 28 WHERE id = 5;
SELECT 29 AS n, levels(2);
SELECT 30 AS n, levels(3);
--> count 1
SELECT 31 AS n, levels(4);
UPDATE parcel SET weight = 2 WHERE id = 9;
SELECT 33 AS n, levels(6);
SELECT 34 AS n, levels(7);
SELECT 35 AS n, levels(8);
--> count 1
UPDATE parcel SET weight = 6 WHERE id = 13;
SELECT 37 AS n, levels(1);
SELECT 38 AS n, levels(2);
SELECT 39 AS n, levels(3);
UPDATE parcel SET weight = 10 WHERE id = 17;
--> count 1
SELECT 41 AS n, levels(5);
SELECT 42 AS n, levels(6);
SELECT 43 AS n, levels(7);
UPDATE parcel SET weight = 14 WHERE id = 21;
SELECT 45 AS n, levels(0);
--> count 1
SELECT 46 AS n, levels(1);
SELECT 47 AS n, levels(2);
UPDATE parcel SET weight = 18 WHERE id = 1;
SELECT 49 AS n, levels(4);
SELECT 50 AS n, levels(5);
--> count 1
SELECT 51 AS n, levels(6);
UPDATE parcel SET weight = 22 WHERE id = 5;
SELECT 53 AS n, levels(8);
SELECT 54 AS n, levels(0);
SELECT 55 AS n, levels(1);
--> count 1
UPDATE parcel SET weight = 26 WHERE id = 9;
SELECT 57 AS n, levels(3);
SELECT 58 AS n, levels(4);
SELECT 59 AS n, levels(5);
UPDATE parcel SET weight = 0 WHERE id = 13;
--> count 1
SELECT 61 AS n, levels(7);
SELECT 62 AS n, levels(8);
SELECT 63 AS n, levels(0);
UPDATE parcel SET weight = 4 WHERE id = 17;
SELECT 65 AS n, levels(2);
--> count 1
SELECT 66 AS n, levels(3);
SELECT 67 AS n, levels(4);
UPDATE parcel SET weight = 8 WHERE id = 21;
SELECT 69 AS n, levels(6);
SELECT 70 AS n, levels(7);
--> count 1
SELECT 71 AS n, levels(8);
UPDATE parcel SET weight = 12 WHERE id = 1;
SELECT 73 AS n, levels(1);
SELECT 74 AS n, levels(2);
SELECT 75 AS n, levels(3);
--> count 1
UPDATE parcel SET weight = 16 WHERE id = 5;
SELECT 77 AS n, levels(5);
SELECT 78 AS n, levels(6);
SELECT 79 AS n, levels(7);
UPDATE parcel SET weight = 20 WHERE id = 9;
--> count 1
SELECT 81 AS n, levels(0);
SELECT 82 AS n, levels(1);
SELECT 83 AS n, levels(2);
UPDATE parcel SET weight = 24 WHERE id = 13;
SELECT 85 AS n, levels(4);
--> count 1
SELECT 86 AS n, levels(5);
SELECT 87 AS n, levels(6);
UPDATE parcel SET weight = 28 WHERE id = 17;
SELECT 89 AS n, levels(8);
SELECT 90 AS n, levels(0);
--> count 1
SELECT 91 AS n, levels(1);
UPDATE parcel SET weight = 2 WHERE id = 21;
SELECT 93 AS n, levels(3);
SELECT 94 AS n, levels(4);
SELECT 95 AS n, levels(5);
--> count 1
UPDATE parcel SET weight = 6 WHERE id = 1;
SELECT 97 AS n, levels(7);
SELECT 98 AS n, levels(8);
SELECT 99 AS n, levels(0);
ROLLBACK;

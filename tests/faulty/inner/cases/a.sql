--# case of the inner project
VALUES 1;
--> value 1

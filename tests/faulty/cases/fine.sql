--# case a handler takes it
VALUES twice(0);
--> value -2

--# case as it should be
VALUES twice(3);
--> value 8

--# case with a word that does not fit
VALUES name_of(2);
--> value 'some'


--# case what was meant to expect stands behind its statement
VALUES 'a'; --> value 'b'
VALUES 'it''s', ''; --> value 'b'

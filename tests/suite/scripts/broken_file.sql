--# nonsense
--# case never run
SELECT 1;

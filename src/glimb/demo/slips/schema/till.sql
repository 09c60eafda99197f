CREATE TABLE sale (
  id     INTEGER      PRIMARY KEY,
  item   VARCHAR(20)  NOT NULL,
  pieces INTEGER      NOT NULL,
  price  DECIMAL(8,2) NOT NULL
);

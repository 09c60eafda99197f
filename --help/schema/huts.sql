-- The tables that the cases of all features share.
CREATE TABLE hut (
  code CHAR(4) PRIMARY KEY,
  name VARCHAR(30) NOT NULL,
  height INTEGER,
  beds SMALLINT CHECK (beds > 0),
  opened DATE
);
CREATE TABLE guest (
  id INTEGER PRIMARY KEY,
  name VARCHAR(30) NOT NULL,
  born DATE,
  member BOOLEAN
);
CREATE TABLE stay (
  id INTEGER PRIMARY KEY,
  hut CHAR(4) NOT NULL REFERENCES hut,
  guest INTEGER REFERENCES guest,
  night DATE,
  price DECIMAL(8,2)
);
-- Two columns of numbers with NULLs among them.
CREATE TABLE pair (a INTEGER, b INTEGER);

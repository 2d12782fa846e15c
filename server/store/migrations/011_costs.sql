-- What was paid for values of a property that touches have, by local day; a row reaches over so many days from it on.
CREATE TABLE costs (
  property TEXT NOT NULL,
  value TEXT NOT NULL,
  day TEXT NOT NULL,
  days INTEGER NOT NULL CHECK (days IN (1, 7)),
  amount REAL NOT NULL CHECK (amount >= 0),
  PRIMARY KEY (property, value, day)
) STRICT, WITHOUT ROWID;

-- Every value that an id wrote, with the time it was written at: its own, or else that of receipt. A person's history is
-- that of their ids in one order; `profile_values` keeps the latest of it.
CREATE TABLE profile_history (
  id INTEGER NOT NULL REFERENCES person_ids (id),
  property INTEGER NOT NULL REFERENCES properties (id),
  written_ms INTEGER NOT NULL,
  -- rises with each write: of two of the same time the later one holds
  arrival INTEGER NOT NULL,
  -- JSON; null takes the value away
  value TEXT,
  dated INTEGER,
  -- 1 = it carried its own time, before which nothing was known
  timed INTEGER NOT NULL,
  PRIMARY KEY (id, property, written_ms)
) STRICT, WITHOUT ROWID;
INSERT INTO profile_history (id, property, written_ms, arrival, value, dated, timed)
  SELECT id, property, written_ms, 0, value, dated, 0 FROM profile_writes;
DROP TABLE profile_writes;

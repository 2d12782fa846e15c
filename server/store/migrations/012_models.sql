-- What was learned for a question that foretells: used again until it is learned anew.
CREATE TABLE models (
  -- the counted part of the question, as JSON
  question TEXT PRIMARY KEY,
  -- JSON
  model TEXT NOT NULL,
  -- epoch ms: the moment it was learned as of
  trained_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

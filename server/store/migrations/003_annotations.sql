-- Dated notes on charts. study = shown on that study alone; null = on every study and dashboard.
CREATE TABLE annotations (
  id TEXT PRIMARY KEY,
  -- local day
  day TEXT NOT NULL,
  text TEXT NOT NULL,
  -- JSON list of texts
  tags TEXT NOT NULL DEFAULT '[]',
  study TEXT REFERENCES studies (id) ON DELETE CASCADE,
  created_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX annotations_day ON annotations (day);

-- Long selections and questions that addresses name by a short id, which is made from the text itself: the same text is
-- kept once.
CREATE TABLE kept_addresses (
  id TEXT PRIMARY KEY,
  text TEXT NOT NULL,
  kept_ms INTEGER NOT NULL
) STRICT;

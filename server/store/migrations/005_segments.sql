-- A live segment follows its rule (JSON); a frozen list keeps its members, and may tell the rule it was once read from.
CREATE TABLE segments (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  description TEXT NOT NULL DEFAULT '',
  -- JSON list of texts
  tags TEXT NOT NULL DEFAULT '[]',
  rule TEXT,
  -- when the list was made; null = live
  frozen_ms INTEGER,
  -- how a list came to be, in words
  origin TEXT NOT NULL DEFAULT '',
  created_ms INTEGER NOT NULL,
  saved_ms INTEGER NOT NULL,
  -- deleted ones can be brought back, and definitions that name them say so
  deleted_ms INTEGER,
  CHECK (rule IS NOT NULL OR frozen_ms IS NOT NULL)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX segments_name ON segments (name COLLATE NOCASE) WHERE deleted_ms IS NULL;

-- Every saved state of a live segment, the newest included.
CREATE TABLE segment_versions (
  segment TEXT NOT NULL REFERENCES segments (id) ON DELETE CASCADE,
  saved_ms INTEGER NOT NULL,
  name TEXT NOT NULL,
  rule TEXT NOT NULL,
  PRIMARY KEY (segment, saved_ms)
) STRICT, WITHOUT ROWID;

-- A member is kept by one of their ids, so that they stay who they are when people are merged or taken apart.
CREATE TABLE segment_members (
  segment TEXT NOT NULL REFERENCES segments (id) ON DELETE CASCADE,
  id INTEGER NOT NULL REFERENCES person_ids (id),
  PRIMARY KEY (segment, id)
) STRICT, WITHOUT ROWID;

-- Ids of an uploaded list that nobody has, in the order of the file.
CREATE TABLE segment_unknown (
  segment TEXT NOT NULL REFERENCES segments (id) ON DELETE CASCADE,
  line INTEGER NOT NULL,
  value TEXT NOT NULL,
  PRIMARY KEY (segment, line)
) STRICT, WITHOUT ROWID;

-- Remarks on one event of one person, to be linked to.
CREATE TABLE moment_notes (
  id TEXT PRIMARY KEY,
  event_id TEXT NOT NULL,
  text TEXT NOT NULL,
  created_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX moment_notes_event ON moment_notes (event_id);

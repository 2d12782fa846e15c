-- Whom what arrived came from: the file or the key it came by.
CREATE TABLE origins (
  id INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('import', 'key')),
  ref TEXT NOT NULL,
  UNIQUE (kind, ref)
) STRICT;

-- Which numbers each has brought, in runs: events by their arrival, profile values by the change they were written in.
CREATE TABLE arrivals (
  what TEXT NOT NULL CHECK (what IN ('events', 'profiles')),
  first INTEGER NOT NULL,
  last INTEGER NOT NULL,
  origin INTEGER NOT NULL REFERENCES origins (id),
  received_ms INTEGER NOT NULL,
  PRIMARY KEY (what, first)
) STRICT, WITHOUT ROWID;
CREATE INDEX arrivals_origin ON arrivals (origin, what, first);

-- What an event was before a later one of its id took its place: JSON of its row.
CREATE TABLE replaced_events (
  id INTEGER PRIMARY KEY,
  seq INTEGER NOT NULL,
  origin INTEGER NOT NULL REFERENCES origins (id),
  replaced_ms INTEGER NOT NULL,
  before TEXT NOT NULL
) STRICT;
CREATE INDEX replaced_events_origin ON replaced_events (origin, seq);
CREATE INDEX replaced_events_seq ON replaced_events (seq);

-- What was taken back by hand. It is kept for 30 days, and can be brought back within them.
CREATE TABLE taken_back (
  id TEXT PRIMARY KEY,
  -- JSON: what was chosen
  choice TEXT NOT NULL,
  taken_ms INTEGER NOT NULL,
  events INTEGER NOT NULL,
  profile_values INTEGER NOT NULL,
  brought_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE TABLE taken_events (
  take TEXT NOT NULL REFERENCES taken_back (id) ON DELETE CASCADE,
  seq INTEGER NOT NULL,
  -- JSON of the row
  content TEXT NOT NULL,
  -- 1 = an earlier event stands in its place meanwhile
  replaced INTEGER NOT NULL,
  PRIMARY KEY (take, seq)
) STRICT, WITHOUT ROWID;
CREATE TABLE taken_values (
  take TEXT NOT NULL REFERENCES taken_back (id) ON DELETE CASCADE,
  id INTEGER NOT NULL,
  property INTEGER NOT NULL,
  written_ms INTEGER NOT NULL,
  arrival INTEGER NOT NULL,
  value TEXT,
  dated INTEGER,
  timed INTEGER NOT NULL,
  PRIMARY KEY (take, id, property, written_ms)
) STRICT, WITHOUT ROWID;
-- Pairs of ids that nothing but what was taken back had seen together.
CREATE TABLE taken_links (
  take TEXT NOT NULL REFERENCES taken_back (id) ON DELETE CASCADE,
  known INTEGER NOT NULL,
  anonymous INTEGER NOT NULL,
  PRIMARY KEY (take, known, anonymous)
) STRICT, WITHOUT ROWID;

-- Events sent as a test: to be seen arriving, and counted nowhere.
CREATE TABLE test_events (
  id INTEGER PRIMARY KEY,
  received_ms INTEGER NOT NULL,
  content TEXT NOT NULL
) STRICT;

-- A third thing that a key may do.
CREATE TABLE api_keys_now (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  scope TEXT NOT NULL CHECK (scope IN ('write', 'read', 'mend')),
  -- SHA-256 of the key: the key itself is shown once and kept nowhere
  hash TEXT NOT NULL UNIQUE,
  -- the first characters, so that one can tell keys apart
  hint TEXT NOT NULL,
  created_ms INTEGER NOT NULL,
  used_ms INTEGER,
  revoked_ms INTEGER
) STRICT, WITHOUT ROWID;
INSERT INTO api_keys_now SELECT id, name, scope, hash, hint, created_ms, used_ms, revoked_ms FROM api_keys;
DROP TABLE api_keys;
ALTER TABLE api_keys_now RENAME TO api_keys;

-- An import is looked through before anything of it is written; where lines are wrong it waits for a word. looked = JSON of
-- what was found.
ALTER TABLE imports ADD COLUMN held INTEGER NOT NULL DEFAULT 0;
ALTER TABLE imports ADD COLUMN looked TEXT;
-- Lines that were known already, and had no effect.
CREATE TABLE import_known (
  import TEXT NOT NULL REFERENCES imports (id) ON DELETE CASCADE,
  line INTEGER NOT NULL,
  content TEXT NOT NULL,
  PRIMARY KEY (import, line)
) STRICT, WITHOUT ROWID;

-- Where people are sent to. `setup` is JSON; the secret is sealed with a key that is not in this file.
CREATE TABLE destinations (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  setup TEXT NOT NULL,
  secret BLOB,
  created_ms INTEGER NOT NULL,
  deleted_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX destinations_name ON destinations (name COLLATE NOCASE) WHERE deleted_ms IS NULL;

-- A segment that is kept in step with a destination. `definition` is JSON.
CREATE TABLE syncs (
  id TEXT PRIMARY KEY,
  definition TEXT NOT NULL,
  segment TEXT NOT NULL,
  destination TEXT NOT NULL REFERENCES destinations (id),
  -- draft: nothing has left yet; asking: the segment's rule has changed, and nobody has said what becomes of its people
  state TEXT NOT NULL CHECK (state IN ('draft', 'running', 'paused', 'asking', 'ended')),
  -- why it stands still, in words
  why TEXT,
  started_ms INTEGER,
  -- when it is due next; null = not by itself
  due_ms INTEGER,
  -- the segment's rule that the last run went by: when it was saved
  rule_ms INTEGER,
  created_ms INTEGER NOT NULL,
  saved_ms INTEGER NOT NULL,
  deleted_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX syncs_due ON syncs (due_ms) WHERE state = 'running';

CREATE TABLE sync_runs (
  id INTEGER PRIMARY KEY,
  sync TEXT NOT NULL REFERENCES syncs (id) ON DELETE CASCADE,
  started_ms INTEGER NOT NULL,
  ended_ms INTEGER,
  state TEXT NOT NULL CHECK (state IN ('sending', 'done', 'failed')),
  -- people, of those who are to be told of
  to_add INTEGER NOT NULL DEFAULT 0,
  to_update INTEGER NOT NULL DEFAULT 0,
  to_remove INTEGER NOT NULL DEFAULT 0,
  same INTEGER NOT NULL DEFAULT 0,
  kept_out INTEGER NOT NULL DEFAULT 0,
  -- and of what the destination has taken
  added INTEGER NOT NULL DEFAULT 0,
  updated INTEGER NOT NULL DEFAULT 0,
  removed INTEGER NOT NULL DEFAULT 0,
  failed INTEGER NOT NULL DEFAULT 0,
  -- changes that were no longer so when they were to be sent
  dropped INTEGER NOT NULL DEFAULT 0,
  -- calls that were made once more
  retried INTEGER NOT NULL DEFAULT 0,
  why TEXT
) STRICT;
CREATE INDEX sync_runs_sync ON sync_runs (sync, id);

-- What the destination has last acknowledged, by one of a person's ids.
CREATE TABLE sync_members (
  sync TEXT NOT NULL REFERENCES syncs (id) ON DELETE CASCADE,
  id INTEGER NOT NULL,
  -- held: there already when only those who come in are told of; kept: left there though the rule has changed
  state TEXT NOT NULL CHECK (state IN ('in', 'held', 'kept', 'parked')),
  -- JSON of what went along
  properties TEXT NOT NULL DEFAULT '{}',
  tries INTEGER NOT NULL DEFAULT 0,
  why TEXT,
  PRIMARY KEY (sync, id)
) STRICT, WITHOUT ROWID;
CREATE INDEX sync_members_parked ON sync_members (sync) WHERE state = 'parked';

-- What is decided and not acknowledged yet: written with the decision, in one transaction.
CREATE TABLE outbox_calls (
  id INTEGER PRIMARY KEY,
  -- the same for each try
  key TEXT NOT NULL UNIQUE,
  destination TEXT NOT NULL REFERENCES destinations (id),
  sync TEXT NOT NULL REFERENCES syncs (id) ON DELETE CASCADE,
  run INTEGER NOT NULL REFERENCES sync_runs (id) ON DELETE CASCADE,
  tries INTEGER NOT NULL DEFAULT 0,
  due_ms INTEGER NOT NULL,
  why TEXT
) STRICT;
CREATE INDEX outbox_calls_due ON outbox_calls (destination, due_ms);
CREATE INDEX outbox_calls_run ON outbox_calls (run);
CREATE TABLE outbox (
  call INTEGER NOT NULL REFERENCES outbox_calls (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  id INTEGER NOT NULL,
  -- the id that the person goes by at the destination
  person TEXT NOT NULL,
  change TEXT NOT NULL CHECK (change IN ('add', 'update', 'remove')),
  properties TEXT NOT NULL,
  tries INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (call, key)
) STRICT, WITHOUT ROWID;

-- What a destination was asked and what it said, the newest kept.
CREATE TABLE destination_log (
  id INTEGER PRIMARY KEY,
  destination TEXT NOT NULL REFERENCES destinations (id) ON DELETE CASCADE,
  at_ms INTEGER NOT NULL,
  sync TEXT,
  people INTEGER NOT NULL,
  took_ms INTEGER NOT NULL,
  -- null = all was taken
  why TEXT
) STRICT;
CREATE INDEX destination_log_destination ON destination_log (destination, id);

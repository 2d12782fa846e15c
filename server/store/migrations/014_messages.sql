-- Who is told what, when, and what for. `definition` is JSON. What has been started stays as it is.
CREATE TABLE messages (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  definition TEXT NOT NULL,
  segment TEXT NOT NULL,
  destination TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('draft', 'running', 'paused', 'ended')),
  -- why it stands still, in words
  why TEXT,
  started_ms INTEGER,
  ended_ms INTEGER,
  -- when it looks next who comes in; null = not by itself
  due_ms INTEGER,
  created_ms INTEGER NOT NULL,
  saved_ms INTEGER NOT NULL,
  deleted_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX messages_name ON messages (name COLLATE NOCASE) WHERE deleted_ms IS NULL;

-- Who came into a message, by one of a person's ids: written as it is decided, and sent from here.
CREATE TABLE message_entries (
  seq INTEGER PRIMARY KEY,
  message TEXT NOT NULL REFERENCES messages (id) ON DELETE CASCADE,
  id INTEGER NOT NULL,
  -- 1 = the person's first
  entry INTEGER NOT NULL,
  -- times here are of the workspace's clock
  at_ms INTEGER NOT NULL,
  -- the variant's place; null = left alone
  variant INTEGER,
  -- waiting: not its time yet; ready: to be sent
  state TEXT NOT NULL CHECK (state IN ('alone', 'waiting', 'ready', 'sent', 'dropped')),
  due_ms INTEGER NOT NULL,
  sent_ms INTEGER,
  tries INTEGER NOT NULL DEFAULT 0,
  -- this one is of the machine's clock
  retry_ms INTEGER NOT NULL DEFAULT 0,
  why TEXT,
  UNIQUE (message, id, entry)
) STRICT;
CREATE INDEX message_entries_waiting ON message_entries (message, due_ms) WHERE state = 'waiting';
CREATE INDEX message_entries_ready ON message_entries (retry_ms) WHERE state = 'ready';
CREATE INDEX message_entries_sent ON message_entries (sent_ms) WHERE sent_ms IS NOT NULL;
CREATE INDEX message_entries_id ON message_entries (id);

-- For whom the trigger held, and who did not come in: why at the last look.
CREATE TABLE message_kept_out (
  message TEXT NOT NULL REFERENCES messages (id) ON DELETE CASCADE,
  id INTEGER NOT NULL,
  at_ms INTEGER NOT NULL,
  why TEXT NOT NULL CHECK (why IN ('opted out', 'not among', 'capped')),
  PRIMARY KEY (message, id)
) STRICT, WITHOUT ROWID;

-- How the variants shared what the hold-out left, from a local day on. JSON: shares, and what they were worked out from.
CREATE TABLE message_shares (
  message TEXT NOT NULL REFERENCES messages (id) ON DELETE CASCADE,
  day TEXT NOT NULL,
  shares TEXT NOT NULL,
  tried TEXT NOT NULL,
  PRIMARY KEY (message, day)
) STRICT, WITHOUT ROWID;

-- Events and profile values that outreach gives rise to, on their way to the thread that takes events in.
CREATE TABLE outreach_events (
  seq INTEGER PRIMARY KEY,
  key TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('events', 'people')),
  -- 1 = of simulated people
  simulated INTEGER NOT NULL,
  at_ms INTEGER NOT NULL,
  body TEXT NOT NULL
) STRICT;

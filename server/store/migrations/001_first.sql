-- Settings of the workspace: name, zone, first day of the week, what "now" is. Values are JSON.
CREATE TABLE settings (
  key TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE event_types (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  description TEXT NOT NULL DEFAULT '',
  -- 1 = does not count as being active
  passive INTEGER NOT NULL DEFAULT 0,
  deprecated INTEGER NOT NULL DEFAULT 0,
  events INTEGER NOT NULL DEFAULT 0,
  first_ms INTEGER,
  last_ms INTEGER
) STRICT;

-- A property's type is inferred: the kind that most of its values are of.
CREATE TABLE properties (
  id INTEGER PRIMARY KEY,
  scope TEXT NOT NULL CHECK (scope IN ('event', 'person')),
  name TEXT NOT NULL,
  description TEXT NOT NULL DEFAULT '',
  texts INTEGER NOT NULL DEFAULT 0,
  numbers INTEGER NOT NULL DEFAULT 0,
  booleans INTEGER NOT NULL DEFAULT 0,
  dates INTEGER NOT NULL DEFAULT 0,
  lists INTEGER NOT NULL DEFAULT 0,
  UNIQUE (scope, name)
) STRICT;

-- Which event types carry which properties, and how many of their events do.
CREATE TABLE event_type_properties (
  type INTEGER NOT NULL REFERENCES event_types (id),
  property INTEGER NOT NULL REFERENCES properties (id),
  events INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (type, property)
) STRICT, WITHOUT ROWID;

CREATE TABLE sources (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE
) STRICT;

-- One row for each human known so far. When two turn out to be one, the younger row points to the older.
CREATE TABLE people (
  id INTEGER PRIMARY KEY,
  merged_into INTEGER REFERENCES people (id),
  -- number of the last change to the person's ids or profile; readers ask for what changed since
  changed INTEGER NOT NULL
) STRICT;
CREATE INDEX people_changed ON people (changed);
CREATE INDEX people_merged ON people (merged_into) WHERE merged_into IS NOT NULL;

-- Known and anonymous ids are separate name spaces. An event points to its ids, so that a merge is one change here and
-- holds for all events, past and to come.
CREATE TABLE person_ids (
  id INTEGER PRIMARY KEY,
  space TEXT NOT NULL CHECK (space IN ('known', 'anonymous')),
  value TEXT NOT NULL,
  person INTEGER NOT NULL REFERENCES people (id),
  UNIQUE (space, value)
) STRICT;
CREATE INDEX person_ids_person ON person_ids (person);

-- The latest value written wins. Values are JSON.
CREATE TABLE profile_values (
  person INTEGER NOT NULL REFERENCES people (id),
  property INTEGER NOT NULL REFERENCES properties (id),
  value TEXT NOT NULL,
  written_ms INTEGER NOT NULL,
  PRIMARY KEY (person, property)
) STRICT, WITHOUT ROWID;

-- seq is the order of arrival.
CREATE TABLE events (
  seq INTEGER PRIMARY KEY,
  event_id TEXT NOT NULL UNIQUE,
  known INTEGER REFERENCES person_ids (id),
  anonymous INTEGER REFERENCES person_ids (id),
  type INTEGER NOT NULL REFERENCES event_types (id),
  time_ms INTEGER NOT NULL,
  source INTEGER REFERENCES sources (id),
  -- JSON object
  properties TEXT NOT NULL,
  received_ms INTEGER NOT NULL,
  CHECK (known IS NOT NULL OR anonymous IS NOT NULL)
) STRICT;

CREATE TABLE studies (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  description TEXT NOT NULL DEFAULT '',
  question TEXT NOT NULL,
  created_ms INTEGER NOT NULL,
  saved_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Every saved state of a study, the newest included.
CREATE TABLE study_versions (
  study TEXT NOT NULL REFERENCES studies (id) ON DELETE CASCADE,
  saved_ms INTEGER NOT NULL,
  name TEXT NOT NULL,
  question TEXT NOT NULL,
  PRIMARY KEY (study, saved_ms)
) STRICT, WITHOUT ROWID;

CREATE TABLE dashboards (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  description TEXT NOT NULL DEFAULT '',
  -- JSON: a range and a filter on profiles that all cards take, or null
  range TEXT,
  filter TEXT,
  created_ms INTEGER NOT NULL,
  saved_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE cards (
  id TEXT PRIMARY KEY,
  dashboard TEXT NOT NULL REFERENCES dashboards (id) ON DELETE CASCADE,
  -- a study, or a text note (JSON document)
  study TEXT REFERENCES studies (id) ON DELETE CASCADE,
  note TEXT,
  x INTEGER NOT NULL CHECK (x BETWEEN 0 AND 11),
  y INTEGER NOT NULL CHECK (y >= 0),
  w INTEGER NOT NULL CHECK (w BETWEEN 1 AND 12),
  h INTEGER NOT NULL CHECK (h BETWEEN 1 AND 40),
  CHECK ((study IS NULL) <> (note IS NULL))
) STRICT, WITHOUT ROWID;
CREATE INDEX cards_dashboard ON cards (dashboard);
CREATE INDEX cards_study ON cards (study);

CREATE TABLE shared_links (
  token TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('study', 'dashboard')),
  target TEXT NOT NULL,
  created_ms INTEGER NOT NULL,
  -- the first moment at which the link no longer works; null = no end
  ends_ms INTEGER,
  revoked_ms INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX shared_links_target ON shared_links (kind, target);

CREATE TABLE api_keys (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  scope TEXT NOT NULL CHECK (scope IN ('write', 'read')),
  -- SHA-256 of the key: the key itself is shown once and kept nowhere
  hash TEXT NOT NULL UNIQUE,
  -- the first characters, so that one can tell keys apart
  hint TEXT NOT NULL,
  created_ms INTEGER NOT NULL,
  used_ms INTEGER,
  revoked_ms INTEGER
) STRICT, WITHOUT ROWID;

CREATE TABLE imports (
  id TEXT PRIMARY KEY,
  file TEXT NOT NULL,
  -- where the file lies; null once it is done with
  path TEXT,
  bytes INTEGER NOT NULL,
  -- JSON: format, encoding, delimiter, what each column is
  plan TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'stopped')),
  -- how far it got: records and bytes read, written in the same transaction as the events
  records INTEGER NOT NULL DEFAULT 0,
  bytes_read INTEGER NOT NULL DEFAULT 0,
  accepted INTEGER NOT NULL DEFAULT 0,
  duplicates INTEGER NOT NULL DEFAULT 0,
  rejected INTEGER NOT NULL DEFAULT 0,
  problem TEXT,
  created_ms INTEGER NOT NULL,
  -- time spent, ms, over all its runs
  spent_ms INTEGER NOT NULL DEFAULT 0
) STRICT, WITHOUT ROWID;

CREATE TABLE import_rejects (
  import TEXT NOT NULL REFERENCES imports (id) ON DELETE CASCADE,
  line INTEGER NOT NULL,
  reason TEXT NOT NULL,
  content TEXT NOT NULL,
  PRIMARY KEY (import, line)
) STRICT, WITHOUT ROWID;

-- What people say of events and properties. An empty display name = the name it arrives under.
ALTER TABLE event_types ADD COLUMN display TEXT NOT NULL DEFAULT '';
ALTER TABLE event_types ADD COLUMN owner TEXT NOT NULL DEFAULT '';
-- 'planned' is no state of its own: it is what has not arrived yet
ALTER TABLE event_types ADD COLUMN state TEXT NOT NULL DEFAULT 'live' CHECK (state IN ('live', 'deprecated', 'hidden'));
UPDATE event_types SET state = 'deprecated' WHERE deprecated = 1;
-- 1 = in the tracking plan
ALTER TABLE event_types ADD COLUMN planned INTEGER NOT NULL DEFAULT 0;
-- what happens to events that do not fit; null = the workspace's policy
ALTER TABLE event_types ADD COLUMN policy TEXT CHECK (policy IN ('accept', 'flag', 'set aside'));
-- name of the event it is counted as
ALTER TABLE event_types ADD COLUMN merged_into TEXT;

ALTER TABLE properties ADD COLUMN display TEXT NOT NULL DEFAULT '';
ALTER TABLE properties ADD COLUMN owner TEXT NOT NULL DEFAULT '';
ALTER TABLE properties ADD COLUMN state TEXT NOT NULL DEFAULT 'live' CHECK (state IN ('live', 'deprecated', 'hidden'));
-- name of the property, of the same scope, it is read as
ALTER TABLE properties ADD COLUMN merged_into TEXT;

-- The tracking plan: what planned events are meant to carry.
CREATE TABLE plan_properties (
  type INTEGER NOT NULL REFERENCES event_types (id),
  name TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('text', 'number', 'boolean', 'date', 'list', 'any')),
  required INTEGER NOT NULL DEFAULT 0,
  -- JSON list of texts; null = any value
  allowed TEXT,
  -- regular expression; null = any text
  pattern TEXT,
  description TEXT NOT NULL DEFAULT '',
  position INTEGER NOT NULL,
  PRIMARY KEY (type, name)
) STRICT, WITHOUT ROWID;

-- Combined events and derived properties: JSON definitions, in the order they are shown.
CREATE TABLE combined_events (
  name TEXT PRIMARY KEY,
  definition TEXT NOT NULL,
  saved_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE derived_properties (
  scope TEXT NOT NULL CHECK (scope IN ('event', 'person')),
  name TEXT NOT NULL,
  definition TEXT NOT NULL,
  saved_ms INTEGER NOT NULL,
  PRIMARY KEY (scope, name)
) STRICT, WITHOUT ROWID;

-- Events kept out of all numbers: those that do not fit the plan, where the policy says so, and those that were refused.
CREATE TABLE set_aside (
  id INTEGER PRIMARY KEY,
  -- null for what was refused and has no id
  event_id TEXT UNIQUE,
  received_ms INTEGER NOT NULL,
  event TEXT,
  source TEXT,
  version TEXT,
  rule TEXT NOT NULL,
  property TEXT,
  reason TEXT NOT NULL,
  -- JSON of an event that passed the checks at the door, or null
  checked TEXT,
  -- the text as it came
  content TEXT NOT NULL
) STRICT;
CREATE INDEX set_aside_rule ON set_aside (rule, event, property);

-- Which known and anonymous ids were seen on one event: what a person is merged from. cut = kept apart by hand.
CREATE TABLE id_links (
  known INTEGER NOT NULL REFERENCES person_ids (id),
  anonymous INTEGER NOT NULL REFERENCES person_ids (id),
  cut INTEGER NOT NULL DEFAULT 0,
  PRIMARY KEY (known, anonymous)
) STRICT, WITHOUT ROWID;
CREATE INDEX id_links_anonymous ON id_links (anonymous);
INSERT INTO id_links (known, anonymous)
  SELECT DISTINCT known, anonymous FROM events WHERE known IS NOT NULL AND anonymous IS NOT NULL;

-- The latest value that each id wrote, so that people can be taken apart again; a person's profile is the latest of all.
CREATE TABLE profile_writes (
  id INTEGER NOT NULL REFERENCES person_ids (id),
  property INTEGER NOT NULL REFERENCES properties (id),
  value TEXT NOT NULL,
  written_ms INTEGER NOT NULL,
  PRIMARY KEY (id, property)
) STRICT, WITHOUT ROWID;
INSERT INTO profile_writes (id, property, value, written_ms)
  SELECT (SELECT MIN(i.id) FROM person_ids i WHERE i.person = v.person AND i.space = 'known'), property, value, written_ms
  FROM profile_values v
  WHERE EXISTS (SELECT 1 FROM person_ids i WHERE i.person = v.person AND i.space = 'known');

-- People who were taken apart: readers go over all their events anew.
CREATE TABLE split_people (
  change INTEGER PRIMARY KEY,
  person INTEGER NOT NULL REFERENCES people (id)
) STRICT;

-- Events that were replaced or taken out after they arrived, with the id they belonged to: readers go over its person anew.
CREATE TABLE event_changes (
  change INTEGER PRIMARY KEY,
  seq INTEGER NOT NULL,
  owner INTEGER NOT NULL REFERENCES person_ids (id)
) STRICT;
-- The largest number that was ever taken out: numbers are not given twice, though SQLite would.
CREATE INDEX event_changes_seq ON event_changes (seq);

-- How a file of this shape was read the last time.
CREATE TABLE import_shapes (
  shape TEXT PRIMARY KEY,
  plan TEXT NOT NULL,
  used_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

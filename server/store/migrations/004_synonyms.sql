-- What people call things otherwise, with commas: typed questions are understood by them.
ALTER TABLE event_types ADD COLUMN synonyms TEXT NOT NULL DEFAULT '';
ALTER TABLE properties ADD COLUMN synonyms TEXT NOT NULL DEFAULT '';

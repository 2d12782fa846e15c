-- Whether a text is a date is decided once, when it is written. Null = written before that was noted: by what it looks like.
-- Of an event: the names of its properties that hold a date, as JSON.
ALTER TABLE events ADD COLUMN dates TEXT;
-- Of a profile's value: 1 = a date, 0 = none.
ALTER TABLE profile_values ADD COLUMN dated INTEGER;
ALTER TABLE profile_writes ADD COLUMN dated INTEGER;

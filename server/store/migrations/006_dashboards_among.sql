-- The people all cards of a dashboard are asked among (JSON). A filter on profiles kept before goes on to be read as such.
ALTER TABLE dashboards ADD COLUMN among TEXT;

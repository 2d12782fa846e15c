-- The workspaces of this installation; each is a file of its own beside this one.
CREATE TABLE workspaces (
  id TEXT PRIMARY KEY,
  file TEXT NOT NULL UNIQUE,
  created_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

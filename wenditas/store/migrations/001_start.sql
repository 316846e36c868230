CREATE TABLE projects (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  created TEXT NOT NULL
) STRICT;

CREATE TABLE footage (
  id         TEXT PRIMARY KEY,
  project_id TEXT NOT NULL REFERENCES projects (id),
  name       TEXT NOT NULL,
  suffix     TEXT NOT NULL,
  digest     TEXT NOT NULL,
  bytes      INTEGER NOT NULL,
  facts      TEXT NOT NULL,
  created    TEXT NOT NULL,
  removed    TEXT
) STRICT;

CREATE TABLE shots (
  id         TEXT PRIMARY KEY,
  footage_id TEXT NOT NULL REFERENCES footage (id),
  name       TEXT NOT NULL,
  head       INTEGER NOT NULL DEFAULT 0,
  created    TEXT NOT NULL,
  removed    TEXT
) STRICT;

-- Every edit that was ever made; undo and redo only move a shot's head along this tree.
CREATE TABLE revisions (
  id       INTEGER PRIMARY KEY AUTOINCREMENT,
  shot_id  TEXT NOT NULL REFERENCES shots (id),
  parent   INTEGER REFERENCES revisions (id),
  words    TEXT NOT NULL,
  patch    TEXT NOT NULL,
  document TEXT NOT NULL,
  created  TEXT NOT NULL
) STRICT;
CREATE INDEX revisions_of_shot ON revisions (shot_id, parent);

CREATE TABLE exports (
  id       TEXT PRIMARY KEY,
  shot_id  TEXT NOT NULL REFERENCES shots (id),
  revision INTEGER NOT NULL REFERENCES revisions (id),
  name     TEXT NOT NULL,
  options  TEXT NOT NULL,
  state    TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled', 'cut off')),
  done     INTEGER NOT NULL DEFAULT 0,
  total    INTEGER NOT NULL,
  message  TEXT NOT NULL DEFAULT '',
  bytes    INTEGER,
  created  TEXT NOT NULL,
  finished TEXT
) STRICT;

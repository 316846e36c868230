-- Whatever has a history is a document: a shot, or the reel of a project. Run without foreign keys, which are checked afterwards.
CREATE TABLE documents (
  id   TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('shot', 'reel')),
  head INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO documents SELECT id, 'shot', head FROM shots;

CREATE TABLE reels (
  id         TEXT PRIMARY KEY REFERENCES documents (id),
  project_id TEXT NOT NULL UNIQUE REFERENCES projects (id),
  created    TEXT NOT NULL
) STRICT;

CREATE TABLE new_shots (
  id         TEXT PRIMARY KEY REFERENCES documents (id),
  footage_id TEXT NOT NULL REFERENCES footage (id),
  name       TEXT NOT NULL,
  created    TEXT NOT NULL,
  removed    TEXT
) STRICT;
INSERT INTO new_shots SELECT id, footage_id, name, created, removed FROM shots ORDER BY rowid;
DROP TABLE shots;
ALTER TABLE new_shots RENAME TO shots;

CREATE TABLE new_revisions (
  id          INTEGER PRIMARY KEY AUTOINCREMENT,
  document_id TEXT NOT NULL REFERENCES documents (id),
  parent      INTEGER REFERENCES revisions (id),
  words       TEXT NOT NULL,
  patch       TEXT NOT NULL,
  created     TEXT NOT NULL,
  distance    INTEGER NOT NULL DEFAULT 0,
  edit        TEXT,
  author      TEXT NOT NULL DEFAULT '',
  touched     TEXT NOT NULL DEFAULT '[""]'
) STRICT;
INSERT INTO new_revisions SELECT id, shot_id, parent, words, patch, created, distance, edit, author, touched FROM revisions;
DROP TABLE revisions;
ALTER TABLE new_revisions RENAME TO revisions;
CREATE INDEX revisions_of_document ON revisions (document_id, parent);
CREATE UNIQUE INDEX revisions_by_edit ON revisions (document_id, edit) WHERE edit IS NOT NULL;

CREATE TABLE new_exports (
  id          TEXT PRIMARY KEY,
  document_id TEXT NOT NULL REFERENCES documents (id),
  revision    INTEGER NOT NULL REFERENCES revisions (id),
  name        TEXT NOT NULL,
  options     TEXT NOT NULL,
  state       TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled', 'cut off')),
  done        INTEGER NOT NULL DEFAULT 0,
  total       INTEGER NOT NULL,
  message     TEXT NOT NULL DEFAULT '',
  bytes       INTEGER,
  created     TEXT NOT NULL,
  finished    TEXT
) STRICT;
INSERT INTO new_exports SELECT id, shot_id, revision, name, options, state, done, total, message, bytes, created, finished FROM exports ORDER BY rowid;
DROP TABLE exports;
ALTER TABLE new_exports RENAME TO exports;

CREATE TABLE new_takes (
  id          TEXT PRIMARY KEY,
  document_id TEXT NOT NULL REFERENCES documents (id),
  revision    INTEGER NOT NULL REFERENCES revisions (id),
  name        TEXT NOT NULL,
  created     TEXT NOT NULL,
  removed     TEXT
) STRICT;
INSERT INTO new_takes SELECT id, shot_id, revision, name, created, removed FROM takes ORDER BY rowid;
DROP TABLE takes;
ALTER TABLE new_takes RENAME TO takes;

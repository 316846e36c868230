-- Exports wait in an order of one's own, can be paused, and are verified. Run without foreign keys, which are checked afterwards.
CREATE TABLE new_exports (
  id          TEXT PRIMARY KEY,
  document_id TEXT NOT NULL REFERENCES documents (id),
  revision    INTEGER NOT NULL REFERENCES revisions (id),
  name        TEXT NOT NULL,
  options     TEXT NOT NULL,
  state       TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'paused', 'done', 'failed', 'cancelled', 'cut off')),
  done        INTEGER NOT NULL DEFAULT 0,
  total       INTEGER NOT NULL,
  message     TEXT NOT NULL DEFAULT '',
  bytes       INTEGER,
  created     TEXT NOT NULL,
  finished    TEXT,
  shots       TEXT NOT NULL DEFAULT '{}',
  place       REAL NOT NULL DEFAULT 0,
  digest      TEXT NOT NULL DEFAULT '',
  part        TEXT NOT NULL DEFAULT ''
) STRICT;
INSERT INTO new_exports SELECT id, document_id, revision, name, options, state, done, total, message, bytes, created, finished, shots, rowid, '', '' FROM exports ORDER BY rowid;
DROP TABLE exports;
ALTER TABLE new_exports RENAME TO exports;

-- Options of exports under a name of one's own.
CREATE TABLE export_presets (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL UNIQUE,
  options TEXT NOT NULL
) STRICT;

-- What holds for a whole data folder, by name.
CREATE TABLE settings (
  name  TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

-- How footage is read; and, where its file was not copied, where that lies and when it was last changed, in nanoseconds.
ALTER TABLE footage ADD COLUMN reading TEXT NOT NULL DEFAULT '{}';
ALTER TABLE footage ADD COLUMN lies TEXT;
ALTER TABLE footage ADD COLUMN changed INTEGER;
-- The digest of what its file was made from (numbered pictures, sound alone), empty where the file is what came.
ALTER TABLE footage ADD COLUMN came_as TEXT NOT NULL DEFAULT '';

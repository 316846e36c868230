-- Files that passes use, named by the digest of their bytes.
CREATE TABLE files (
  digest  TEXT PRIMARY KEY,
  kind    TEXT NOT NULL CHECK (kind IN ('lut', 'picture')),
  name    TEXT NOT NULL,
  suffix  TEXT NOT NULL,
  bytes   INTEGER NOT NULL,
  facts   TEXT NOT NULL,
  created TEXT NOT NULL
) STRICT;

-- The shelf: saved looks, and single passes with the selection they use.
CREATE TABLE shelf (
  id      TEXT PRIMARY KEY,
  kind    TEXT NOT NULL CHECK (kind IN ('look', 'pass')),
  name    TEXT NOT NULL,
  words   TEXT NOT NULL,
  look    TEXT NOT NULL,
  created TEXT NOT NULL,
  removed TEXT
) STRICT;

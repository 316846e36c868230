-- Palettes that were taken from pictures and kept.
CREATE TABLE palettes (
  id      TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  colours TEXT NOT NULL,
  created TEXT NOT NULL,
  removed TEXT
) STRICT;

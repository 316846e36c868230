-- A take is a name for a revision of a shot; revisions are never overwritten, so neither are takes.
CREATE TABLE takes (
  id       TEXT PRIMARY KEY,
  shot_id  TEXT NOT NULL REFERENCES shots (id),
  revision INTEGER NOT NULL REFERENCES revisions (id),
  name     TEXT NOT NULL,
  created  TEXT NOT NULL,
  removed  TEXT
) STRICT;

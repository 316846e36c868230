-- A document is kept whole now and then; in between its edits are. distance: edits since it was last kept whole.
CREATE TABLE snapshots (
  revision INTEGER PRIMARY KEY REFERENCES revisions (id),
  document TEXT NOT NULL
) STRICT;
INSERT INTO snapshots SELECT id, document FROM revisions;
ALTER TABLE revisions DROP COLUMN document;
ALTER TABLE revisions ADD COLUMN distance INTEGER NOT NULL DEFAULT 0;
-- edit: the id that the page gave the edit, so that one sent twice is stored once; author: which page it was.
ALTER TABLE revisions ADD COLUMN edit TEXT;
ALTER TABLE revisions ADD COLUMN author TEXT NOT NULL DEFAULT '';
-- Targets that the edit changed, as JSON; of edits from before they were known, everything.
ALTER TABLE revisions ADD COLUMN touched TEXT NOT NULL DEFAULT '[""]';
CREATE UNIQUE INDEX revisions_by_edit ON revisions (shot_id, edit) WHERE edit IS NOT NULL;

-- Tracks of shapes, once each; documents name them by their digest.
CREATE TABLE tracks (
  digest TEXT PRIMARY KEY,
  frames TEXT NOT NULL
) STRICT;

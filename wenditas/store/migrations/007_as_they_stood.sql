-- An export of a reel shows its shots as they stood when it was asked for: their revisions, by id.
ALTER TABLE exports ADD COLUMN shots TEXT NOT NULL DEFAULT '{}';

-- Words by which saved looks are found.
ALTER TABLE shelf ADD COLUMN tags TEXT NOT NULL DEFAULT '[]';

-- A revision that was kept beside what was in work is no step that is done again.
ALTER TABLE revisions ADD COLUMN aside INTEGER NOT NULL DEFAULT 0 CHECK (aside IN (0, 1));

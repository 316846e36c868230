-- Projects are removed and brought back, as footage is.
ALTER TABLE projects ADD COLUMN removed TEXT;

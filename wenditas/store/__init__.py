"""SQLite through plain SQL: one writer, readers apart, numbered migrations."""

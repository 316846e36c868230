"""What holds for a whole data folder, by name."""

import json
from typing import Any

from wenditas.store.database import Database


def setting(db: Database, name: str, default: Any) -> Any:
    """A value, or the default where it was never set."""
    row = db.row("SELECT value FROM settings WHERE name = ?", (name,))
    return default if row is None else json.loads(row["value"])


def set_setting(db: Database, name: str, value: Any) -> None:
    """Set a value."""
    with db.atomic() as writer:
        writer.execute("INSERT INTO settings VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value", (name, json.dumps(value)))

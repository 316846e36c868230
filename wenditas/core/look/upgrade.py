"""Versions of the look document, and how older ones become the newest: dict to dict, one step each."""

from collections.abc import Callable
from typing import Any, Literal

from wenditas.core.errors import BadLook

SCHEMA: Literal[1] = 1

# UPGRADES[n] turns a version n document into version n + 1.
UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {}


def upgrade_look(data: Any) -> dict[str, Any]:
    """The document at the newest version. Raises `BadLook` where it is no look or is newer than this program."""
    if not isinstance(data, dict):
        raise BadLook(f"A look is a JSON object, not {type(data).__name__}.")
    version = data.get("schema_version", SCHEMA)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise BadLook(f"A look's schema_version is a whole number from 1 to {SCHEMA}, not {version!r}.")
    if version > SCHEMA:
        raise BadLook(f"This look was written by a newer Wenditas (version {version} of the format; this one reads up to {SCHEMA}).")
    while version < SCHEMA:
        data = {**UPGRADES[version](data), "schema_version": version + 1}
        version += 1
    document: dict[str, Any] = data
    return document

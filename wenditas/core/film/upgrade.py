"""Versions of the reel document, and how older ones become the newest: dict to dict, one step each.

A step leaves what it does not understand as it is, for the validation to refuse.
"""

from collections.abc import Callable
from typing import Any, Literal

from wenditas.core.look.upgrade import Document, changed_items, upgrade_look, upgraded

REEL_SCHEMA: Literal[2] = 2
FADES = {"rise": "fade_in", "fall": "fade_out"}


def _faded(holder: Any) -> Any:
    return {FADES.get(key, key): value for key, value in holder.items()} if isinstance(holder, dict) else holder


def _to_version_2(data: Document) -> Document:
    """Joins are transitions; what rises and falls fades in and out."""
    data = {"transitions" if key == "joins" else key: value for key, value in data.items()}
    for key in ("items", "spans"):
        data = changed_items(data, key, _faded)
    return {**data, "track": _faded(data["track"])} if "track" in data else data


# UPGRADES[n] turns a version n document into version n + 1.
UPGRADES: dict[int, Callable[[Document], Document]] = {1: _to_version_2}


def _with_looks(data: Document) -> Document:
    """The document with the looks of its spans and transitions at their newest version."""
    for key in ("transitions", "spans"):
        data = changed_items(data, key, lambda one: {**one, "look": upgrade_look(one["look"])} if "look" in one else one)
    return data


def upgrade_reel(data: Any) -> Document:
    """The reel, and its looks, at the newest version. Raises `BadLook` where it is no reel or is newer than this program."""
    return _with_looks(upgraded(data, "reel", REEL_SCHEMA, UPGRADES))

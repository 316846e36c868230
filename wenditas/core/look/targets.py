"""Targets: values of a document named by ids, whatever their place in a list.

A target is words joined by `/`: keys of objects, and in a list what names an item: `look/passes/ID/amount`,
`look/selections/ID/keys/ID/tolerance`. A lane is named by its own target and a keyframe by its frame, so that
`look/lanes/passes~1ID~1amount/keyframes/24` is one keyframe. In a word `/` is written `~1` and `~` is `~0`, as in RFC 6901.
"""

from collections.abc import Sequence
from typing import Any

from wenditas.core.errors import TargetGone

NAMED_BY = {"lanes": "target", "keyframes": "frame"}  # what names the items of a list; an id in all others
ORDERED_BY = {"keyframes": "frame", "stops": "position"}  # what some lists are ordered by, whatever is done in them
MOST_WORDS, MOST_CHARACTERS = 24, 600


def split(target: str) -> list[str]:
    """The words of a target. The empty target, the whole document, has none."""
    return [word.replace("~1", "/").replace("~0", "~") for word in target.split("/")] if target else []


def join(words: Sequence[str]) -> str:
    """The target of some words.

    >>> join(["look", "lanes", "passes/a/on"])
    'look/lanes/passes~1a~1on'
    """
    return "/".join(word.replace("~", "~0").replace("/", "~1") for word in words)


def name_of(item: Any, list_key: str) -> str:
    """What an item of the list `list_key` is called, as a word; empty where it has no name."""
    name = item.get(NAMED_BY.get(list_key, "id")) if isinstance(item, dict) else None
    return "" if name is None else str(name)


def place(items: Sequence[Any], list_key: str, name: str) -> int | None:
    """Where in a list the item of a name stands; None where it is not there."""
    return next((n for n, item in enumerate(items) if name_of(item, list_key) == name), None)


def value_at(document: Any, target: str) -> Any:
    """The value that a target names. Raises `TargetGone`.

    >>> value_at({"look": {"passes": [{"id": "a", "amount": 40}]}}, "look/passes/a/amount")
    40
    """
    node, key = document, ""
    for word in split(target):
        if isinstance(node, dict) and word in node:
            node = node[word]
        elif isinstance(node, list) and (at := place(node, key, word)) is not None:
            node = node[at]
        else:
            raise TargetGone(target)
        key = word
    return node


def overlap(one: str, other: str) -> bool:
    """Whether one of two targets is the other, or lies in it."""
    a, b = one.split("/") if one else [], other.split("/") if other else []
    return a[: len(b)] == b[: len(a)]

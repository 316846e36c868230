"""Ids within a list: whatever can be named has one, and no two of a list are the same."""

from typing import Any, TypeVar

Items = TypeVar("Items", bound=tuple[Any, ...])


def named(items: Items, stem: str, what: str) -> Items:
    """The items, of which those without an id get the first free one of `stem`1, `stem`2 …: the same ones for the same list.

    items: models with an `id`. what: what they are, for the message. Raises `ValueError` where two have the same.
    The very same tuple is given back where all have one.
    """
    taken: set[str] = set()
    for item in items:
        if item.id and item.id in taken:
            raise ValueError(f"two {what} have the id {item.id!r}")
        taken.add(item.id)
    if "" not in taken:
        return items
    free = (f"{stem}{n}" for n in range(1, 2 * len(items) + 1) if f"{stem}{n}" not in taken)
    return tuple(item if item.id else item.model_copy(update={"id": next(free)}) for item in items)  # type: ignore[return-value]


Named = TypeVar("Named")


def listed(*members: Named) -> dict[str, Named]:
    """Members of a list by their `id`, in order. Raises `ValueError` where two have the same."""
    found: dict[str, Named] = {}
    for member in members:
        id: str = member.id  # type: ignore[attr-defined]
        if id in found:
            raise ValueError(f"two have the id {id!r}")
        found[id] = member
    return found

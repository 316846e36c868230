"""What changed from one plain document to the next, as an RFC 6902 JSON Patch, and the way back to the document."""

from collections.abc import Sequence
from typing import Any

import jsonpatch  # type: ignore[import-untyped]

Patch = list[dict[str, Any]]


def difference(before: Any, after: Any) -> Patch:
    """A patch that makes `after` from `before`: small where little changed. Empty where nothing did. Source: RFC 6902.

    >>> difference({"a": [1, 2, 3]}, {"a": [1, 3]})
    [{'op': 'remove', 'path': '/a/1'}]
    """
    steps: Patch = []
    _compare(before, after, "", steps)
    return steps


def _compare(one: Any, other: Any, path: str, steps: Patch) -> None:
    if one is other:
        return
    if isinstance(one, dict) and isinstance(other, dict):
        _compare_objects(one, other, path, steps)
    elif isinstance(one, list) and isinstance(other, list):
        _compare_lists(one, other, path, steps)
    elif type(one) is not type(other) or one != other:
        steps.append({"op": "replace", "path": path, "value": other})


def _compare_objects(one: dict[str, Any], other: dict[str, Any], path: str, steps: Patch) -> None:
    for key, value in other.items():
        place = f"{path}/{key.replace('~', '~0').replace('/', '~1')}"
        if key in one:
            _compare(one[key], value, place, steps)
        else:
            steps.append({"op": "add", "path": place, "value": value})
    steps += [{"op": "remove", "path": f"{path}/{key.replace('~', '~0').replace('/', '~1')}"} for key in one if key not in other]


def _compare_lists(one: Sequence[Any], other: Sequence[Any], path: str, steps: Patch) -> None:
    """What is the same at both ends stays; in lists of the same length each item is compared, else what lies between is put anew."""
    if len(one) == len(other):
        for n, (a, b) in enumerate(zip(one, other, strict=True)):
            if not _same(a, b):
                _compare(a, b, f"{path}/{n}", steps)
        return
    short = min(len(one), len(other))
    head = next((n for n in range(short) if not _same(one[n], other[n])), short)
    tail = next((n for n in range(short - head) if not _same(one[-1 - n], other[-1 - n])), short - head)
    steps += [{"op": "remove", "path": f"{path}/{head}"}] * (len(one) - head - tail)
    steps += [{"op": "add", "path": f"{path}/{head + n}", "value": value} for n, value in enumerate(other[head : len(other) - tail])]


def _same(one: Any, other: Any) -> bool:
    """Whether two values are equal and of the same types throughout: true equals 1 only for Python."""
    if one is other:
        return True
    if type(one) is not type(other) or one != other:
        return False
    if isinstance(one, dict):
        return all(map(_same, one.values(), map(other.__getitem__, one)))
    return not isinstance(one, list) or all(map(_same, one, other))


def patched(document: Any, patches: Sequence[Patch]) -> Any:
    """A document after patches that were stored. The one given is not changed."""
    for patch in patches:
        document = jsonpatch.JsonPatch(patch).apply(document)
    return document

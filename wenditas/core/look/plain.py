"""Plain JSON data that is kept without being understood: bounded, and such that it can be written and read again."""

from typing import Any

MOST_DEPTH, MOST_NODES, MOST_WHOLE = 32, 50_000, 1 << 63


def check_plain(data: Any, depth: int = MOST_DEPTH, most: int = MOST_NODES) -> int:
    """The number of values in some JSON data. Raises `ValueError` where it is too deep or too much, or holds what JSON or UTF-8 cannot.

    >>> check_plain({"a": [1, 2.5, "x", None]})
    6
    """
    count, waiting = 0, [(data, depth)]
    while waiting:
        value, left = waiting.pop()
        count += 1
        if count > most:
            raise ValueError(f"it holds more than {most} values")
        if isinstance(value, dict | list | tuple):
            if not left:
                raise ValueError(f"it is nested more than {depth} deep")
            parts = [*value.keys(), *value.values()] if isinstance(value, dict) else value
            waiting += [(part, left - 1) for part in parts]
            count -= len(value) if isinstance(value, dict) else 0
        else:
            _check_value(value)
    return count


def _check_value(value: Any) -> None:
    if isinstance(value, str):
        try:
            value.encode()
        except UnicodeEncodeError as error:
            raise ValueError("a text in it holds half of a character pair, which cannot be written") from error
    elif isinstance(value, float):
        if value != value or value in (float("inf"), float("-inf")):
            raise ValueError(f"{value!r} is not a number that can be written")
    elif isinstance(value, int):  # also True and False
        if abs(value) >= MOST_WHOLE:
            raise ValueError("a whole number in it is too large")
    elif value is not None:
        raise ValueError(f"{type(value).__name__} is not plain data")

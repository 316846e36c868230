"""Which parameter values do nothing: what a treatment declares as neutral is told by values, or by one of these."""

from collections.abc import Callable, Mapping
from typing import Any

Neutral = Mapping[str, Any]  # parameters and what they are then: a value, or a question about it; all others may be anything


def level(height: float) -> Callable[[Any], bool]:
    """A curve that is as high everywhere."""
    return lambda points: all(y == height for _, y in points)


def diagonal(points: Any) -> bool:
    """A curve over tones that gives back what it is given: beyond its ends it goes on at a slope of one."""
    return all(x == y for x, y in points)


def whole_turns(degrees: float) -> bool:
    """An angle that comes round to where it was."""
    return degrees % 360 == 0


def holds(neutral: Neutral, params: Any) -> bool:
    """Whether parameters are as a neutral set has them."""
    values = ((getattr(params, key), wanted) for key, wanted in neutral.items())
    return all(wanted(value) if callable(wanted) else value == wanted for value, wanted in values)

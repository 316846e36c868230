"""Timing helpers."""

import time
from collections.abc import Callable


def best(work: Callable[[], object], repeat: int = 7) -> float:
    """Least time of several runs, in seconds, after one to warm up."""
    work()
    found = []
    for _ in range(repeat):
        started = time.perf_counter()
        work()
        found.append(time.perf_counter() - started)
    return min(found)


def percentile(values: list[float], share: float) -> float:
    """The value that `share` of all do not exceed."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(share * len(ordered)))]

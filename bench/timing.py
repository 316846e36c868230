"""Timing: alone, and in pairs. These machines are shared and swing by a factor of two: only what runs in turn can be compared."""

import os
import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

Work = Callable[[], object]
ONCE = "WENDITAS_BENCH_ONCE"  # set where a bench is only to show that it runs: one round of everything, of little


def once() -> bool:
    """Whether each is to be run once, short."""
    return os.environ.get(ONCE) == "1"


def at_most(count: int, short: int) -> int:
    """How many of something: all, or a few where each is to be run once."""
    return short if once() else count


def seconds(work: Work) -> float:
    """The time that something takes."""
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def best(work: Work, repeat: int = 7) -> float:
    """Least time of several runs, in seconds, after one to warm up."""
    work()
    return min(seconds(work) for _ in range(at_most(repeat, 1)))


@dataclass(frozen=True)
class Paired:
    """Two works in turn. ours: median seconds; ratio: median of theirs / ours, pair by pair; low, high: the middle half of these."""

    ours: float
    ratio: float
    low: float
    high: float

    def __str__(self) -> str:
        return f"{self.ratio:.2f} × ({self.low:.2f} to {self.high:.2f})"


def paired(ours: Callable[[], float], theirs: Callable[[], float], rounds: int = 9) -> Paired:
    """Two works that tell their seconds, in turn, after one run each to warm up; whoever is first changes from pair to pair."""
    ours()
    theirs()
    mine, ratios = [], []
    for n in range(at_most(rounds, 1)):
        pair = (ours(), theirs()) if n % 2 == 0 else tuple(reversed((theirs(), ours())))
        mine.append(pair[0])
        ratios.append(pair[1] / pair[0])
    low, _, high = statistics.quantiles(ratios, n=4) if len(ratios) > 2 else (min(ratios), 0.0, max(ratios))
    return Paired(statistics.median(mine), statistics.median(ratios), low, high)


def against(ours: Work, theirs: Work, rounds: int = 9) -> Paired:
    """`paired` for works that do not tell their time."""
    return paired(lambda: seconds(ours), lambda: seconds(theirs), rounds)


def percentile(values: list[float], share: float) -> float:
    """The value that `share` of all do not exceed."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(share * len(ordered)))]

"""What is heard: stretches of the sound of footage, where they belong, and how they fade."""

from collections.abc import Iterator
from fractions import Fraction

import numpy as np

from wenditas.core.kernel import Floats
from wenditas.core.params import Params


class Fade(Params):
    """Between two times of a stretch, in seconds, its sound comes (or goes)."""

    begin: Fraction
    end: Fraction
    out: bool = False

    def gains(self, times: Floats) -> Floats:
        """How loud at some times, 0-1: sin and cos of a quarter turn, whose squares add up to 1.

        Source: equal-power crossfade (common practice); sin^2 + cos^2 = 1.
        """
        begin, end = float(self.begin), float(self.end)
        turn = np.clip((times - begin) / (end - begin), 0, 1) * np.pi / 2
        return np.asarray(np.cos(turn) if self.out else np.sin(turn))


class Heard(Params):
    """A stretch of the sound of footage, all in seconds: it is heard at a time of the node, from a time of the footage on.

    level: by how many dB it is louder than it was recorded. fades: how it comes and goes.
    """

    content: str
    at: Fraction
    start: Fraction
    seconds: Fraction
    level: float = 0
    fades: tuple[Fade, ...] = ()

    def gains(self, times: Floats) -> Floats:
        """By what its samples are multiplied at some times of the stretch. Source: decibels of amplitude, 10^(dB / 20)."""
        found = np.full(np.shape(times), 10 ** (self.level / 20))
        for fade in self.fades:
            found = found * fade.gains(times)
        return found

    def gain(self, time: float) -> float:
        """The same at one time."""
        return float(self.gains(np.asarray(time)))


Pieces = Iterator[Heard]


def faded(pieces: Pieces, begin: Fraction, gain: float, fade_in: tuple[Fraction, Fraction], fade_out: tuple[Fraction, Fraction]) -> Pieces:
    """Pieces louder by a gain, which come and go between two times of the node that count as `begin` does."""
    for piece in pieces:
        since = begin + piece.at
        fades = [Fade(begin=a - since, end=b - since, out=out) for (a, b), out in ((fade_in, False), (fade_out, True)) if b > a]
        yield piece.model_copy(update={"level": piece.level + gain, "fades": (*piece.fades, *fades)})


def later(pieces: Pieces, seconds: Fraction) -> Pieces:
    """Pieces that begin some seconds later."""
    for piece in pieces:
        yield piece.model_copy(update={"at": piece.at + seconds})

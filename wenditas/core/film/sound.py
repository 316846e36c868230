"""What a node sounds like: stretches of the sound of footage, where they belong, and how they fade."""

from collections.abc import Iterator
from fractions import Fraction

import numpy as np

from wenditas.core.film.nodes import Accompanied, Footage, Join, Node, Placed, Sequence, Shot, Span
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


def sound(node: Node, first: int, last: int) -> tuple[Heard, ...]:
    """What is heard of frames `first` to `last` of a node, in the order in which it begins. Rates are conformed by the picture alone: sound runs on."""
    return tuple(_sound(node, max(first, 0) / node.rate, (min(last, node.length - 1) + 1) / node.rate))


def _sound(node: Node, begin: Fraction, end: Fraction) -> Iterator[Heard]:
    """What is heard between two times of a node; times count from `begin`."""
    begin, end = max(begin, Fraction(0)), min(end, node.length / node.rate)
    if end <= begin:
        return
    if isinstance(node, Footage):
        if not node.still:
            yield Heard(content=node.content, at=Fraction(0), start=begin, seconds=end - begin)
    elif isinstance(node, Shot):
        yield from _sound(node.of, begin + node.first / node.rate, end + node.first / node.rate)
    elif isinstance(node, Span):
        yield from _sound(node.of, begin, end)
    elif isinstance(node, Accompanied):
        yield from _sound(node.of, begin, end)
        apart = -node.at / node.rate
        beside = _later(_sound(node.by, begin + apart, end + apart), max(-begin - apart, Fraction(0)))
        over = min(apart * -1 + node.by.length / node.by.rate, node.length / node.rate)  # when the footage ends, or the node
        rise = (max(-apart, Fraction(0)), max(-apart, Fraction(0)) + node.rise / node.rate)
        yield from _faded(beside, begin, node.gain, rise, (over - node.fall / node.rate, over))
    elif isinstance(node, Placed):
        if not node.heard:
            return
        apart = node.first / node.of.rate - node.ahead / node.rate  # what the frames of both are apart in time
        pieces = _later(_sound(node.of, begin + apart, end + apart), max(-begin - apart, Fraction(0)))
        rise, fall = ((a / node.rate, b / node.rate) for a, b in (node.rise, node.fall))
        yield from _faded(pieces, begin, node.gain, rise, fall)
    elif isinstance(node, Join):
        yield from _joined(node, begin, end)
    elif isinstance(node, Sequence):
        at = Fraction(0)
        for part in node.parts:
            length = (part.last - part.first + 1) / node.rate
            low, high = max(begin, at), min(end, at + length)
            if high > low:
                inner = part.first / node.rate - at
                yield from _later(_sound(part.of, low + inner, high + inner), low - begin)
            at += length


def _joined(node: Join, begin: Fraction, end: Fraction) -> Iterator[Heard]:
    whole = node.frames / node.rate
    for side, frame, out in ((node.a, node.from_a, True), (node.b, node.from_b, False)):
        offset = frame / node.rate
        for piece in _later(_sound(side, begin + offset, end + offset), max(-begin - offset, Fraction(0))):
            fade = Fade(begin=-begin - piece.at, end=whole - begin - piece.at, out=out)
            yield piece.model_copy(update={"fades": (*piece.fades, fade)})


def _faded(pieces: Iterator[Heard], begin: Fraction, gain: float, rise: tuple[Fraction, Fraction], fall: tuple[Fraction, Fraction]) -> Iterator[Heard]:
    """Pieces louder by a gain, which come and go between two times of the node that count as `begin` does."""
    for piece in pieces:
        since = begin + piece.at
        fades = [Fade(begin=a - since, end=b - since, out=out) for (a, b), out in ((rise, False), (fall, True)) if b > a]
        yield piece.model_copy(update={"level": piece.level + gain, "fades": (*piece.fades, *fades)})


def _later(pieces: Iterator[Heard], seconds: Fraction) -> Iterator[Heard]:
    for piece in pieces:
        yield piece.model_copy(update={"at": piece.at + seconds})

"""What a node sounds like: stretches of the sound of footage, where they belong, and how they fade."""

import math
from collections.abc import Iterator
from fractions import Fraction

from wenditas.core.film.nodes import Footage, Join, Node, Placed, Shot, Span
from wenditas.core.params import Params


class Heard(Params):
    """A stretch of the sound of footage, all in seconds: it is heard at a time of the node, from a time of the footage on.

    rises, falls: when, within the stretch, it begins and ends to fade in and out; equal where it does not.
    """

    content: str
    at: Fraction
    start: Fraction
    seconds: Fraction
    rises: tuple[Fraction, Fraction] = (Fraction(0), Fraction(0))
    falls: tuple[Fraction, Fraction] | None = None

    def gain(self, time: float) -> float:
        """How loud it is at a time of the stretch: an equal-power fade, sin and cos of a quarter turn, whose squares add up to 1.

        Source: equal-power crossfade (common practice); sin^2 + cos^2 = 1.
        """
        found = 1.0
        begin, end = map(float, self.rises)
        if end > begin:
            found *= math.sin(min(max((time - begin) / (end - begin), 0), 1) * math.pi / 2)
        if self.falls is not None:
            begin, end = map(float, self.falls)
            found *= math.cos(min(max((time - begin) / (end - begin), 0), 1) * math.pi / 2)
        return found


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
    elif isinstance(node, Placed):
        apart = node.first / node.of.rate - node.ahead / node.rate  # what the frames of both are apart in time
        yield from _later(_sound(node.of, begin + apart, end + apart), max(-begin - apart, Fraction(0)))
    elif isinstance(node, Join):
        yield from _joined(node, begin, end)
    else:
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
            fade = (-begin - piece.at, whole - begin - piece.at)
            yield piece.model_copy(update={"falls": fade} if out else {"rises": fade})


def _later(pieces: Iterator[Heard], seconds: Fraction) -> Iterator[Heard]:
    for piece in pieces:
        yield piece.model_copy(update={"at": piece.at + seconds})

"""Stroked frames, and which of them each frame's matte is carried from.

Frames are anchors in the order in which they were first stroked. The first stands by itself; each further one puts right what was carried to
it from the nearest one before it in that order. So strokes on a frame change what is carried from there, and nothing that came before.
"""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from wenditas.core.select.objects.marks import Stroke
from wenditas.core.work.operation import plain


@dataclass(frozen=True)
class Anchor:
    """A stroked frame. parent: the anchor that its matte begins from, if any; name: of all that its matte depends on."""

    frame: int
    strokes: tuple[Stroke, ...]
    parent: "Anchor | None"
    name: str


def anchors(named: str, strokes: Sequence[Stroke], clip: Callable[[int], int] = lambda frame: frame) -> tuple[Anchor, ...]:
    """The anchors of some strokes, in the order in which they were first stroked. named: what all of it depends on; clip: to the frames there are.

    A frame that was stroked as *not this* alone before anything was stroked as the thing waits for that.
    """
    by_frame: dict[int, list[Stroke]] = {}
    for stroke in strokes:
        by_frame.setdefault(clip(stroke.frame), []).append(stroke)
    order = sorted(by_frame, key=lambda f: all(s.kind == "not this" for s in by_frame[f]))
    found: list[Anchor] = []
    for frame in order:
        own = tuple(by_frame[frame])
        parent = min(found, key=lambda a: (abs(a.frame - frame), a.frame)) if found else None
        told = plain((named, parent.name if parent else "", tuple((s.kind, s.radius, s.points) for s in own)))
        found.append(Anchor(frame, own, parent, hashlib.blake2b(f"{frame} {told}".encode(), digest_size=16).hexdigest()))
    return tuple(found)


def beside(found: Sequence[Anchor], frame: int) -> tuple[Anchor | None, Anchor | None]:
    """The nearest anchor at or before a frame, and the nearest at or after it."""
    before = [a for a in found if a.frame <= frame]
    after = [a for a in found if a.frame >= frame]
    return max(before, key=lambda a: a.frame, default=None), min(after, key=lambda a: a.frame, default=None)

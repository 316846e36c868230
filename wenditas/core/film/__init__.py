"""Moving pictures made of others: nodes that say what is shown, and `resolve`, which says what is computed for it."""

from wenditas.core.film.heard import Fade, Heard
from wenditas.core.film.nodes import Accompanied, Blank, Footage, Inlaid, Moving, Node, Part, Placed, Reveal, Sequence, Shot, Span, Transition, parse_node
from wenditas.core.film.reel import Item, Laid, Overlap, Reel, SoundTrack, TransitionPlan
from wenditas.core.film.render import render, resolve, size_of
from wenditas.core.look.shown import RESULT, Shown
from wenditas.core.work.memo import Memo
from wenditas.core.work.operation import Op, Sources
from wenditas.core.work.run import run
from wenditas.core.work.schedule import TooHeavy

__all__ = [
    "RESULT",
    "Accompanied",
    "Blank",
    "Fade",
    "Footage",
    "Heard",
    "Inlaid",
    "Item",
    "Laid",
    "Memo",
    "Moving",
    "Node",
    "Op",
    "Overlap",
    "Part",
    "Placed",
    "Reel",
    "Reveal",
    "Sequence",
    "Shot",
    "Shown",
    "SoundTrack",
    "Sources",
    "Span",
    "TooHeavy",
    "Transition",
    "TransitionPlan",
    "parse_node",
    "render",
    "resolve",
    "run",
    "size_of",
]

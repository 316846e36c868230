"""Moving pictures made of others: nodes that say what is shown, and `render`, the one way to a picture."""

from wenditas.core.film.keys import Keys
from wenditas.core.film.nodes import Footage, Inlaid, Join, Node, Placed, Reveal, Sequence, Shot, Span, all_within, footage_at, noise_under, parse_node
from wenditas.core.film.reel import Item, Joint, Laid, Reel
from wenditas.core.film.render import Memo, Sources, TooHeavy, render, size_of
from wenditas.core.film.sound import Heard, sound

__all__ = [
    "Footage",
    "Heard",
    "Inlaid",
    "Item",
    "Join",
    "Joint",
    "Keys",
    "Laid",
    "Memo",
    "Node",
    "Placed",
    "Reel",
    "Reveal",
    "Sequence",
    "Shot",
    "Sources",
    "Span",
    "TooHeavy",
    "all_within",
    "footage_at",
    "noise_under",
    "parse_node",
    "render",
    "size_of",
    "sound",
]

"""Moving pictures made of others: nodes that say what is shown, and `render`, the one way to a picture."""

from wenditas.core.film.keys import Keys
from wenditas.core.film.nodes import (
    Accompanied,
    Blank,
    Footage,
    Inlaid,
    Join,
    Node,
    Part,
    Placed,
    Reveal,
    Sequence,
    Shot,
    Span,
    all_within,
    footage_at,
    noise_under,
    parse_node,
)
from wenditas.core.film.reel import Item, Joint, Laid, Overlap, Reel, SoundTrack
from wenditas.core.film.render import Memo, Sources, TooHeavy, render, size_of
from wenditas.core.film.sound import Fade, Heard, sound

__all__ = [
    "Accompanied",
    "Blank",
    "Fade",
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
    "Overlap",
    "Part",
    "Placed",
    "Reel",
    "Reveal",
    "Sequence",
    "Shot",
    "SoundTrack",
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

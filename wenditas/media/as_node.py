"""Footage as a node, from what is known of its file."""

from wenditas.core.film import Footage
from wenditas.core.select.denoise import MOST_NOISE
from wenditas.media.facts import Facts


def footage_of(content: str, facts: Facts) -> Footage:
    """Footage with these facts as a node."""
    return Footage(
        content=content,
        width=facts.width,
        height=facts.height,
        fps=facts.rate,
        frames=facts.length,
        still=facts.kind == "still",
        alpha=facts.alpha,
        noise=min(facts.noise or 0.0, MOST_NOISE),  # facts of before it was bounded where it is measured
    )

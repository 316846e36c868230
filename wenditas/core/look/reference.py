"""A look from the plain NumPy references, pass by pass; tests hold `render` to it."""

from wenditas.core.colour.blend import blend
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.look.document import Look
from wenditas.core.select.selection import selection_matte_reference
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import At, whole


def render_reference(look: Look, picture: Picture, upto: int | None = None, at: At | None = None) -> Picture:
    """The result of a look that stands still. picture: `(3, h, w)`; returns the same shape."""
    running, at = picture, at or whole(picture)
    for item in look.passes[:upto]:
        if not (item.on and item.known):
            continue
        treatment = TREATMENTS[item.treatment]
        read = picture if item.reads == "source" else running
        treated = blend(item.blend, running, treatment.reference(read, treatment.params.model_validate(item.params), at))
        amount: Picture | float = item.amount / 100
        if item.selection is not None and item.side != "everywhere":
            matte = selection_matte_reference(look.selection(item.selection), picture)
            amount = amount * (matte if item.side == "inside" else 1 - matte)
        running = as_picture(running + (treated - running) * amount)
    return running

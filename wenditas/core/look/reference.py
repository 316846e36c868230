"""A look from the plain NumPy references, pass by pass; tests hold `render` to it."""

from dataclasses import replace
from itertools import groupby

from wenditas.core.colour.blend import blend
from wenditas.core.kernel import Picture, as_picture
from wenditas.core.look.document import Bundle, Look, Pass
from wenditas.core.select.matte import selection_matte_reference
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import At, idle, whole


def render_reference(look: Look, picture: Picture, upto: int | None = None, at: At | None = None) -> Picture:
    """The result of a look that stands still. picture: `(3, h, w)`; returns the same shape."""
    at = at or whole(picture)
    end = len(look.passes) if upto is None else upto
    off = {b.id for b in look.bundles if not b.on}
    running = picture
    for bundle_id, run in groupby(look.passes[:end], key=lambda p: p.bundle):
        under = running
        for item in run:
            if item.on and item.known and item.bundle not in off:
                running = _passed(look, item, picture, running, at)
        bundle = next((b for b in look.bundles if b.id == bundle_id), None)
        if bundle is not None and bundle.on and not any(p.bundle == bundle_id for p in look.passes[end:]):
            running = _laid(look, bundle, picture, under, running)
    return running


def _passed(look: Look, item: Pass, picture: Picture, running: Picture, at: At) -> Picture:
    treatment, at = TREATMENTS[item.treatment], replace(at, source=picture)
    if item.selection is not None and (item.side == "from inside" or (treatment.reads_matte and item.side != "everywhere")):
        at = replace(at, matte=selection_matte_reference(look.selection(item.selection), picture))
    read, params = picture if item.reads == "source" else running, treatment.params.model_validate(item.params)
    treated = read if idle(treatment, params) else treatment.reference(read, params, at)
    return _laid(look, item, picture, running, treated)


def _laid(look: Look, item: Pass | Bundle, picture: Picture, under: Picture, treated: Picture) -> Picture:
    amount: Picture | float = item.amount / 100
    if item.selection is not None and item.side in ("inside", "outside"):
        matte = selection_matte_reference(look.selection(item.selection), picture)
        amount = amount * (matte if item.side == "inside" else 1 - matte)
    return as_picture(under + (blend(item.blend, under, treated) - under) * amount)

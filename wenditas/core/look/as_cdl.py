"""A look as a colour decision list, where it is one."""

from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look
from wenditas.core.treat.cdl import Cdl


def as_cdl(look: Look, frame: int, rate: float) -> Cdl | None:
    """The ten numbers of a look as it is at a frame; None where it does anything but one pass of them, everywhere and in full."""
    shown = look_at(look, frame, rate) if look.lanes else look
    passes = [p for p in shown.passes if not p.known or p.active]
    if len(passes) != 1 or not passes[0].known or passes[0].treatment != "cdl":
        return None
    only = passes[0]
    bundle = next((b for b in shown.bundles if b.id == only.bundle), None)
    plain = only.side == "everywhere" and only.blend == "normal" and only.amount == 100 and bundle is None
    params = only.settled.params
    return params if plain and isinstance(params, Cdl) else None

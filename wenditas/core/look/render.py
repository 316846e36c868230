"""The one way to a picture: `render` is pure, and preview, export, workers and tests all use its plan."""

from typing import Protocol

from wenditas.core.colour.blend import blend
from wenditas.core.kernel import Matte, Picture, as_picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look
from wenditas.core.look.plan import View, compile_look, run_on_picture
from wenditas.core.select.selection import Moment, selection_matte_reference
from wenditas.core.treat import TREATMENTS
from wenditas.core.treat.record import At, whole


class Frames(Protocol):
    """Where source pictures come from."""

    def picture(self, number: int, size: tuple[int, int] | None) -> Picture:
        """Source frame `number`, scaled to `(height, width)` or at its own size."""
        ...

    def alpha(self, number: int, size: tuple[int, int] | None) -> Matte | None:
        """The alpha channel of a frame at the same size; None where there is none."""
        ...


def render(
    look: Look,
    frame_number: int,
    frames: Frames,
    size: tuple[int, int] | None = None,
    upto: int | None = None,
    view: View = "result",
    selection: str | None = None,
    rate: float = 24,
) -> Picture:
    """A view of a look on one frame: float32 `(3, h, w)`, not limited.

    Same arguments, same bytes. rate: frames a second, for what drifts. See `compile_look` for `upto`, `view` and `selection`.
    """
    moment = Moment(frame_number, lambda number: frames.picture(number, size), lambda number: frames.alpha(number, size))
    look = look_at(look, frame_number, rate)
    return run_on_picture(compile_look(look, upto, view, selection), frames.picture(frame_number, size), moment)


def render_reference(look: Look, picture: Picture, upto: int | None = None, at: At | None = None) -> Picture:
    """The result from the plain NumPy references, pass by pass; tests hold `render` to it."""
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

"""Selected area over time: the coverage of every frame, at reduced size, as it becomes known."""

from collections.abc import Callable, Iterator

import numpy as np

from wenditas.core.kernel import Picture
from wenditas.core.look.animate import look_at
from wenditas.core.look.document import Look
from wenditas.core.look.plan import compile_look, run_on_picture
from wenditas.core.select.selection import Moment
from wenditas.media.reader import Reader, fit
from wenditas.render.cache import ByteCache

WIDTH, BATCH = 240, 8
KEPT_BYTES = 192 << 20


class SmallFrames:
    """Small source pictures, remembered, so that a changed selection is measured without decoding again."""

    def __init__(self) -> None:
        self._kept: ByteCache[Picture] = ByteCache(KEPT_BYTES, lambda p: p.nbytes)

    def picture(self, reader: Reader, key: str, number: int) -> Picture:
        """A frame at most 240 pixels wide."""
        number = min(max(number, 0), reader.facts.length - 1)
        found = self._kept.get((key, number))
        if found is None:
            found = reader.picture(number, fit(reader.facts, WIDTH))
            self._kept.put((key, number), found)
        return found


def coverage_over_time(
    frames: SmallFrames,
    reader: Reader,
    key: str,
    look: Look,
    selection: str,
    cancelled: Callable[[], bool],
    give_way: Callable[[], None] = lambda: None,
) -> Iterator[tuple[int, list[float]]]:
    """Batches of (first frame, coverages in percent), in order, until done or cancelled. `give_way` is called before every frame."""
    plan = compile_look(look, view="matte", selection=selection)
    rate = float(reader.facts.frame_rate)
    batch: list[float] = []
    start = 0
    for number in range(reader.facts.length):
        give_way()
        if cancelled():
            return
        if look.lanes:
            plan = compile_look(look_at(look, number, rate), view="matte", selection=selection)
        moment = Moment(number, lambda n: frames.picture(reader, key, n), lambda n: reader.alpha(n, fit(reader.facts, WIDTH)))
        matte = run_on_picture(plan, frames.picture(reader, key, number), moment)[0]
        batch.append(round(float(matte.mean(dtype=np.float64)) * 100, 4))
        if len(batch) == BATCH or number == reader.facts.length - 1:
            yield start, batch
            start, batch = number + 1, []

"""Selected area over time: the coverage of every frame, at reduced size, as it becomes known."""

from collections.abc import Callable, Iterator

import numpy as np

from wenditas.compiled import engine
from wenditas.core.files import Files
from wenditas.core.film import Keys, Memo, Node, render
from wenditas.core.kernel import Matte, Picture
from wenditas.media.reader import Reader
from wenditas.render.cache import ByteCache
from wenditas.render.request import Request
from wenditas.render.sources import ScreenSources

WIDTH, BATCH = 320, 8  # the width that coverage is measured at, on screen too
KEPT_BYTES, MEMO_BYTES = 192 << 20, 32 << 20


class Coverage:
    """Measures mattes on small pictures, which are remembered, so that a changed selection is measured without decoding again."""

    def __init__(self, reader_of: Callable[[str, str], Reader], files: Files) -> None:
        self._kept: ByteCache[Picture] = ByteCache(KEPT_BYTES, lambda p: p.nbytes)
        self._memo = Memo(Keys(engine()), MEMO_BYTES)
        self._values: dict[str, float] = {}
        self.sources, self._files = ScreenSources(reader_of, self._kept, "coverage", True), files

    def at(self, node: Node, frame: int, selection: str, check: Callable[[], None] = lambda: None) -> float:
        """Share of a frame that a selection covers, in percent. Frames with the same matte are measured once."""
        key = self._memo.keys.of(node, frame, "matte", selection)
        if key not in self._values:
            size = Request(node=node, frame=frame, width=WIDTH).size
            matte: Matte = render(node, frame, size, "matte", selection=selection, sources=self.sources, files=self._files, memo=self._memo, check=check)[0]
            if len(self._values) > 200_000:
                self._values.clear()
            self._values[key] = round(float(matte.mean(dtype=np.float64)) * 100, 4)
        return self._values[key]

    def forget(self) -> None:
        """Measure anew what was measured; the small pictures are kept."""
        self._values.clear()
        self._memo = Memo(Keys(engine()), MEMO_BYTES)

    def over_time(
        self, node: Node, selection: str, cancelled: Callable[[], bool], give_way: Callable[[], None] = lambda: None
    ) -> Iterator[tuple[int, list[float]]]:
        """Batches of (first frame, coverages in percent), in order, until done or cancelled. `give_way` is called before every frame."""
        batch: list[float] = []
        start = 0
        for number in range(node.length):
            give_way()
            if cancelled():
                return
            batch.append(self.at(node, number, selection))
            if len(batch) == BATCH or number == node.length - 1:
                yield start, batch
                start, batch = number + 1, []

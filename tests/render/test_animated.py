"""Animated looks: the file holds what is rendered frame by frame, and what is remembered is what is shown."""

from pathlib import Path

import av
import numpy as np

from tests.core.drawn import footage
from tests.media.clips import make_clip
from tests.rendering import export
from tests.rendering import rendered as render
from wenditas.core.film import Memo, Shot, resolve
from wenditas.core.look.document import parse_look
from wenditas.core.work.operation import Graph
from wenditas.media.probe import inspect
from wenditas.media.reader import Reader
from wenditas.render.options import ExportOptions

PASSES = [
    {"id": "g", "name": "g", "treatment": "gradient-map"},
    {"id": "m", "name": "m", "treatment": "monochrome"},
    {"id": "b", "name": "b", "treatment": "gaussian-blur", "params": {"radius": 0}},
]
LANES = [
    {"target": "passes/m/amount", "keyframes": [{"frame": 2, "value": 0, "how": "linear"}, {"frame": 5, "value": 100}, {"frame": 8, "value": 0}]},
    {"target": "passes/g/params/slide", "keyframes": [{"frame": 0, "value": 0}], "drift": 60},
    {"target": "passes/b/params/radius", "keyframes": [{"frame": 4, "value": 0, "how": "hold"}, {"frame": 6, "value": 30}]},
]
ANIMATED = parse_look({"passes": PASSES, "lanes": LANES})


def test_an_animated_export_equals_frame_by_frame_rendering(tmp_path: Path) -> None:
    """To the bit, as FFV1 of 16 bits keeps it."""
    source = make_clip(tmp_path / "c.mp4")
    reader = Reader(source, *inspect(source))
    export(reader, source, ANIMATED, 0, 9, tmp_path / "o.mkv", ExportOptions(format="ffv1"))
    with av.open(str(tmp_path / "o.mkv")) as container:
        frames = [frame.to_ndarray(format="rgb48le") for frame in container.decode(video=0)]
    for n, frame in enumerate(frames):
        expected = np.rint(np.clip(render(ANIMATED, n, reader), 0, 1).astype(np.float64) * 65535).transpose(1, 2, 0)
        assert np.abs(frame.astype(int) - expected).max() <= 1, n
    spread = [np.ptp(f.astype(int) >> 8, axis=2).mean() for f in frames]
    assert len(frames) == 10 and spread[5] < 3 < min(spread[1], spread[9])  # grey at the height of the flash only


def test_what_stands_still_is_prepared_once() -> None:
    """Tables of a treatment are made for its parameters: once for those that stand still, anew for those that move."""
    memo, node = Memo(), Shot(of=footage(), first=0, last=39, look=ANIMATED)

    def tables(frame: int) -> dict[str, int]:
        ops = (op for op in Graph(resolve(node, frame)).ops if op.kind.prepares)
        return {op.params.treatment.id: id(memo.prepared(op)) for op in ops}

    at = [tables(frame) for frame in (4, 7, 4)]
    assert at[0] == at[2] and at[0]["monochrome"] == at[1]["monochrome"] and at[0]["gradient-map"] != at[1]["gradient-map"]
